import type { Circuit } from '../circuit/circuit.ts'
import type { GroundItem, GroundKind } from '../circuit/ground.ts'
import type { Pin } from '../circuit/pin.ts'
import { isWithin, stationIndex } from '../circuit/station.ts'
import { CoreError } from '../errors/errors.ts'

/** Least and greatest offset (m) at each station that keep the whole vehicle on the road with a margin. */
export type OffsetBounds = { low_m: Float64Array; high_m: Float64Array }

/** Bounds of a line beside the edges. `closed`: kinds of ground whose bands may not be driven on. */
export type LineConstraints = { ground?: readonly GroundItem[]; closed?: readonly GroundKind[]; pins?: readonly Pin[] }

/** Distance to the edges by default (m). */
export const DEFAULT_MARGIN_M = 0.5
/** Bands that are closed on every line. */
export const alwaysClosed: readonly GroundKind[] = ['forbidden', 'soft-edge', 'standing-water']
/** A corridor narrower than this counts as closed (m). */
const MIN_ROOM_M = 0.02
/** Maximum distance at which the line passes a pin (m). */
const PIN_REACH_M = 0.08

/**
 * Offsets between the edges less half the vehicle's width and a margin, out of closed bands, within lanes and through
 * pins. Where a band lies in the middle of the road the vehicle takes the wider side along the whole of it.
 * @throws CoreError 'line-no-road' at the first station where nothing is left, with what took it
 */
export const offsetBounds = (
  circuit: Circuit,
  vehicleWidth_m: number,
  margin_m = DEFAULT_MARGIN_M,
  constraints: LineConstraints = {},
): OffsetBounds => {
  const half = vehicleWidth_m / 2
  const bounds = {
    low_m: circuit.widthRight_m.map((w) => half + margin_m - w),
    high_m: circuit.widthLeft_m.map((w) => w - half - margin_m),
  }
  const check = (i: number, cause: string): void => {
    if (bounds.high_m[i] - bounds.low_m[i] < MIN_ROOM_M)
      throw new CoreError('line-no-road', `station ${Math.round(circuit.s_m[i])} m`, { vehicle_m: vehicleWidth_m, margin_m, cause })
  }
  for (let i = 0; i < circuit.count; i++) check(i, 'the edges')
  const closed = constraints.closed ?? alwaysClosed
  for (const item of constraints.ground ?? []) {
    if (item.kind !== 'lane' && !closed.includes(item.kind)) continue
    if (item.far_m === undefined) continue
    const stations = stationsOf(circuit, item)
    if (item.kind === 'lane') keepIn(circuit, bounds, item, stations, half)
    else keepOut(circuit, bounds, item, stations, half)
    for (const i of stations) check(i, item.name)
  }
  for (const pin of constraints.pins ?? []) {
    const i = stationIndex(circuit, pin.station_m)
    if (pin.offset_m < bounds.low_m[i] - PIN_REACH_M || pin.offset_m > bounds.high_m[i] + PIN_REACH_M)
      throw new CoreError('line-no-road', `station ${Math.round(pin.station_m)} m`, {
        vehicle_m: vehicleWidth_m,
        margin_m,
        cause: 'a mark that was moved off the road',
      })
    bounds.low_m[i] = Math.max(bounds.low_m[i], Math.min(pin.offset_m, bounds.high_m[i]) - PIN_REACH_M)
    bounds.high_m[i] = Math.min(bounds.high_m[i], Math.max(pin.offset_m, bounds.low_m[i]) + PIN_REACH_M)
  }
  return bounds
}

/** Stations that an item covers, in order of travel. */
const stationsOf = (circuit: Circuit, item: GroundItem): number[] => {
  const out: number[] = []
  const first = stationIndex(circuit, item.from_m)
  for (let k = 0; k < circuit.count; k++) {
    const i = (first + k) % circuit.count
    if (k > 0 && !isWithin(circuit.s_m[i], item.from_m, item.to_m, circuit.length_m)) break
    out.push(i)
  }
  return out
}

/** Offsets (m) of a band's two limits at a station, the lower first. */
const bandAt = (circuit: Circuit, item: GroundItem, i: number): [number, number] => {
  const near = item.near_m ?? 0
  const far = item.far_m ?? 0
  return item.side === 'right'
    ? [near - circuit.widthRight_m[i], far - circuit.widthRight_m[i]]
    : [circuit.widthLeft_m[i] - far, circuit.widthLeft_m[i] - near]
}

const keepIn = (circuit: Circuit, bounds: OffsetBounds, item: GroundItem, own: readonly number[], half: number): void => {
  for (const i of own) {
    const [low, high] = bandAt(circuit, item, i)
    bounds.low_m[i] = Math.max(bounds.low_m[i], low + half)
    bounds.high_m[i] = Math.min(bounds.high_m[i], high - half)
  }
}

const keepOut = (circuit: Circuit, bounds: OffsetBounds, item: GroundItem, own: readonly number[], half: number): void => {
  if (item.side === 'both') {
    for (const i of own) {
      bounds.low_m[i] = Math.max(bounds.low_m[i], half + (item.far_m ?? 0) - circuit.widthRight_m[i])
      bounds.high_m[i] = Math.min(bounds.high_m[i], circuit.widthLeft_m[i] - (item.far_m ?? 0) - half)
    }
    return
  }
  let left = 0
  let right = 0
  for (const i of own) {
    const [low, high] = bandAt(circuit, item, i)
    left += bounds.high_m[i] - (high + half)
    right += low - half - bounds.low_m[i]
  }
  for (const i of own) {
    const [low, high] = bandAt(circuit, item, i)
    if (left > right) bounds.low_m[i] = Math.max(bounds.low_m[i], high + half)
    else bounds.high_m[i] = Math.min(bounds.high_m[i], low - half)
  }
}
