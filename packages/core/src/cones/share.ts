import { signedDistance, wrapStation } from '../circuit/station.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import { waitFrom } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import { actedOn, type ConeKind, type ConeScheme, isConeKind } from './scheme.ts'

/** One audience of a cone set: its plan (vehicle, pace) and the reaction time of its level (s). */
export type Audience = { label: string; plan: Plan; reaction_s: number }

/**
 * Use of a shared cone for one of those it serves. `wait_s`: to be counted from the cone before acting; `off_m`: distance of
 * the cone past their own mark (negative: before it). Null where they have no such mark.
 */
type SharedFor = { label: string; wait_s: number | null; off_m: number | null }

/** A group of cones shared by several. `fits`: false where one set cannot serve all of them. */
export type SharedGroup = { groupId: string; cornerId: string; kind: ConeKind; station_m: number; audience: SharedFor[]; fits: boolean }

/** Longest delay after a cone that a student can be asked to count (s). */
const LONGEST_WAIT_S = 1
/** Maximum distance from its mark of a cone to place the car by, in metres or in seconds at the speed there, whichever is more. */
const MAX_OFF_M = 5
const MAX_OFF_S = 0.2

/**
 * One set of cones for several vehicles and levels. Cones to act on are placed for the one who needs them first, and everybody
 * else counts from there; cones to place the car by are half way between the extremes. All plans are of one circuit.
 */
export const shareCones = (served: readonly Audience[], scheme: ConeScheme): SharedGroup[] => {
  const [first] = served
  if (!first) return []
  const length_m = first.plan.circuit.length_m
  return first.plan.corners.flatMap((corner) =>
    (Object.keys(scheme.rules) as ConeKind[])
      .filter((kind) => isConeKind(kind as Mark['kind']))
      .flatMap((kind): SharedGroup[] => {
        const wishes = served.map(({ label, plan, reaction_s }) => {
          const mark = markOf(plan.marks, corner.id, kind as Mark['kind'])
          if (!mark) return { label, plan, mark: null, wish_m: 0 }
          const early_m = actedOn.has(kind) ? reaction_s * mark.speed_mps : 0
          return { label, plan, mark, wish_m: signedDistance(corner.peak_m, mark.station_m - early_m, length_m) }
        })
        const withMark = wishes.filter((w) => w.mark !== null)
        if (withMark.length === 0) return []
        const min = Math.min(...withMark.map((w) => w.wish_m))
        const max = Math.max(...withMark.map((w) => w.wish_m))
        const station_m = wrapStation(corner.peak_m + (actedOn.has(kind) ? min : (min + max) / 2), length_m)
        let fits = true
        const audience = wishes.map(({ label, plan, mark, wish_m }): SharedFor => {
          if (!mark) return { label, wait_s: null, off_m: null }
          const off_m = signedDistance(wrapStation(corner.peak_m + wish_m, length_m), station_m, length_m)
          if (!actedOn.has(kind)) {
            if (Math.abs(off_m) > Math.max(MAX_OFF_M, MAX_OFF_S * mark.speed_mps)) fits = false
            return { label, wait_s: null, off_m }
          }
          const wait_s = waitFrom(plan, station_m, wrapStation(corner.peak_m + wish_m, length_m))
          if (wait_s > LONGEST_WAIT_S) fits = false
          return { label, wait_s, off_m }
        })
        return [{ groupId: `${corner.id}-${kind}`, cornerId: corner.id, kind, station_m, audience, fits }]
      }),
  )
}
