import type { Circuit } from '../circuit/circuit.ts'
import { atStation, isWithin, placeAt, signedDistance, wrapStation } from '../circuit/station.ts'
import { type NeededRunOff, neededRunOffs } from '../corner-numbers/safety.ts'
import type { MarkSight } from '../corner-numbers/sight.ts'
import type { Line } from '../path/line.ts'
import type { Plan } from '../plan/plan.ts'
import { actedOn, type ConeColour, type ConeKind, type ConeRule, type ConeScheme, type ConeShape } from './scheme.ts'
import { type ConeMove, sighters, type Target, targetsOfGround, targetsOfMarks } from './targets.ts'

/** A cone. Offsets are from the centreline, left positive. */
export type Cone = {
  id: string
  /** The cones of one mark are one group: `T1-brake`. */
  groupId: string
  /** The corner it belongs to; empty for the pit lane and for ground between corners. */
  cornerId: string
  kind: ConeKind
  colour: ConeColour
  shape: ConeShape
  /** Its side of the road, in the direction of travel. */
  roadSide: 'left' | 'right'
  station_m: number
  offset_m: number
  x_m: number
  y_m: number
  /** The computed place, without hand or lock. */
  computed: { station_m: number; offset_m: number }
  moved: readonly ConeMove[]
}

/** Groups that found no place, and why. */
export type Unplaced = { groupId: string; cornerId: string; kind: ConeKind; reason: 'run-off' | 'line' }

/** A hand on a group: moved along (down the road positive) and across (away from the road positive), in metres. */
export type Nudge = { along_m: number; across_m: number }
/** A locked group, which stays where it is whatever the plan says: the place of the cone at the mark. */
export type Lock = { station_m: number; offset_m: number }
export type ConeEdits = { nudges: Readonly<Record<string, Nudge>>; locks: Readonly<Record<string, Lock>> }

/** A line that somebody will drive: its offsets and half the vehicle's width. */
export type LineInUse = { offset_m: Float64Array; halfWidth_m: number }
/** A line of a plan with its vehicle. */
export const lineInUse = (plan: { line: Line; vehicle: { width_m: number } }): LineInUse => ({
  offset_m: plan.line.offset_m,
  halfWidth_m: plan.vehicle.width_m / 2,
})

/** Minimum distance of wheel paths from every cone by default (m). */
export const CLEARANCE_M = 0.6
/** Spacing of the cones of one group along the road (m); the last is at the mark. */
export const GROUP_SPACING_M = 3
/** Out of a needed run-off a cone is moved along the road by at most this (m); further it would lie about its mark. */
const MAX_ALONG_M = 15
/** Cones of two groups nearer than this are taken for one (m). */
export const APART_M = 1
/** A cone is moved along the road by at most this to stand apart from another group's (m). */
const MAX_APART_M = 4
/** … or further from the road by this (m). */
const OUTWARD_M = 1.2

/** Options of the placement beside the plan. All have defaults. */
export type PlacementOptions = {
  clearance_m?: number
  /** Extra time of the least experienced student (s). */
  reaction_s?: number
  /** Lines that are driven beside the plan's own. */
  lines?: readonly LineInUse[]
  /** Stations agreed for several vehicles, by group; reaction is already in them. */
  shared?: Readonly<Record<string, number>>
  sight?: readonly MarkSight[]
  edits?: ConeEdits
}

type Group = { target: Target; rule: ConeRule; computed: Place }

/** Cones in order of travel, and the groups for which there is no place. */
export type Placement = { cones: Cone[]; unplaced: Unplaced[] }

/**
 * Cones for a plan by a scheme. Every cone of a group is outside the edge and clear of every line in use; never in a run-off
 * that is needed: there the group goes along the road, or across it, or is left out with a word. A cone to act on does not
 * stand before the apex of another corner because of reaction time: it goes past that apex, and is announced. Cones of two groups
 * stand a metre apart where a few metres along the road allow it. Nudges and locks come last and keep the computed place
 * beside their own.
 */
export const placeCones = (plan: Plan, scheme: ConeScheme, options: PlacementOptions = {}): Placement => {
  const runOffs = neededRunOffs(plan)
  const lines = [lineInUse(plan), ...(options.lines ?? [])]
  const stand = { plan, runOffs, lines, clearance_m: options.clearance_m ?? CLEARANCE_M }
  const groups: Group[] = []
  const unplaced: Unplaced[] = []
  const ofMarks = targetsOfMarks(plan, scheme, options)
  for (const target of [...ofMarks, ...sighters(plan, options.sight ?? [], ofMarks), ...targetsOfGround(plan)]) {
    const rule = scheme.rules[target.kind]
    if (!rule) continue
    const computed = findPlace(stand, target, rule)
    if (computed) groups.push({ target, rule, computed })
    else unplaced.push({ groupId: target.groupId, cornerId: target.cornerId, kind: target.kind, reason: 'run-off' })
  }
  const cones = keptApart(stand, groups).flatMap(({ target, rule, computed }) =>
    groupAt(plan, target, rule, editedPlace(plan, computed, target.groupId, options.edits), computed),
  )
  return { cones: cones.sort((a, b) => a.station_m - b.station_m), unplaced }
}

type Stand = { plan: Plan; runOffs: readonly NeededRunOff[]; lines: readonly LineInUse[]; clearance_m: number }
type Place = { station_m: number; left: boolean; offset_m: number; moved: readonly ConeMove[] }

/** Offset beyond the edge, pushed out where a line in use would come too near at any cone of the group. */
const clearOffset = ({ plan: { circuit }, lines, clearance_m }: Stand, station_m: number, left: boolean, rule: ConeRule) => {
  const sign = left ? 1 : -1
  const edge_m = atStation(circuit, left ? circuit.widthLeft_m : circuit.widthRight_m, station_m)
  const wanted_m = edge_m + rule.beyondEdge_m
  let clear_m = wanted_m
  for (let k = 0; k < rule.count; k++)
    for (const line of lines) {
      const at = wrapStation(station_m - k * GROUP_SPACING_M, circuit.length_m)
      const wheels_m = sign * atStation(circuit, line.offset_m, at) + line.halfWidth_m
      // Only a line on this side of the cone can be in its way.
      clear_m = Math.max(clear_m, wheels_m + clearance_m)
    }
  return { offset_m: sign * clear_m, pushed: clear_m > wanted_m + 0.01 }
}

/** Stations of the cones of a group whose last one stands at a station. */
const groupStations = (station_m: number, { count }: Pick<ConeRule, 'count'>, length_m: number): number[] =>
  Array.from({ length: count }, (_, k) => wrapStation(station_m - (count - 1 - k) * GROUP_SPACING_M, length_m))

/** A needed run-off in which any cone of a group would stand. */
const runOffAt = ({ plan, runOffs }: Stand, station_m: number, left: boolean, rule: ConeRule): NeededRunOff | undefined =>
  runOffs.find(
    (r) =>
      (r.side === 'left') === left &&
      groupStations(station_m, rule, plan.circuit.length_m).some((at_m) => isWithin(at_m, r.from_m, r.to_m, plan.circuit.length_m)),
  )

/** Place of a group: at its mark; else up to 15 m along the road out of the run-off; else across the road. */
const findPlace = (stand: Stand, target: Target, rule: ConeRule): Place | null => {
  const length_m = stand.plan.circuit.length_m
  const at = (station_m: number, left: boolean, moved: ConeMove[]): Place => {
    const { offset_m, pushed } = clearOffset(stand, station_m, left, rule)
    return { station_m, left, offset_m, moved: [...target.moved, ...moved, ...(pushed ? ['line' as const] : [])] }
  }
  const inTheWay = runOffAt(stand, target.station_m, target.left, rule)
  if (!inTheWay || target.kind === 'no-go' || target.kind === 'pit-lane') return at(target.station_m, target.left, [])
  const after = target.kind === 'exit' || target.kind === 'apex'
  const beside_m = wrapStation(after ? inTheWay.to_m + 1 + (rule.count - 1) * GROUP_SPACING_M : inTheWay.from_m - 1, length_m)
  if (Math.abs(signedDistance(target.station_m, beside_m, length_m)) <= MAX_ALONG_M && !runOffAt(stand, beside_m, target.left, rule))
    return at(beside_m, target.left, ['run-off'])
  if (!runOffAt(stand, target.station_m, !target.left, rule)) return at(target.station_m, !target.left, ['across'])
  return null
}

/** Ranks of kinds where two groups want one place: the first keeps it. */
const firstToStand: readonly ConeKind[] = ['no-go', 'pit-lane', 'brake', 'lift', 'sighter', 'turn-in', 'apex', 'exit', 'release']

/** Groups moved along the road by a few metres where a cone would stand within a metre of another group's. Cones to act on are moved only up the road. */
const keptApart = (stand: Stand, groups: readonly Group[]): Group[] => {
  const { circuit } = stand.plan
  const pointsOf = ({ rule, computed }: Pick<Group, 'rule' | 'computed'>) =>
    groupStations(computed.station_m, rule, circuit.length_m).map((at_m) => placeAt(circuit, at_m, computed.offset_m))
  const standing: { x_m: number; y_m: number }[] = []
  const isClear = (points: readonly { x_m: number; y_m: number }[]): boolean =>
    points.every((p) => standing.every((q) => Math.hypot(p.x_m - q.x_m, p.y_m - q.y_m) >= APART_M))
  const inOrder = [...groups].sort((a, b) => firstToStand.indexOf(a.target.kind) - firstToStand.indexOf(b.target.kind))
  return inOrder.map((group) => {
    const settled = isClear(pointsOf(group)) ? group : (shifted(stand, group).find((other) => isClear(pointsOf(other))) ?? group)
    standing.push(...pointsOf(settled))
    return settled
  })
}

/** A group at the places where it may stand instead: along the road, the nearest first, and last further from the road; no-go and pit-lane cones have none. */
const shifted = (stand: Stand, { target, rule, computed }: Group): Group[] => {
  if (target.kind === 'no-go' || target.kind === 'pit-lane') return []
  const shifts = Array.from({ length: MAX_APART_M }, (_, k) => k + 1).flatMap((by_m) =>
    actedOn.has(target.kind) ? [-by_m] : [by_m, -by_m],
  )
  const outward: Group = {
    target,
    rule,
    computed: {
      ...computed,
      offset_m: computed.offset_m + (computed.left ? OUTWARD_M : -OUTWARD_M),
      moved: [...computed.moved, 'apart'],
    },
  }
  const along = shifts.flatMap((by_m) => {
    const station_m = wrapStation(computed.station_m + by_m, stand.plan.circuit.length_m)
    if (runOffAt(stand, station_m, computed.left, rule)) return []
    const { offset_m } = clearOffset(stand, station_m, computed.left, rule)
    return [{ target, rule, computed: { ...computed, station_m, offset_m, moved: [...computed.moved, 'apart' as const] } }]
  })
  return [...along, outward]
}

/** A place after the instructor's hand: a lock stays where it is, a nudge goes with the computed place. */
const editedPlace = (plan: Plan, computed: Place, groupId: string, edits: ConeEdits | undefined): Place => {
  const lock = edits?.locks[groupId]
  if (lock) return { station_m: lock.station_m, left: lock.offset_m > 0, offset_m: lock.offset_m, moved: [...computed.moved, 'locked'] }
  const nudge = edits?.nudges[groupId]
  if (!nudge || (nudge.along_m === 0 && nudge.across_m === 0)) return computed
  return { ...computed, ...nudged(plan.circuit, computed, nudge), moved: [...computed.moved, 'nudged'] }
}

type OnRoad = { station_m: number; offset_m: number }

/** How far a place is beyond the road's edge on its side (m). */
const beyondEdge = (circuit: Circuit, { station_m, offset_m }: OnRoad, left: boolean): number =>
  Math.abs(offset_m) - atStation(circuit, left ? circuit.widthLeft_m : circuit.widthRight_m, station_m)

/** A computed place after a nudge. */
const nudged = (circuit: Circuit, computed: OnRoad, { along_m, across_m }: Nudge): OnRoad => {
  const left = computed.offset_m > 0
  const station_m = wrapStation(computed.station_m + along_m, circuit.length_m)
  const beyond_m = beyondEdge(circuit, computed, left) + across_m
  return { station_m, offset_m: (left ? 1 : -1) * (beyond_m - beyondEdge(circuit, { station_m, offset_m: 0 }, left)) }
}

/** The nudge that brings a cone to a place on the ground: along the road, and away from it, but never nearer to it than computed. */
export const nudgeTo = (circuit: Circuit, { computed }: Pick<Cone, 'computed'>, to: OnRoad): Nudge => {
  const left = computed.offset_m > 0
  const beyond_m = left === to.offset_m > 0 ? beyondEdge(circuit, to, left) : Number.NEGATIVE_INFINITY
  return {
    along_m: signedDistance(computed.station_m, to.station_m, circuit.length_m),
    across_m: Math.max(0, beyond_m - beyondEdge(circuit, computed, left)),
  }
}

/** The cones as they would stand with a group nudged, while a hand is still on it; the set of the day is made when it lets go. */
export const withGroupNudged = (circuit: Circuit, cones: readonly Cone[], groupId: string, nudge: Nudge): Cone[] => {
  // The cone at the mark is the last of its group, and all stand as far from the centreline as it does.
  const atMark = cones.findLast((cone) => cone.groupId === groupId)
  if (!atMark) return [...cones]
  const { offset_m } = nudged(circuit, atMark.computed, nudge)
  return cones.map((cone) => {
    if (cone.groupId !== groupId) return cone
    const station_m = wrapStation(cone.computed.station_m + nudge.along_m, circuit.length_m)
    const { x_m, y_m } = placeAt(circuit, station_m, offset_m)
    return { ...cone, station_m, offset_m, x_m, y_m }
  })
}

const groupAt = (plan: Plan, target: Target, rule: ConeRule, place: Place, computed: Place): Cone[] =>
  groupStations(place.station_m, rule, plan.circuit.length_m).map((station_m, k) => {
    const { circuit } = plan
    const { x_m, y_m } = placeAt(circuit, station_m, place.offset_m)
    return {
      id: `${target.groupId}${rule.count > 1 ? `-${k + 1}` : ''}`,
      groupId: target.groupId,
      cornerId: target.cornerId,
      kind: target.kind,
      colour: rule.colour,
      shape: rule.shape,
      roadSide: place.left ? 'left' : 'right',
      station_m,
      offset_m: place.offset_m,
      x_m,
      y_m,
      computed: { station_m: groupStations(computed.station_m, rule, circuit.length_m)[k], offset_m: computed.offset_m },
      moved: place.moved,
    }
  })

/** Effect of moving a group by hand: metres down the road, and for brake and lift cones the grace that it costs. */
export const editDifference = (
  cone: Cone,
  speed_mps: number,
  length_m: number,
): { along_m: number; across_m: number; grace_s: number | null } => {
  const along_m = signedDistance(cone.computed.station_m, cone.station_m, length_m)
  return {
    along_m,
    across_m: Math.abs(cone.offset_m) - Math.abs(cone.computed.offset_m),
    grace_s: actedOn.has(cone.kind) ? -along_m / Math.max(1, speed_mps) : null,
  }
}
