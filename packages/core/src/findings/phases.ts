import type { Circuit } from '../circuit/circuit.ts'
import { atStation, distanceAhead, wrapStation } from '../circuit/station.ts'
import type { LapTrace } from '../drive/lap-trace.ts'
import type { Frame } from './pass.ts'

/** Time by phase of a pass against another's (s): to turn-in, to the apex, to the exit, to the next corner; positive is slower. */
export type Phases = [number, number, number, number]

/** The times of a lap that phases are made from. */
export type LapTimes = Pick<LapTrace, 'time_s' | 'lapTime_s'>

/** Distance before the next corner's first mark at which the straight ends (m). */
const BEFORE_NEXT_M = 40

/** Time that a lap takes more than a reference in each phase of a corner; phases follow the frames, the same for both. */
export const phasesOf = (circuit: Circuit, frames: readonly Frame[], k: number, driven: LapTimes, reference: LapTimes): Phases => {
  const frame = frames[k]
  const before = frames[(k - 1 + frames.length) % frames.length]
  // In linked corners the next one begins before this one's marks: its phases end there.
  const last_m = frame.next_m - BEFORE_NEXT_M
  const first_m = last_m - (distanceAhead(before.next_m, frame.next_m, circuit.length_m) || circuit.length_m)
  const between = (m: number, from_m: number): number => Math.min(last_m, Math.max(from_m, m))
  const turnIn_m = between(frame.turnIn_m, first_m)
  const apex_m = between(frame.apex_m, turnIn_m)
  const exit_m = between(frame.exit_m ?? 2 * frame.apex_m - frame.turnIn_m, apex_m)
  const ends = [first_m, turnIn_m, apex_m, exit_m, last_m]
  const phase = (i: number): number => {
    if (ends[i + 1] - ends[i] < 0.01) return 0
    const [from_m, to_m] = [wrapStation(ends[i], circuit.length_m), wrapStation(ends[i + 1], circuit.length_m)]
    return timeBetween(circuit, driven, from_m, to_m) - timeBetween(circuit, reference, from_m, to_m)
  }
  return [phase(0), phase(1), phase(2), phase(3)]
}

/** Time a lap takes from one station to another in the direction of travel (s); over the start line where needed. */
export const timeBetween = (circuit: Circuit, lap: LapTimes, from_m: number, to_m: number): number => {
  const span = distanceAhead(from_m, to_m, circuit.length_m) || circuit.length_m
  const timeAt = (s_m: number): number => {
    const lastStation = circuit.s_m[circuit.count - 1]
    if (s_m <= lastStation) return atStation(circuit, lap.time_s, s_m)
    const share = (s_m - lastStation) / (circuit.length_m - lastStation)
    const last = lap.time_s[circuit.count - 1]
    return last + share * (lap.lapTime_s - last)
  }
  const end = from_m + span
  return end <= circuit.length_m ? timeAt(end) - timeAt(from_m) : lap.lapTime_s - timeAt(from_m) + timeAt(end - circuit.length_m)
}
