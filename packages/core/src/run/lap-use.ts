import type { Circuit } from '../circuit/circuit.ts'
import type { LapTrace } from '../drive/lap-trace.ts'
import type { LapKind } from './lap-kind.ts'

/** How a lap used the car: its highest speed and its hardest braking, each with its place, and how long it braked hard (s). */
export type LapUse = { lap: number; top_mps: number; topAt_m: number; brake_g: number; brakeAt_m: number; braked_s: number }

/** A slow lap that was not driven as it is meant. */
export type SlowLapRemark =
  | { remark: 'over-cap'; speed_mps: number; cap_mps: number; station_m: number }
  | { remark: 'braked'; brake_g: number; braked_s: number; station_m: number }

/** Braking harder than this heats brakes that are to cool down (g), where it lasts this long in all (s). */
const HARD_BRAKE_G = 0.3
const HARD_BRAKE_S = 1
/** Over a speed cap by this much is read as over it: speedometers and receivers differ (m/s). */
const CAP_ROOM_MPS = 1

/** The highest speed and the hardest braking of a lap, over the stations that its log shows. */
export const lapUse = (circuit: Circuit, lap: number, { speed_mps, brake, time_s, known }: LapTrace): LapUse => {
  let [top, hardest, braked_s] = [0, 0, 0]
  for (let i = 0; i < circuit.count; i++) {
    if (!known[i]) continue
    if (speed_mps[i] > speed_mps[top]) top = i
    if (brake[i] > brake[hardest]) hardest = i
    if (brake[i] > HARD_BRAKE_G && i + 1 < circuit.count) braked_s += Math.max(0, time_s[i + 1] - time_s[i])
  }
  const at = (i: number): number => circuit.s_m[i]
  return { lap, top_mps: speed_mps[top], topAt_m: at(top), brake_g: brake[hardest], brakeAt_m: at(hardest), braked_s }
}

/** The few checks of slow laps: over the speed cap on sighting and cool-down laps (null: there is none), hard braking on the cool-down lap. */
export const slowLapRemarks = (kind: LapKind, use: LapUse, cap_mps: number | null): SlowLapRemark[] => {
  const slow = kind === 'sighting' || kind === 'cool-down'
  const over = slow && cap_mps !== null && use.top_mps > cap_mps + CAP_ROOM_MPS
  const braked = kind === 'cool-down' && use.braked_s > HARD_BRAKE_S
  return [
    ...(over ? [{ remark: 'over-cap' as const, speed_mps: use.top_mps, cap_mps, station_m: use.topAt_m }] : []),
    ...(braked ? [{ remark: 'braked' as const, brake_g: use.brake_g, braked_s: use.braked_s, station_m: use.brakeAt_m }] : []),
  ]
}
