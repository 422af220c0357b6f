import type { Circuit } from '../circuit/circuit.ts'
import { atStation, wrapStation } from '../circuit/station.ts'
import { CoreError } from '../errors/errors.ts'
import { median } from '../solve/robust.ts'
import type { Log } from './log.ts'
import type { MatchedLog } from './matched-log.ts'

/** Distance that falls by more than this began anew at the line (m). */
const RESET_M = 20
/** A lap whose length differs from the usual one by more than this share went another way. */
const OTHER_WAY = 0.05

/** True if a log says how far the car went, and where its laps begin, but not where it was. */
export const tellsDistanceAlone = (log: Log): boolean =>
  !log.lat_deg.some(Number.isFinite) &&
  !(log.x_m && log.y_m) &&
  (log.distance_m !== undefined || (log.lap !== undefined && log.speed_mps !== undefined))

/**
 * A log without positions laid on a circuit: each lap by its share of the distance driven, on the line on which a drive is expected.
 * Where the car was across the road is not known (`positionUncertainty_m` is infinite). Laps begin where the distance begins anew, the
 * number of the lap changes, or the beacon shows.
 * @throws CoreError 'log-no-lap' where nothing tells the laps apart
 */
export const laidByDistance = (circuit: Circuit, log: Log, expected_m: Float64Array): MatchedLog => {
  const n = log.time_s.length
  const driven_m = log.distance_m ? unwrapped(log.distance_m) : integrated(log)
  const lines = linesOf(log, driven_m)
  const lengths_m = lines.slice(1).map((line, k) => line.driven_m - lines[k].driven_m)
  if (lengths_m.length === 0) throw new CoreError('log-no-lap', 'file', { crossings: lines.length })
  const usual_m = median(lengths_m)
  const out: MatchedLog = {
    travel_m: new Float64Array(n).fill(Number.NaN),
    offset_m: new Float64Array(n).fill(Number.NaN),
    onCircuit: new Uint8Array(n),
    positionUncertainty_m: Number.POSITIVE_INFINITY,
  }
  let k = -1
  for (let i = 0; i < n; i++) {
    while (k + 1 < lines.length && lines[k + 1].row <= i) k++
    const length_m = lengths_m[k] ?? usual_m
    // Before the first line the way back from it counts.
    const from = lines[Math.max(0, k)]
    const share = (driven_m[i] - from.driven_m) / (k < 0 ? usual_m : length_m)
    const usual = Math.abs(length_m / usual_m - 1) <= OTHER_WAY
    if (!usual || share < -1 || share > 1.5 || !Number.isFinite(share)) continue
    out.travel_m[i] = (Math.max(0, k) + 1 + share) * circuit.length_m
    out.offset_m[i] = atStation(circuit, expected_m, wrapStation(out.travel_m[i], circuit.length_m))
    out.onCircuit[i] = 1
  }
  return out
}

/** Distance that began anew with each lap, as one that goes on; `NaN` is carried over. */
const unwrapped = (distance_m: Float64Array): Float64Array => {
  const out = new Float64Array(distance_m.length)
  let base = 0
  let last = 0
  for (let i = 0; i < out.length; i++) {
    const d = Number.isFinite(distance_m[i]) ? distance_m[i] : last
    // Up to the line the last row is short of it by what the next one is past it: the way between the two rows.
    if (d < last - RESET_M) base += last + stepBefore(distance_m, i) - d
    out[i] = base + d
    last = d
  }
  return out
}

/** The way between two rows, as it was just before. */
const stepBefore = (distance_m: Float64Array, i: number): number => Math.max(0, i >= 2 ? distance_m[i - 1] - distance_m[i - 2] : 0)

/** Distance by speed and time. */
const integrated = ({ time_s, speed_mps }: Log): Float64Array => {
  const out = new Float64Array(time_s.length)
  for (let i = 1; i < out.length; i++) {
    const v = ((speed_mps?.[i] ?? 0) + (speed_mps?.[i - 1] ?? 0)) / 2
    out[i] = out[i - 1] + (Number.isFinite(v) ? v * (time_s[i] - time_s[i - 1]) : 0)
  }
  return out
}

/** A pass over the line: the first row past it, and the distance driven up to it. */
type Line = { row: number; driven_m: number }

const linesOf = ({ distance_m, lap, beacon }: Log, driven_m: Float64Array): Line[] => {
  const reset = (i: number): boolean => distance_m !== undefined && distance_m[i] < distance_m[i - 1] - RESET_M
  const newLap = (i: number): boolean => lap !== undefined && lap[i] > lap[i - 1]
  const shown = (i: number): boolean => beacon !== undefined && beacon[i] !== 0 && beacon[i - 1] === 0
  const rows = Array.from({ length: Math.max(0, driven_m.length - 1) }, (_, i) => i + 1)
  // A distance that begins anew says best where the line was.
  const resets = rows.filter(reset)
  if (resets.length > 0) return resets.map((row) => ({ row, driven_m: driven_m[row] - (distance_m?.[row] ?? 0) }))
  const told = lap ? rows.filter(newLap) : rows.filter(shown)
  return told.map((row) => ({ row, driven_m: (driven_m[row] + driven_m[row - 1]) / 2 }))
}
