import type { Circuit } from '../circuit/circuit.ts'
import type { GroundItem } from '../circuit/ground.ts'
import { distanceAhead, isWithin, stationIndex } from '../circuit/station.ts'
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
const VERGE_M = 0.5
/** Interval of stations at which a sight line is checked against the ground. */
const STRIDE = 2

/** The ground and verges that can hide things. */
export type SightGround = { circuit: Circuit; line: Pick<Line, 'x_m' | 'y_m'>; ground: readonly GroundItem[] }

/** Verges marked as blocking at each station: 1 left, 2 right, 3 both. */
const blockedVerges = ({ circuit, ground }: SightGround): Uint8Array | null => {
  const blind = ground.filter((g) => g.kind === 'blind')
  if (blind.length === 0) return null
  const out = new Uint8Array(circuit.count)
  for (const item of blind)
    for (let i = 0; i < circuit.count; i++)
      if (isWithin(circuit.s_m[i], item.from_m, item.to_m, circuit.length_m))
        out[i] |= item.side === 'left' ? 1 : item.side === 'right' ? 2 : 3
  return out
}

/**
 * True if the eye at station `from` on the line sees an object over the line at station `to`, over the heights between and past
 * the verges.
 */
const sees = (place: SightGround, verges: Uint8Array | null, from: number, to: number, object_m: number): boolean => {
  const { circuit, line } = place
  const n = circuit.count
  const count = (to - from + n) % n
  const [ax, ay, az] = [line.x_m[from], line.y_m[from], circuit.z_m[from] + EYE_HEIGHT_M]
  const dx = line.x_m[to] - ax
  const dy = line.y_m[to] - ay
  const dz = circuit.z_m[to] + object_m - az
  const length2 = dx * dx + dy * dy
  for (let k = STRIDE; k < count; k += STRIDE) {
    const i = (from + k) % n
    const share = ((circuit.x_m[i] - ax) * dx + (circuit.y_m[i] - ay) * dy) / length2
    if (share <= 0 || share >= 1) continue
    if (circuit.z_m[i] > az + share * dz) return false
    if (!verges || verges[i] === 0) continue
    const cos = Math.cos(circuit.heading_rad[i])
    const sin = Math.sin(circuit.heading_rad[i])
    // Where the sight line crosses this station's normal.
    const along = dx * cos + dy * sin
    if (Math.abs(along) < 1e-6) continue
    const at = ((circuit.x_m[i] - ax) * cos + (circuit.y_m[i] - ay) * sin) / along
    if (at <= 0 || at >= 1) continue
    const offset = -(ax + at * dx - circuit.x_m[i]) * sin + (ay + at * dy - circuit.y_m[i]) * cos
    if (verges[i] & 1 && offset > circuit.widthLeft_m[i] + VERGE_M) return false
    if (verges[i] & 2 && -offset > circuit.widthRight_m[i] + VERGE_M) return false
  }
  return true
}

/** The farthest point of the road that is in sight from each station, as a distance ahead (m), in steps of some metres. */
export const sightAhead = (place: SightGround, object_m = CONE_HEIGHT_M): Float64Array => {
  const { circuit } = place
  const verges = blockedVerges(place)
  const max = Math.min(circuit.count - 1, Math.round(LONGEST_SIGHT_M / circuit.step_m))
  const out = new Float64Array(circuit.count)
  for (let i = 0; i < circuit.count; i++) {
    let far = STRIDE
    // What the crest hides may come into sight again beyond; the first gap ends it.
    while (far + STRIDE <= max && sees(place, verges, i, (i + far + STRIDE) % circuit.count, object_m)) far += STRIDE
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
export const sightTime = (plan: Plan, station_m: number): number => timeInSight(plan, blockedVerges(plan), station_m)

const timeInSight = (plan: Plan, verges: Uint8Array | null, station_m: number): number => {
  const { circuit, profile } = plan
  const at = stationIndex(circuit, station_m)
  let time_s = 0
  for (let back = 1; back < circuit.count / 2; back++) {
    const i = (at - back + circuit.count) % circuit.count
    if (!sees(plan, verges, i, at, CONE_HEIGHT_M)) break
    time_s = timeBetween(profile, i, at)
    if (time_s >= LONGEST_SIGHT_S) break
  }
  return time_s
}

/** For each mark of a plan: how long before it the cone there comes into sight for good. */
export const sightOfMarks = (plan: Plan): MarkSight[] => {
  const verges = blockedVerges(plan)
  return plan.marks.map(({ kind, cornerId, station_m }) => {
    const time_s = timeInSight(plan, verges, station_m)
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
  const verges = blockedVerges(plan)
  const inSight = (i: number): boolean => sees(plan, verges, here, i, 0)
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
