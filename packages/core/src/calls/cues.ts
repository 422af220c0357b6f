import type { GroundItem } from '../circuit/ground.ts'
import { atStation, distanceAhead, isWithin, signedDistance } from '../circuit/station.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import { planTimeAt, stationAtTime, wrapTime } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import { isSlowKind, type LapKind } from '../run/lap-kind.ts'
import { type Gearbox, gearboxOf, isShiftedByHand } from '../vehicle/gearbox.ts'
import { type CallKind, hazardCallKinds, markCallKinds } from './phrases.ts'

type Side = 'left' | 'right'

/**
 * A place on the lap that something can be called for. `time_s`: when the plan is there, from the start line; `nth`: of several of one
 * kind for a corner. `gear`: to be in, `shifts`: gears up or down; `to`: the side to be on; `after`: corner behind, `next`: corner ahead.
 */
export type Cue = {
  kind: CallKind
  cornerId: string
  station_m: number
  time_s: number
  nth?: number
  gear?: number
  shifts?: number
  to?: Side
  after?: string
  next?: string
}

/**
 * The lap that is called. `last`: nobody drives another one like it; `cones`: the plan whose cones stand, where another one is driven;
 * `gears`: false where they are not called yet; `gearbox`: that of the very car, where it is known.
 */
export type CalledLap = { kind: LapKind; last?: boolean; cones?: Plan; gears?: boolean; gearbox?: Gearbox | undefined }

/** Whether gears are called on a lap: somebody changes them, in the car that is driven or else in the plan’s vehicle. */
export const callsGears = ({ vehicle }: Pick<Plan, 'vehicle'>, { gearbox, gears }: Pick<CalledLap, 'gearbox' | 'gears'>): boolean =>
  gears !== false && vehicle.gears.length > 1 && isShiftedByHand(gearbox ?? gearboxOf(vehicle))

/** What is called of each lap: a slow lap names what there is, a lap that cools the car leaves the brake alone. */
const kindsOf = (lap: LapKind): ReadonlySet<CallKind> => {
  const road: CallKind[] = [...hazardCallKinds, 'pass', 'go-by', 'last-lap', 'pit-in', 'parking']
  if (lap === 'out' || lap === 'sighting') return new Set<CallKind>(['lift', 'brake', 'turn-in', 'apex', 'exit', 'look', 'lane', ...road])
  if (lap === 'cool-down' || lap === 'in') return new Set<CallKind>(['roll', ...road])
  return new Set<CallKind>([...markCallKinds, 'downshift', 'upshift', 'look', 'side', 'stay', 'lane', 'diagonal', ...road])
}

/** Everything that can be called on a lap of a plan, in no order. Cost: stations times corners. */
export const cuesOf = (plan: Plan, lap: CalledLap = { kind: 'coached' }): Cue[] => {
  const kinds = kindsOf(lap.kind)
  const cues = [
    ...markCues(plan, lap),
    ...(callsGears(plan, lap) ? gearCues(plan) : []),
    ...placeCues(plan),
    ...hazardCues(plan),
    ...laneCues(plan),
    ...passCues(plan),
    ...rollCues(plan),
    ...lapCues(plan, lap),
  ]
  const entry = lap.kind === 'in' ? plan.ground.find((g) => g.kind === 'pit-entry') : undefined
  // Whoever comes in drives no further than the pit entry.
  return cues.filter((cue) => kinds.has(cue.kind) && (!entry || cue.kind === 'parking' || cue.station_m <= entry.from_m))
}

const isCalled = (kind: string): kind is CallKind => (markCallKinds as readonly string[]).includes(kind)

/** Marks; on a slow lap those at which cones stand, when the slow plan comes by. */
const markCues = (plan: Plan, { kind, cones = plan }: CalledLap): Cue[] =>
  cones.marks.flatMap((mark) =>
    isCalled(mark.kind) ? [{ ...mark, kind: mark.kind, ...(isSlowKind(kind) ? { time_s: planTimeAt(plan, mark.station_m) } : {}) }] : [],
  )

/** Time of a plan forward from one time of the lap to another (s). */
const ahead = (plan: Plan, from_s: number, to_s: number): number => wrapTime(to_s - from_s, plan.profile.lapTime_s)

/** Where the plan is in another gear than a station before: down before a turn-in, up after an apex. */
const gearCues = (plan: Plan): Cue[] => {
  const { circuit, profile, marks, corners } = plan
  const n = circuit.count
  const at = (m: Mark): number => Math.min(n - 1, Math.round(m.station_m / circuit.step_m))
  return corners.flatMap((corner, k) => {
    const next = corners[(k + 1) % corners.length]
    const from = markOf(marks, corner.id, 'brake') ?? markOf(marks, corner.id, 'lift')
    const turnIn = markOf(marks, corner.id, 'turn-in')
    const apex = markOf(marks, corner.id, 'apex')
    const nextApex = markOf(marks, next.id, 'apex')
    const cue = (kind: 'downshift' | 'upshift', i: number, shifts: number, nth: number): Cue => ({
      kind,
      cornerId: corner.id,
      station_m: circuit.s_m[i],
      time_s: profile.time_s[i],
      gear: profile.gear[i],
      shifts,
      ...(nth > 0 ? { nth } : {}),
    })
    const cues: Cue[] = []
    if (from && turnIn) {
      const shifts = from.gear - turnIn.gear
      let i = at(turnIn)
      // The last shift of the zone: from there on the gear is that of the turn-in.
      while (i !== at(from) && profile.gear[(i - 1 + n) % n] === turnIn.gear) i = (i - 1 + n) % n
      if (shifts > 0 && i !== at(from)) cues.push(cue('downshift', i, shifts, 0))
    }
    if (apex && nextApex && (circuit.open !== true || k + 1 < corners.length)) {
      let nth = 0
      // Up to where the gears go down again for the next corner.
      for (let i = at(apex); i !== at(nextApex); i = (i + 1) % n) {
        const then = (i + 1) % n
        const shifts = profile.gear[then] - profile.gear[i]
        if (shifts < 0) break
        if (shifts > 0) cues.push(cue('upshift', then, shifts, nth++))
      }
    }
    return cues
  })
}

/** Ways across shorter than this are no way (m). */
const ACROSS_M = 2.5
/** A way across that is not done when the brake comes: this much of it is left (m). */
const STILL_ACROSS_M = 1
/** Said so long after the exit (s), and only where this much time is left before the next mark. */
const AFTER_EXIT_S = 1
const ROOM_S = 2.5
/** A corner that comes sooner than this after an exit is looked for there (s). */
const SOON_S = 7

/** Between two corners: over to the other side or stay, a way across before the brake, and where to look. */
const placeCues = (plan: Plan): Cue[] => {
  const { circuit, marks, corners, profile, line } = plan
  return corners.flatMap((corner, k): Cue[] => {
    if (corners.length < 2 || (circuit.open === true && k + 1 === corners.length)) return []
    const next = corners[(k + 1) % corners.length]
    const exit = markOf(marks, corner.id, 'exit')
    const turnIn = markOf(marks, next.id, 'turn-in')
    const first = markOf(marks, next.id, 'brake') ?? markOf(marks, next.id, 'lift') ?? turnIn
    if (!exit || !turnIn || !first) return []
    const room_s = ahead(plan, exit.time_s, first.time_s)
    if (room_s > profile.lapTime_s / 2 || room_s < ROOM_S) return []
    const across_m = turnIn.offset_m - exit.offset_m
    const to: Side = next.side === 'left' ? 'right' : 'left'
    const cue = (kind: CallKind, after_s: number): Cue => {
      const time_s = wrapTime(exit.time_s + after_s, profile.lapTime_s)
      return { kind, cornerId: next.id, station_m: stationAtTime(plan, time_s), time_s, to, next: next.name }
    }
    const left_m = Math.abs(turnIn.offset_m - atStation(circuit, line.offset_m, first.station_m))
    const crosses = Math.abs(across_m) >= ACROSS_M
    return [
      ...(room_s < SOON_S ? [cue('look', Math.min(AFTER_EXIT_S, room_s / 2))] : []),
      ...(crosses && first.kind === 'brake' && left_m > STILL_ACROSS_M
        ? [cue('diagonal', room_s - 1)]
        : [cue(crosses ? 'side' : 'stay', AFTER_EXIT_S)]),
    ]
  })
}

/** The corner that comes next from a station on: the one whose apex lies nearest ahead. */
const cornerAhead = ({ corners, marks, circuit }: Plan, station_m: number): string | undefined => {
  const apex_m = (c: Plan['corners'][number]): number => markOf(marks, c.id, 'apex')?.station_m ?? c.peak_m
  const away = (c: Plan['corners'][number]): number => distanceAhead(station_m, apex_m(c), circuit.length_m)
  return corners.reduce<Plan['corners'][number] | undefined>((best, c) => (!best || away(c) < away(best) ? c : best), undefined)?.id
}

/** Half of a vehicle and some room: something nearer to the line than this is driven over (m). */
const NEAR_M = 1.5

/** Whether a plan's line meets a thing on the road, or comes near the edge on which it is. */
const isMet = ({ circuit, line }: Plan, { side, from_m, to_m, near_m, far_m, kind }: GroundItem): boolean => {
  if (kind === 'crest' || kind === 'dip' || kind === 'off-camber') return true
  for (let i = 0; i < circuit.count; i++) {
    if (!isWithin(circuit.s_m[i], from_m, to_m, circuit.length_m)) continue
    const fromLeft = circuit.widthLeft_m[i] - line.offset_m[i]
    const fromRight = circuit.widthRight_m[i] + line.offset_m[i]
    for (const edge of side === 'both' ? [fromLeft, fromRight] : [side === 'left' ? fromLeft : fromRight])
      if (edge > (near_m ?? 0) - NEAR_M && edge < (far_m ?? 0) + NEAR_M) return true
  }
  return false
}

/** Things on the road that the line meets, each kind once for a corner: the first that comes. */
const hazardCues = (plan: Plan): Cue[] => {
  const found = new Map<string, Cue>()
  for (const item of plan.ground) {
    const kind = hazardCallKinds.find((one) => one === item.kind)
    const cornerId = kind && cornerAhead(plan, item.from_m)
    if (!kind || !cornerId || !isMet(plan, item)) continue
    const cue: Cue = { kind, cornerId, station_m: item.from_m, time_s: planTimeAt(plan, item.from_m) }
    const known = found.get(`${cornerId} ${kind}`)
    if (!known || signedDistance(known.station_m, item.from_m, plan.circuit.length_m) < 0) found.set(`${cornerId} ${kind}`, cue)
  }
  return [...found.values()]
}

/** Before a stretch on which the venue lets cars pass: behind until after the corner before it; at its beginning: who passes, and where. */
const passCues = (plan: Plan): Cue[] =>
  plan.ground.flatMap((item): Cue[] => {
    const before = item.kind === 'passing' ? cornerBefore(plan, item.from_m) : undefined
    const apex = before && markOf(plan.marks, before.id, 'apex')
    if (!before || !apex) return []
    const at = { cornerId: before.id, after: before.name }
    const to = item.side === 'both' ? {} : { to: item.side }
    return [
      { kind: 'pass', ...at, station_m: apex.station_m, time_s: apex.time_s },
      { kind: 'go-by', ...at, ...to, station_m: item.from_m, time_s: planTimeAt(plan, item.from_m) },
    ]
  })

/** Where a lane begins that the venue or the school keeps to. */
const laneCues = (plan: Plan): Cue[] =>
  plan.ground.flatMap((item, k): Cue[] => {
    const cornerId = item.kind === 'lane' ? cornerAhead(plan, item.from_m) : undefined
    if (!cornerId) return []
    // Two lanes may lead to one corner.
    const nth = plan.ground.slice(0, k).filter((g) => g.kind === 'lane' && cornerAhead(plan, g.from_m) === cornerId).length
    const to = item.side === 'both' ? {} : { to: item.side }
    return [{ kind: 'lane', cornerId, ...to, station_m: item.from_m, time_s: planTimeAt(plan, item.from_m), ...(nth > 0 ? { nth } : {}) }]
  })

const cornerBefore = ({ corners, circuit }: Plan, station_m: number): Plan['corners'][number] | undefined => {
  const past = (c: Plan['corners'][number]): number => distanceAhead(c.peak_m, station_m, circuit.length_m)
  return corners.reduce<Plan['corners'][number] | undefined>((best, c) => (!best || past(c) < past(best) ? c : best), undefined)
}

/** A car that rolls slows by about this (m/s²): drag, tyres and a closed throttle. */
const ROLLING_MPS2 = 0.8

/** Where the throttle is closed so that the car is slow enough for a corner without any brake. */
const rollCues = (plan: Plan): Cue[] =>
  plan.corners.flatMap((corner): Cue[] => {
    const from = markOf(plan.marks, corner.id, 'brake') ?? markOf(plan.marks, corner.id, 'lift')
    const turnIn = markOf(plan.marks, corner.id, 'turn-in')
    if (!from || !turnIn || from.speed_mps <= turnIn.speed_mps) return []
    const rolls_m = (from.speed_mps ** 2 - turnIn.speed_mps ** 2) / (2 * ROLLING_MPS2)
    // Not before the corner behind is over: its own lift, or a slower straight, does the rest.
    const before = cornerBefore(plan, from.station_m)
    const room_m = before && before.id !== corner.id ? distanceAhead(before.end_m, turnIn.station_m, plan.circuit.length_m) : rolls_m
    const station_m = turnIn.station_m - Math.min(rolls_m, room_m)
    const at_m = station_m < 0 ? station_m + plan.circuit.length_m : station_m
    return [{ kind: 'roll', cornerId: corner.id, station_m: at_m, time_s: planTimeAt(plan, at_m) }]
  })

/** Time after the line at which the last lap is told: the line itself is behind, the first corner has not begun. */
const TOLD_AFTER_LINE_S = 3

/** What belongs to one lap of a run: that it is the last, into the pits after a corner, and how the car is parked. */
const lapCues = (plan: Plan, { kind, last }: CalledLap): Cue[] => {
  const { circuit, corners, ground } = plan
  const [first] = corners
  if (!first) return []
  const cues: Cue[] = []
  if (last && !isSlowKind(kind))
    cues.push({ kind: 'last-lap', cornerId: first.id, station_m: stationAtTime(plan, TOLD_AFTER_LINE_S), time_s: TOLD_AFTER_LINE_S })
  const entry = ground.find((g) => g.kind === 'pit-entry')
  if (kind !== 'in' || !entry) return cues
  const before = cornerBefore(plan, entry.from_m)
  const from_m = before && before.peak_m < entry.from_m ? before.peak_m : Math.max(0, entry.from_m - 150)
  const to: Side = entry.side === 'left' ? 'left' : 'right'
  const cornerId = before?.id ?? first.id
  cues.push({
    kind: 'pit-in',
    cornerId,
    station_m: from_m,
    time_s: planTimeAt(plan, from_m),
    after: before?.name ?? first.name,
    ...(entry.side === 'both' ? {} : { to }),
  })
  const end_m = Math.min(entry.to_m, circuit.length_m - circuit.step_m)
  cues.push({ kind: 'parking', cornerId, station_m: end_m, time_s: planTimeAt(plan, end_m) })
  return cues
}
