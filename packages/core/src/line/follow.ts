import type { Circuit } from '../circuit/circuit.ts'
import { stationIndex } from '../circuit/station.ts'
import { type Line, lineFromOffsets } from '../path/line.ts'
import { bandTimes } from '../solve/banded.ts'
import { solveBoxProgram } from '../solve/box-program.ts'
import type { OffsetBounds } from './bounds.ts'
import type { LineMethod } from './line-method.ts'
import { type BentRoad, bendingModel, smoothestOffsets } from './smoothest.ts'

/** Road on either side of a dragged place that is solved anew at first; doubled until nothing moves at its ends (m). */
const REACH_M = 300
/** Less than this at the ends of the part that is solved anew is no change (m). */
const STILL_M = 0.005
/** Stations at either end that are held where they were: a turn depends on three. */
const HELD = 2
/** How exactly a line is bent while it is dragged: far below what is seen. */
const PRECISION = 1e-6

/** A part of a road as a road of its own, from a station on, with its bounds and offsets; both ends are held. */
const partOf = (circuit: Circuit, bounds: OffsetBounds, offset_m: Float64Array, first: number, count: number) => {
  const pick = (column: Float64Array): Float64Array => Float64Array.from({ length: count }, (_, k) => column[(first + k) % circuit.count])
  const road: BentRoad = {
    count,
    x_m: pick(circuit.x_m),
    y_m: pick(circuit.y_m),
    heading_rad: pick(circuit.heading_rad),
    open: true,
  }
  const part = { road, offset_m: pick(offset_m), low_m: pick(bounds.low_m), high_m: pick(bounds.high_m) }
  for (let k = 0; k < HELD; k++)
    for (const i of [k, count - 1 - k]) {
      part.low_m[i] = part.offset_m[i] - PRECISION
      part.high_m[i] = part.offset_m[i] + PRECISION
    }
  return part
}

/** The offsets of a part: the smoothest from where it was, or bent as little as it has to be. */
const solved = ({ road, offset_m, low_m, high_m }: ReturnType<typeof partOf>, method: LineMethod): Float64Array => {
  if (method === 'smoothest') return smoothestOffsets(road, { low_m, high_m }, { start: offset_m }).offset_m
  const { band } = bendingModel(road, offset_m)
  // Least of the bending that is added: its gradient is zero where nothing is moved.
  const pull = offset_m.map((_, i) => -bandTimes(band, offset_m, i))
  return solveBoxProgram(band, pull, low_m, high_m, offset_m, PRECISION).x
}

/**
 * A line as it follows a place that is dragged, at a station (m). The smoothest is solved from the one before, around that place, to the
 * same line as from nothing within a few millimetres; a line of another method is bent as little as it has to be, until it is solved
 * anew. `bounds` hold the place. Cost: some twenty band factorisations of the part that moves, two or three times.
 */
export const followLine = (circuit: Circuit, bounds: OffsetBounds, method: LineMethod, before: Line, station_m: number): Line => {
  const { count } = circuit
  const at = stationIndex(circuit, station_m)
  for (let reach = Math.ceil(REACH_M / circuit.step_m); ; reach *= 2) {
    const isWhole = 2 * reach + 1 >= count
    const first = circuit.open ? Math.max(0, Math.min(at - reach, count - 1)) : (at - reach + count) % count
    const length = circuit.open ? Math.min(count, at + reach + 1) - first : 2 * reach + 1
    if (isWhole && !circuit.open) return lineFromOffsets(circuit, solved({ road: circuit, offset_m: before.offset_m, ...bounds }, method))
    const part = partOf(circuit, bounds, before.offset_m, first, length)
    const moved = solved(part, method)
    const isStill = [HELD, length - 1 - HELD].every((k) => Math.abs(moved[k] - part.offset_m[k]) < STILL_M)
    if (!isStill && !isWhole) continue
    const offset_m = Float64Array.from(before.offset_m)
    for (let k = 0; k < length; k++) offset_m[(first + k) % count] = moved[k]
    return lineFromOffsets(circuit, offset_m)
  }
}
