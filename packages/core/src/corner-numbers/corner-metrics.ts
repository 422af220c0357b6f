import type { Plan } from '../plan/plan.ts'
import { engineSpeed } from '../vehicle/gears.ts'
import { type Grace, graceOf, MIN_GRACE_S, type StraightOn, straightOnOf, WARN_GRACE_S } from './safety.ts'
import { type MarkSight, sightOfMarks } from './sight.ts'
import { type CornerWorth, cornerWorth } from './worth.ts'

/** All that is computed of one corner beside its marks. */
export type CornerMetrics = { cornerId: string; worth: CornerWorth; grace: Grace | null; straightOn: StraightOn | null; sight: MarkSight[] }

/** Worth, grace, straight-on check and sight of every corner of a plan. */
export const cornerMetrics = (plan: Plan): CornerMetrics[] => {
  const worth = cornerWorth(plan)
  const sight = sightOfMarks(plan)
  return plan.corners.map((corner, k) => ({
    cornerId: corner.id,
    worth: worth[k],
    grace: graceOf(plan, corner),
    straightOn: straightOnOf(plan, corner),
    sight: sight.filter((s) => s.cornerId === corner.id),
  }))
}

/** Warnings in a corner's numbers, to be read before anyone drives by them. */
export type CornerWarning = 'little-grace' | 'no-room-straight-on' | 'mark-hidden'

/** Remarks on a corner's numbers: worth knowing, no reason to stop. */
export type CornerRemark = 'tight-grace'

/** Remarks on a corner: grace below half a second that is no warning yet. */
export const cornerRemarks = ({ grace }: Pick<CornerMetrics, 'grace'>): CornerRemark[] =>
  grace && grace.time_s < MIN_GRACE_S && grace.time_s >= WARN_GRACE_S ? ['tight-grace'] : []

/** Warnings of a corner: grace below a quarter of a second, no stop after brakes 1 s late, a mark to drive by in sight for under 3 s. */
export const cornerWarnings = ({ grace, straightOn, sight }: CornerMetrics): CornerWarning[] => [
  ...(grace && grace.time_s < WARN_GRACE_S ? ['little-grace' as const] : []),
  ...(straightOn?.cases.some((c) => c.late_s === 1 && c.stops === false) ? ['no-room-straight-on' as const] : []),
  ...(sight.some((s) => !s.enough && (s.kind === 'brake' || s.kind === 'turn-in' || s.kind === 'apex')) ? ['mark-hidden' as const] : []),
]

/** A change of gear on the lap. */
export type Shift = { station_m: number; from: number; to: number; speed_mps: number; engineSpeed_rpm: number }

/** Gear changes of a plan in order of travel; engine speed is that before the change. */
export const shiftPoints = (plan: Plan): Shift[] => {
  const { circuit, profile, vehicle } = plan
  const n = circuit.count
  const { gear } = profile
  const out: Shift[] = []
  for (let i = 0; i < n; i++) {
    const before = gear[(i - 1 + n) % n]
    if (gear[i] === before) continue
    const speed_mps = profile.speed_mps[i]
    out.push({ station_m: circuit.s_m[i], from: before, to: gear[i], speed_mps, engineSpeed_rpm: engineSpeed(vehicle, speed_mps, before) })
  }
  return out
}
