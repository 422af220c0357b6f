import type { Circuit } from '../circuit/circuit.ts'
import { atStation } from '../circuit/station.ts'

/** Height of the ground at a place on or beside the road (m): on the road its bank, beyond an edge that edge's height. */
export const heightAt = (circuit: Circuit, station_m: number, offset_m: number): number => {
  const [left, right] = [atStation(circuit, circuit.widthLeft_m, station_m), atStation(circuit, circuit.widthRight_m, station_m)]
  const onRoad = Math.min(left, Math.max(-right, offset_m))
  return atStation(circuit, circuit.z_m, station_m) + onRoad * Math.tan(atStation(circuit, circuit.bank_rad, station_m))
}
