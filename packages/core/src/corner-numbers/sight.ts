import type { Circuit } from '../circuit/circuit.ts'
import type { GroundItem } from '../circuit/ground.ts'
import { distanceAhead, isWithin, stationIndex } from '../circuit/station.ts'
import { VERGE_M, type VergeWidths, vergeWidths } from '../circuit/verges.ts'
import type { Mark } from '../marks/mark.ts'
import type { Line } from '../path/line.ts'
import { timeBetween } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'

/** Heights over the road (m): the driver's eye and a cone. */
export const EYE_HEIGHT_M = 1.1
export const CONE_HEIGHT_M = 0.45
/** Minimum time that a mark has to be in sight before it is reached (s). */
export const MIN_SIGHT_S = 3
/** Sight is followed back this far in time (s), or ahead in distance (m). */
const LONGEST_SIGHT_S = 8
const LONGEST_SIGHT_M = 400
/** Distance of a blocked verge beyond the road's edge (m). */
const BLOCKED_M = 0.5
/** Interval of stations at which a sight line is checked against the ground. */
const STRIDE = 2

/** The ground and verges that can hide things. */
export type SightGround = { circuit: Circuit; line: Pick<Line, 'x_m' | 'y_m' | 'offset_m'>; ground: readonly GroundItem[] }

/** Verges marked as blocking at each station: 1 left, 2 right, 3 both. */
const blockedVerges = ({ circuit, ground }: SightGround): Uint8Array => {
  const out = new Uint8Array(circuit.count)
  for (const item of ground.filter((g) => g.kind === 'blind'))
    for (let i = 0; i < circuit.count; i++)
      if (isWithin(circuit.s_m[i], item.from_m, item.to_m, circuit.length_m))
        out[i] |= item.side === 'left' ? 1 : item.side === 'right' ? 2 : 3
  return out
}

/** Directions and slopes across at each station of a circuit, and how far its ground reaches. */
type Columns = { cos: Float64Array; sin: Float64Array; slope: Float64Array; reach: VergeWidths }

/** They follow from the circuit alone, and many marks are looked at on one. */
const columnsOf = new WeakMap<Circuit, Columns>()

/** What hides, as columns; `blocked`: which verges are. */
type Hiding = SightGround & Columns & { blocked: Uint8Array }

const hidingOf = ({ circuit, line, ground }: SightGround): Hiding => {
  const columns = columnsOf.get(circuit) ?? {
    cos: circuit.heading_rad.map(Math.cos),
    sin: circuit.heading_rad.map(Math.sin),
    slope: circuit.bank_rad.map(Math.tan),
    reach: vergeWidths(circuit),
  }
  columnsOf.set(circuit, columns)
  return { circuit, line, ground, ...columns, blocked: blockedVerges({ circuit, line, ground }) }
}

/** Land that nobody measured is taken to go on this far from the road, where nothing else begins before (m). */
const ASSUMED_M = 90
const landFrom = (reach_m: number): number => (reach_m < VERGE_M ? reach_m : ASSUMED_M)

/** An offset brought onto the road: beyond an edge the ground goes on at that edge's height (m). */
const onRoad = ({ widthLeft_m, widthRight_m }: Circuit, i: number, offset_m: number): number =>
  Math.min(widthLeft_m[i], Math.max(-widthRight_m[i], offset_m))

/**
 * True if the eye at station `from` on the line sees an object over the line at station `to`, over the road's banked surface and the
 * ground at its edges between them, and past the verges. Land that nobody measured is taken to go on at the height of the edge, which
 * rather hides too much than too little; far away from the road it hides nothing.
 */
const sees = (hiding: Hiding, from: number, to: number, object_m: number, eye_m: number): boolean => {
  const { circuit, line, cos, sin, slope, reach, blocked } = hiding
  const { x_m, y_m, z_m, widthLeft_m, widthRight_m } = circuit
  const n = circuit.count
  const count = (to - from + n) % n
  const heightOn = (i: number): number => z_m[i] + onRoad(circuit, i, line.offset_m[i]) * slope[i]
  const [ax, ay, az] = [line.x_m[from], line.y_m[from], heightOn(from) + eye_m]
  const dx = line.x_m[to] - ax
  const dy = line.y_m[to] - ay
  const dz = heightOn(to) + object_m - az
  for (let k = STRIDE; k < count; k += STRIDE) {
    const i = (from + k) % n
    // Where the sight line crosses this station's normal.
    const along = dx * cos[i] + dy * sin[i]
    if (Math.abs(along) < 1e-6) continue
    const at = ((x_m[i] - ax) * cos[i] + (y_m[i] - ay) * sin[i]) / along
    if (at <= 0 || at >= 1) continue
    const offset = -(ax + at * dx - x_m[i]) * sin[i] + (ay + at * dy - y_m[i]) * cos[i]
    const [beyondLeft, beyondRight] = [offset - widthLeft_m[i], -offset - widthRight_m[i]]
    const isNear = beyondLeft <= landFrom(reach.left_m[i]) && beyondRight <= landFrom(reach.right_m[i])
    if (isNear && z_m[i] + onRoad(circuit, i, offset) * slope[i] > az + at * dz) return false
    if (blocked[i] & 1 && beyondLeft > BLOCKED_M) return false
    if (blocked[i] & 2 && beyondRight > BLOCKED_M) return false
  }
  return true
}

/** The farthest point of the road that is in sight from each station, as a distance ahead (m), in steps of some metres. */
export const sightAhead = (place: SightGround, object_m = CONE_HEIGHT_M): Float64Array => {
  const { circuit } = place
  const hiding = hidingOf(place)
  const max = Math.min(circuit.count - 1, Math.round(LONGEST_SIGHT_M / circuit.step_m))
  const out = new Float64Array(circuit.count)
  for (let i = 0; i < circuit.count; i++) {
    let far = STRIDE
    // What the crest hides may come into sight again beyond; the first gap ends it.
    while (far + STRIDE <= max && sees(hiding, i, (i + far + STRIDE) % circuit.count, object_m, EYE_HEIGHT_M)) far += STRIDE
    out[i] = far * circuit.step_m
  }
  return out
}

/** Time that a mark's cone is in sight before it is reached. `time_s` ends at eight seconds. */
export type MarkSight = { cornerId: string; kind: Mark['kind']; time_s: number; enough: boolean }

/** The marks to drive by that come into sight less than three seconds before them. */
export const lateInSight = (sight: readonly MarkSight[]): MarkSight[] =>
  sight.filter((s) => !s.enough && (s.kind === 'brake' || s.kind === 'turn-in' || s.kind === 'apex'))

/** Time (s) before a station at which a cone there comes into sight for good; at most eight seconds. */
export const sightTime = (plan: Plan, station_m: number): number => timeInSight(plan, hidingOf(plan), station_m)

const timeInSight = (plan: Plan, hiding: Hiding, station_m: number): number =>
  sightBack(plan, hiding, station_m, CONE_HEIGHT_M, EYE_HEIGHT_M).time_s

/** Heights of what is looked at and of the eye over the road (m). */
type SightHeights = { object_m?: number; eye_m?: number }

/** How far before a place it comes into sight for good (m along the road, s); `throughout`: from as far as is looked, eight seconds. */
export type IntoSight = { before_m: number; time_s: number; throughout: boolean }

const sightBack = ({ circuit, profile }: Plan, hiding: Hiding, station_m: number, object_m: number, eye_m: number): IntoSight => {
  const at = stationIndex(circuit, station_m)
  let seen: IntoSight = { before_m: 0, time_s: 0, throughout: false }
  for (let back = 1; back < circuit.count / 2 && !seen.throughout; back++) {
    const i = (at - back + circuit.count) % circuit.count
    if (!sees(hiding, i, at, object_m, eye_m)) break
    const time_s = timeBetween(profile, i, at)
    seen = { before_m: back * circuit.step_m, time_s, throughout: time_s >= LONGEST_SIGHT_S }
  }
  return seen
}

/** When something at each of some stations comes into sight, a cone unless another height is given, from a car's seat unless another eye is. */
export const intoSight = (
  plan: Plan,
  stations_m: readonly number[],
  { object_m = CONE_HEIGHT_M, eye_m = EYE_HEIGHT_M }: SightHeights = {},
): IntoSight[] => {
  const hiding = hidingOf(plan)
  return stations_m.map((station_m) => sightBack(plan, hiding, station_m, object_m, eye_m))
}

/** True if something of a height at one station is in sight from another one on the line (heights in m). */
export const inSightFrom = (
  place: SightGround,
  from_m: number,
  to_m: number,
  { object_m = CONE_HEIGHT_M, eye_m = EYE_HEIGHT_M }: SightHeights = {},
): boolean => sees(hidingOf(place), stationIndex(place.circuit, from_m), stationIndex(place.circuit, to_m), object_m, eye_m)

/** For each mark of a plan: how long before it the cone there comes into sight for good. */
export const sightOfMarks = (plan: Plan): MarkSight[] => {
  const hiding = hidingOf(plan)
  return plan.marks.map(({ kind, cornerId, station_m }) => {
    const time_s = timeInSight(plan, hiding, station_m)
    return { cornerId, kind, time_s, enough: time_s >= MIN_SIGHT_S }
  })
}

/** Place to look at from a station: a mark 3 to 6 s ahead, or the line 4 s ahead. */
export type LookPlace = { station_m: number; ahead_s: number; mark: Pick<Mark, 'cornerId' | 'kind'> | null; inSight: boolean }

const LOOK = { least_s: 3, most_s: 6, usual_s: 4 } as const
const looked: ReadonlySet<Mark['kind']> = new Set(['turn-in', 'apex', 'exit', 'brake'])

/** The place to look at from a station: the nearest mark to look at within 3 to 6 s, else the line 4 s ahead. */
export const lookFrom = (plan: Plan, station_m: number): LookPlace => {
  const { circuit, profile } = plan
  const here = stationIndex(circuit, station_m)
  const ahead = (i: number): number => timeBetween(profile, here, i)
  const marks = plan.marks
    .filter((m) => looked.has(m.kind))
    .map((mark) => ({ mark, at: stationIndex(circuit, mark.station_m) }))
    .map((m) => ({ ...m, ahead_s: ahead(m.at) }))
    .filter((m) => m.ahead_s >= LOOK.least_s && m.ahead_s <= LOOK.most_s)
    .sort((a, b) => a.ahead_s - b.ahead_s)
  const hiding = hidingOf(plan)
  const inSight = (i: number): boolean => sees(hiding, here, i, 0, EYE_HEIGHT_M)
  const [first] = marks
  if (first)
    return {
      station_m: first.mark.station_m,
      ahead_s: first.ahead_s,
      mark: { cornerId: first.mark.cornerId, kind: first.mark.kind },
      inSight: inSight(first.at),
    }
  let i = here
  while (
    ahead((i + 1) % circuit.count) < LOOK.usual_s &&
    distanceAhead(circuit.s_m[here], circuit.s_m[i], circuit.length_m) < LONGEST_SIGHT_M
  )
    i = (i + 1) % circuit.count
  return { station_m: circuit.s_m[i], ahead_s: ahead(i), mark: null, inSight: inSight(i) }
}
