import { type Corner, cornerOf } from '../circuit/corners.ts'
import { distanceAhead, signedDistance, wrapStation } from '../circuit/station.ts'
import { lateInSight, type MarkSight, MIN_SIGHT_S } from '../corner-numbers/sight.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import { stationBefore } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import { actedOn, type ConeKind, type ConeScheme } from './scheme.ts'

/** Reasons why a cone is not where its mark alone would put it. */
export type ConeMove = 'reaction' | 'shared' | 'line' | 'run-off' | 'across' | 'other-apex' | 'apart' | 'nudged' | 'locked'

/** The place at which a group of cones is wanted, before anything is in its way. */
export type Target = { groupId: string; cornerId: string; kind: ConeKind; station_m: number; left: boolean; moved: ConeMove[] }

/** What moves cones from their marks: extra time of the least experienced student (s), and stations agreed for several vehicles, by group. */
type TargetWish = { reaction_s?: number; shared?: Readonly<Record<string, number>> }

/** A cone to act on stands at least this far past another corner's apex (m): nobody should brake while turning in the corner before. */
export const PAST_APEX_M = 5
/** Maximum spacing of the cones along no-go ground, whose ends always have one (m). */
const NO_GO_SPACING_M = 40

const outsideOf = (corner: Corner): 'left' | 'right' => (corner.side === 'left' ? 'right' : 'left')

/** The wanted places of the cones at marks. */
export const targetsOfMarks = (plan: Plan, scheme: ConeScheme, { reaction_s = 0, shared }: TargetWish): Target[] =>
  plan.marks.flatMap((mark) => {
    const rule = scheme.rules[mark.kind as ConeKind]
    const corner = cornerOf(plan.corners, mark.cornerId)
    if (!rule || !corner) return []
    const groupId = `${corner.id}-${mark.kind}`
    const kind = mark.kind as ConeKind
    const agreed = shared?.[groupId]
    const early_m = agreed === undefined && actedOn.has(kind) ? reaction_s * mark.speed_mps : 0
    const wanted_m = agreed ?? wrapStation(mark.station_m - early_m, plan.circuit.length_m)
    const station_m = actedOn.has(kind) ? pastOtherApexes(plan, mark, wanted_m) : wanted_m
    const moved: ConeMove[] = [
      ...(early_m > 0 ? ['reaction' as const] : []),
      ...(agreed !== undefined && Math.abs(agreed - mark.station_m) > 0.5 ? ['shared' as const] : []),
      ...(station_m === wanted_m ? [] : ['other-apex' as const]),
    ]
    return [{ groupId, cornerId: corner.id, kind, station_m, left: (rule.side === 'inside') === (corner.side === 'left'), moved }]
  })

/**
 * Place of a cone to act on that was wanted at a station before its mark: the same, or 5 m past the last apex of another corner
 * that lies between, but never past the mark itself.
 */
const pastOtherApexes = ({ circuit, corners, turnings }: Plan, mark: Mark, wanted_m: number): number => {
  const before_m = distanceAhead(wanted_m, mark.station_m, circuit.length_m)
  if (before_m > circuit.length_m / 2) return wanted_m
  const past = turnings
    .filter((_, k) => corners[k].id !== mark.cornerId)
    .map(({ apex }) => signedDistance(wanted_m, circuit.s_m[apex], circuit.length_m))
    .filter((ahead_m) => ahead_m > -PAST_APEX_M && ahead_m <= before_m)
    .map((ahead_m) => ahead_m + PAST_APEX_M)
  return past.length === 0 ? wanted_m : wrapStation(wanted_m + Math.min(before_m, Math.max(...past)), circuit.length_m)
}

/** The group of the cone that announces a mark. */
export const sighterGroup = (cornerId: string, kind: MarkSight['kind']): string => `${cornerId}-sighter-${kind}`

/**
 * A cone three seconds before each mark to drive by that comes into sight later than that, and before each cone that lost
 * reaction time to another corner's apex; on the same side as the mark's.
 */
export const sighters = (plan: Plan, sight: readonly MarkSight[], ofMarks: readonly Target[]): Target[] => {
  const announced: Pick<MarkSight, 'cornerId' | 'kind'>[] = [...lateInSight(sight)]
  for (const { cornerId, kind, moved } of ofMarks)
    if (moved.includes('other-apex') && !announced.some((a) => a.cornerId === cornerId && a.kind === kind))
      announced.push({ cornerId, kind: kind as Mark['kind'] })
  return announced.flatMap((s) => {
    const mark = markOf(plan.marks, s.cornerId, s.kind)
    const corner = cornerOf(plan.corners, s.cornerId)
    if (!mark || !corner) return []
    return [
      {
        groupId: sighterGroup(s.cornerId, s.kind),
        cornerId: s.cornerId,
        kind: 'sighter' as const,
        station_m: stationBefore(plan, mark.station_m, MIN_SIGHT_S),
        left: outsideOf(corner) === 'left',
        moved: [],
      },
    ]
  })
}

/** Cones of pit entry and exit and of ground that nobody may drive on. */
export const targetsOfGround = (plan: Plan): Target[] =>
  plan.ground.flatMap((item): Target[] => {
    const sides = item.side === 'both' ? [true, false] : [item.side === 'left']
    if (item.kind === 'pit-entry' || item.kind === 'pit-exit')
      return sides
        .slice(0, 1)
        .map((left) => ({ groupId: `${item.kind}-${item.id}`, cornerId: '', kind: 'pit-lane', station_m: item.from_m, left, moved: [] }))
    if (item.kind !== 'forbidden' && item.kind !== 'standing-water') return []
    const length_m = distanceAhead(item.from_m, item.to_m, plan.circuit.length_m)
    const pieces = Math.max(1, Math.ceil(length_m / NO_GO_SPACING_M))
    return sides.flatMap((left) =>
      Array.from({ length: pieces + 1 }, (_, k) => ({
        groupId: `no-go-${item.id}-${left ? 'l' : 'r'}${k}`,
        cornerId: '',
        kind: 'no-go' as const,
        station_m: wrapStation(item.from_m + (k / pieces) * length_m, plan.circuit.length_m),
        left,
        moved: [],
      })),
    )
  })
