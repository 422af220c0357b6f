import type { LogCode } from '../findings/mistakes.ts'
import { canExplain } from '../findings/mistakes.ts'
import { thresholds as t } from '../findings/thresholds.ts'
import { IDLE_G, TOUCH_G } from '../findings/way.ts'
import { offsetBounds } from '../line/bounds.ts'
import { findTurnings, innerDistance, outerDistance, TURN_IN_SHARE, type Turning } from '../marks/turning.ts'
import type { Plan } from '../plan.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { engineMost } from '../vehicle/engine.ts'
import type { Random } from './random.ts'
import { type SimulatedLap, simulateLap } from './student.ts'

/**
 * A mistake that a simulated lap shows by the definitions alone, with its value (m, s or a share) and threshold: read off the lap as it was driven, station by station,
 * with nothing between that a log brings (rate, noise, matching) and none of the rules that judge logs. What was meant to
 * go wrong need not have gone wrong, or may have brought about something further upstream.
 */
export type ShownMistake = { code: LogCode; value: number; threshold: number }

const TOUCH_KEPT_S = 0.1
const TURN_KEPT_S = 0.5
/** Full throttle. */
const FULL = 0.85

/** A lap as its plan wants it, driven by feet that need their time: no scatter and no mistake. */
export const steadyLap = (plan: Plan): SimulatedLap => {
  const still: Random = { uniform: () => 1, normal: () => 0 }
  return simulateLap(plan, [], 0, still)
}

/** A corner in a lap of the reference; places are stations counted from its apex. */
type Place = { turnIn: number; exit: number | null; from: number; next: number; turning: Turning }

/** One lap around one corner; columns are read at stations counted from the reference's apex. */
type Around = ReturnType<typeof aroundOf>

const aroundOf = (plan: Plan, lap: SimulatedLap, k: number, apex: number) => {
  const { circuit, vehicle } = plan
  const n = circuit.count
  const corner = plan.corners[k]
  const sign = corner.side === 'left' ? 1 : -1
  const index = (j: number): number => (((apex + j) % n) + n) % n
  const clock = (j: number): number => lap.time_s[index(j)] + lap.lapTime_s * Math.floor((apex + j) / n)
  return {
    clock,
    speed: (j: number): number => lap.speed_mps[index(j)],
    bend: (j: number): number => sign * lap.kappa_1pm[index(j)],
    wheel: (j: number): number => sign * lap.wheel_1pm[index(j)],
    brake: (j: number): number => Math.max(0, -lap.ax_mps2[index(j)] / g),
    drive: (j: number): number => Math.max(0, lap.ax_mps2[index(j)] / g),
    throttle: (j: number): number => Math.min(1, Math.max(0, lap.ax_mps2[index(j)] / engineMost(vehicle, lap.speed_mps[index(j)]))),
    gear: (j: number): number => lap.gear[index(j)],
    inner: (j: number): number => innerDistance(circuit, corner, lap.offset_m[index(j)], index(j)),
    outer: (j: number): number => outerDistance(circuit, corner, lap.offset_m[index(j)], index(j)),
    offset: (j: number): number => lap.offset_m[index(j)],
    index,
    /** The first place from `from` to `to` at which a value stays above a level for a time. */
    first: (value: (j: number) => number, level: number, kept_s: number, from: number, to: number): number | null => {
      let since: number | null = null
      for (let j = from; j <= to || since !== null; j++) {
        if (!(value(j) > level)) since = null
        else since ??= j
        if (since !== null && since > to) return null
        if (since !== null && clock(j) - clock(since) >= kept_s) return since
      }
      return null
    },
  }
}

/** Least value of a column from one place to another, and where. */
const least = (value: (j: number) => number, from: number, to: number): { at: number; value: number } => {
  let at = from
  for (let j = from; j <= to; j++) if (value(j) < value(at)) at = j
  return { at, value: value(at) }
}

const most = (value: (j: number) => number, from: number, to: number): number => -least((j) => -value(j), from, to).value

const placesOf = (plan: Plan, reference: SimulatedLap): Place[] => {
  const { circuit, corners } = plan
  const n = circuit.count
  const turnings = findTurnings(circuit, corners, reference)
  const ahead = (from: number, to: number): number => (to - from + n) % n
  return turnings.map((turning, k) => {
    const before = turnings[(k - 1 + corners.length) % corners.length]
    const after = turnings[(k + 1) % corners.length]
    const turnIn = -ahead(turning.turnIn, turning.apex)
    const sinceBefore = ahead(before.apex, turning.apex)
    return {
      turning,
      turnIn,
      exit: turning.exit === null ? null : ahead(turning.apex, turning.exit),
      from: Math.max(turnIn - Math.round(330 / circuit.step_m), Math.round(5 / circuit.step_m) - sinceBefore),
      next: ahead(turning.apex, after.turnIn),
    }
  })
}

/** From the fastest place before a corner to past its apex: where the brake was touched, let go and how hard it was pressed. */
const brakingOf = (around: Around, place: Place, step_m: number): { on: number; off: number; peak_g: number } | null => {
  const { speed, brake, first } = around
  const past = Math.round(40 / step_m)
  const slowest = least(speed, place.turnIn - Math.round(10 / step_m), past).at
  const fastest = least((j) => -speed(j), place.from, slowest).at
  const on = first(brake, TOUCH_G, TOUCH_KEPT_S, fastest, slowest)
  if (on === null) return null
  let off = Math.max(slowest, 0)
  while (brake(off + 1) > TOUCH_G) off++
  while (off > on && brake(off) <= TOUCH_G) off--
  const peak_g = most(brake, on, off)
  return speed(on) - speed(off) < 1.5 || peak_g < 2 * TOUCH_G ? null : { on, off, peak_g }
}

/**
 * All mistakes that a lap shows in one corner against a reference lap, by their definitions: the value (m, s or a share)
 * and the threshold that it passed; 2 of 1 where it is there or not.
 */
export const shownIn = (plan: Plan, cornerId: string, lap: SimulatedLap, reference: SimulatedLap): ShownMistake[] => {
  const { circuit, corners, settings, vehicle } = plan
  const { step_m } = circuit
  const k = corners.findIndex((corner) => corner.id === cornerId)
  const places = placesOf(plan, reference)
  const place = places[k]
  const apex = place.turning.apex
  const peak = place.turning.peakKappa_1pm
  const own = aroundOf(plan, lap, k, apex)
  const ref = aroundOf(plan, reference, k, apex)
  const out: ShownMistake[] = []
  const say = (code: LogCode, value: number, threshold: number): void => {
    if (value > threshold) out.push({ code, value, threshold })
  }
  const stations = (m: number): number => Math.round(m / step_m)
  const after = (k + 1) % corners.length
  const nextApex = places[after].turning.apex
  const nextBrake = brakingOf(aroundOf(plan, lap, after, nextApex), places[after], step_m)?.on
  const toNext = (nextApex - apex + circuit.count) % circuit.count
  const end = Math.min(place.next, nextBrake === undefined ? place.next : toNext + nextBrake)

  // Line.
  const turnInOf = (around: Around): number | null =>
    around.first(around.bend, TURN_IN_SHARE * peak, TURN_KEPT_S, Math.max(place.turnIn - stations(70), place.from), 0)
  const [turnIn, wantedTurnIn] = [turnInOf(own), turnInOf(ref)]
  const marks = { turnIn: turnIn ?? place.turnIn, wantedTurnIn: wantedTurnIn ?? place.turnIn }
  const apexes = [own, ref].map(({ inner }) => {
    const low = least(inner, Math.max(-stations(40), place.turnIn), stations(40))
    let to = stations(40)
    while (inner(to) > low.value + 0.03) to--
    let from = to
    while (inner(from - 1) <= low.value + 0.03) from--
    return { at: Math.round((from + to) / 2), inner_m: low.value }
  })
  if (turnIn !== null && wantedTurnIn !== null) {
    const allowed = Math.max(t.turnIn_m, t.turnIn_s * ref.speed(wantedTurnIn))
    say('turn-in-early', (wantedTurnIn - turnIn) * step_m, allowed)
    say('turn-in-late', (turnIn - wantedTurnIn) * step_m, allowed)
    say('setup-narrow', own.outer(turnIn) - ref.outer(wantedTurnIn), t.setupNarrow_m)
  }
  const length_m = (place.exit === null ? -2 * place.turnIn : place.exit - place.turnIn) * step_m
  const apexAllowed = Math.max(t.apexPlace_m, t.apexPlace * length_m)
  say('apex-early', (apexes[1].at - apexes[0].at) * step_m, apexAllowed)
  say('apex-late', (apexes[0].at - apexes[1].at) * step_m, apexAllowed)
  say('apex-missed', apexes[0].inner_m - apexes[1].inner_m, t.apexMissed_m)
  const half_m = vehicle.width_m / 2
  if (place.exit !== null) {
    const [from, to] = [Math.max(1, place.exit - stations(35)), place.exit + stations(35)]
    const [mine, theirs] = [least(own.outer, from, to).value, least(ref.outer, from, to).value]
    const wanted_m = theirs - half_m < t.exitOwnMargin_m ? 0 : t.exitWide_m
    if (mine - half_m < wanted_m) say('exit-wide', wanted_m - (mine - half_m) + t.exitWide_m, t.exitWide_m)
    if (own.throttle(place.exit) > Math.min(FULL, 0.9 * ref.throttle(place.exit))) say('exit-unused', mine - theirs, t.exitUnused_m)
  }
  const bounds = (kind: 'lane' | 'closed') =>
    offsetBounds(circuit, vehicle.width_m, 0, {
      ground: plan.ground.filter((item) => (item.kind === 'lane') === (kind === 'lane')),
      closed: ['forbidden'],
    })
  const atExit = (j: number): boolean => place.exit !== null && Math.abs(j - place.exit) < stations(35)
  for (const kind of ['closed', 'lane'] as const) {
    if (kind === 'lane' && !plan.ground.some((item) => item.kind === 'lane')) continue
    const { low_m, high_m } = bounds(kind)
    const over = (around: Around) => (j: number) =>
      Math.max(low_m[around.index(j)] - around.offset(j), around.offset(j) - high_m[around.index(j)])
    const beyond = (j: number): number =>
      kind === 'closed' && atExit(j) && own.outer(j) < ref.outer(j) ? 0 : over(own)(j) - Math.max(0, over(ref)(j))
    say(kind === 'lane' ? 'wrong-lane' : 'limit-crossed', most(beyond, place.turnIn - stations(40), (place.exit ?? 0) + stations(40)), 0.05)
  }
  if (settings.method === 'compact')
    say(
      'too-much-road',
      most((j) => ref.outer(j) - own.outer(j), place.turnIn - stations(90), place.turnIn - stations(10)),
      t.tooMuchRoad_m,
    )

  // Wheel.
  const bites = (around: Around, from: number, to: number): number => {
    let swings = 0
    let [high, low] = [around.wheel(from), Number.POSITIVE_INFINITY]
    for (let j = from; j <= to; j++) {
      const value = around.wheel(j)
      if (value > high) [high, low] = [value, Number.POSITIVE_INFINITY]
      if (value < high - t.bite * peak) low = Math.min(low, value)
      if (value > low + t.bite * peak) {
        swings++
        ;[high, low] = [value, Number.POSITIVE_INFINITY]
      }
    }
    return swings
  }
  const early = (from: number, to: number): number => to - Math.round(0.1 * Math.max(0, to - from))
  if (bites(own, marks.turnIn, early(marks.turnIn, apexes[0].at)) > bites(ref, marks.wantedTurnIn, early(marks.wantedTurnIn, apexes[1].at)))
    say('steer-notched', 2, 1)
  let [held_s, against_s] = [0, 0]
  for (let from = apexes[0].at, last = Math.min((place.exit ?? stations(60)) - stations(5), end); from < last; from++)
    for (let j = from; j <= last; j++) {
      const beside = Math.max(ref.wheel(j), ref.wheel(j - apexes[0].at + apexes[1].at))
      const rises = own.throttle(j + 2) >= own.throttle(j - 2) - 0.02 && own.throttle(j) > 0.1
      if (own.wheel(j) < beside + t.pinch * peak || own.wheel(j) < own.wheel(from) - t.pinch * peak || !rises) break
      held_s = Math.max(held_s, own.clock(j) - own.clock(from))
    }
  say('steer-pinched', held_s, t.pinch_s)
  for (let j = marks.turnIn, since: number | null = null; j <= Math.min(place.exit ?? stations(40), end) + stations(10); j++) {
    since = -own.wheel(j) > t.caught * peak && own.bend(j) > 0.3 * peak ? (since ?? j) : null
    if (since !== null) against_s = Math.max(against_s, own.clock(j) - own.clock(since))
  }
  say('steer-caught', against_s, 0.1)

  // Brake.
  const [brake, wanted] = [brakingOf(own, place, step_m), brakingOf(ref, place, step_m)]
  const slowest = (around: Around): number => least(around.speed, place.turnIn - stations(10), stations(60)).value
  say('brake-over', 1 - slowest(own) / slowest(ref), t.overSlowed)
  if (brake && wanted) {
    const speed_mps = ref.speed(wanted.on)
    const later_m = (brake.on - wanted.on) * step_m
    say('brake-early', -later_m, Math.max(t.brakeEarly_m, t.brakeEarly_s * speed_mps))
    say('brake-late', later_m, Math.max(t.brakeLate_m, t.brakeLate_s * speed_mps))
    const build_s = (around: Around, zone: { on: number; off: number; peak_g: number }): number => {
      let j = zone.on
      while (around.brake(j) < 0.9 * zone.peak_g) j++
      return around.clock(j) - around.clock(zone.on)
    }
    const soft = ref.clock(wanted.off) - ref.clock(wanted.on) > t.softZone_s ? 1 - brake.peak_g / wanted.peak_g : 0
    const slow_s = build_s(own, brake) > build_s(ref, wanted) + 0.2 ? build_s(own, brake) : 0
    if (soft / (1 - t.softPeak) >= slow_s / t.build_s) say('brake-soft', soft, 1 - t.softPeak)
    else say('brake-slow-build', slow_s, t.build_s)
    const isSplit = (around: Around, zone: { on: number; off: number; peak_g: number }): boolean => {
      let [pressed, eased, again] = [false, false, false]
      for (let j = zone.on; j <= zone.off; j++) {
        const share = around.brake(j) / zone.peak_g
        again ||= eased && share > t.splitAgain
        eased ||= pressed && share < t.splitRelease
        pressed ||= share > t.splitAgain
      }
      return again
    }
    if (isSplit(own, brake) && !isSplit(ref, wanted)) say('brake-split', 2, 1)
    const slow_mps = own.speed(brake.off)
    const kept_s = ((brake.off - wanted.off) * step_m) / slow_mps
    const turned = (around: Around, zone: { off: number }, from: number): number => {
      let j = zone.off
      while (j > from && around.brake(j) < t.inTurn_g) j--
      return around.clock(j) - around.clock(from)
    }
    const straight = settings.school === 'straight' && turned(ref, wanted, marks.wantedTurnIn) < t.inTurn_s
    const turned_s = straight ? turned(own, brake, marks.turnIn) : 0
    say('brake-in-turn', turned_s, t.inTurn_s)
    // Both are there where the brake is on in the turn: who came in too fast still needs it, who did not holds on to it.
    const faster = own.speed(marks.turnIn) > 1.03 * ref.speed(marks.wantedTurnIn)
    if (!(faster && turned_s > t.inTurn_s)) say('brake-hold', kept_s, t.hold_s)
    if (settings.school === 'trail' && wanted.off > marks.wantedTurnIn)
      say('no-trail', own.clock(marks.turnIn) - own.clock(brake.off), t.noTrail_s)
    const fallOf = (around: Around, zone: { on: number; off: number; peak_g: number }): { at: number; time_s: number } => {
      let at = zone.off
      while (at > zone.on && around.brake(at) < t.dumpFrom * zone.peak_g) at--
      return { at, time_s: around.clock(zone.off) - around.clock(at) }
    }
    const [fall, wantedFall] = [fallOf(own, brake), fallOf(ref, wanted)]
    if (fall.at >= marks.turnIn - stations(2) && fall.time_s < t.dump_s && wantedFall.time_s > fall.time_s + 0.05) say('brake-dump', 2, 1)
  }
  // Throttle.
  const opened = (around: Around, zone: { off: number } | null): { from: number; first: number | null; roll_s: number } => {
    const from = zone ? zone.off + 1 : place.turnIn
    const first = around.first(around.drive, TOUCH_G, TOUCH_KEPT_S, from, end)
    let roll_s = 0
    for (let j = from, since: number | null = null; j < Math.min(end, (first ?? from) + stations(60)); j++) {
      since = around.brake(j) < IDLE_G && around.drive(j) < IDLE_G ? (since ?? j) : null
      if (since !== null) roll_s = Math.max(roll_s, around.clock(j) - around.clock(since))
    }
    return { from, first, roll_s }
  }
  const [opening, wantedOpening] = [opened(own, brake), opened(ref, wanted)]
  if (brake && wantedOpening.roll_s <= t.coast_s) say('coast', opening.roll_s, t.coast_s)
  const dip = (around: Around, first: number | null): { depth: number; at: number } => {
    let [high, depth, at] = [0, 0, 0]
    if (first === null) return { depth, at }
    for (let j = first; j < end - (0.5 * around.speed(end)) / step_m; j++) {
      high = Math.max(high, around.throttle(j))
      if (high - around.throttle(j) > depth) [depth, at] = [high - around.throttle(j), j]
    }
    return { depth, at }
  }
  const [dipped, wantedDip] = [dip(own, opening.first), dip(ref, wantedOpening.first)]
  say('throttle-dip', dipped.depth - wantedDip.depth, t.dip)
  if (opening.first !== null && wantedOpening.first !== null) {
    const later_s = ((opening.first - wantedOpening.first) * step_m) / Math.max(5, ref.speed(wantedOpening.first))
    if (dipped.depth - wantedDip.depth > t.dip && own.clock(dipped.at) - own.clock(opening.first) < 2.5)
      say('throttle-early', -later_s, t.throttleEarly_s)
    say('throttle-late', later_s, t.throttleLate_s)
  }
  const jab = (around: Around): number => {
    let [low, quickest] = [Number.NaN, Number.POSITIVE_INFINITY]
    for (let j = marks.turnIn; j < Math.min((place.exit ?? -place.turnIn) + stations(10), end); j++) {
      if (around.throttle(j) < t.jabFrom) low = j
      else if (around.throttle(j) > t.jabTo) {
        quickest = Math.min(quickest, around.clock(j) - around.clock(low) || Number.POSITIVE_INFINITY)
        low = Number.NaN
      }
    }
    return quickest
  }
  if (jab(own) < t.jab_s + step_m / own.speed(0) && jab(ref) > jab(own) + 0.1) say('throttle-jab', 2, 1)
  // Gears at the marks.
  const gears = (j: number): { own: number; wanted: number } | null => {
    const differs = (i: number): boolean => own.gear(i) !== ref.gear(i)
    let [from, to] = [j, j]
    while (differs(from) && j - from < 100) from--
    while (differs(to) && to - j < 100) to++
    if (own.clock(to) - own.clock(from) < t.shift_s) return null
    return { own: own.gear(j), wanted: ref.gear(j) }
  }
  const middle = gears(Math.max(0, least(ref.speed, place.turnIn, stations(60)).at))
  if (middle) say('wrong-gear', 2, 1)
  const entering = middle ? null : gears(marks.wantedTurnIn)
  if (entering) say(entering.own > entering.wanted ? 'shift-late' : 'shift-early', 2, 1)
  const leaving = middle || place.exit === null ? null : gears(place.exit)
  if (leaving) say(leaving.own > leaving.wanted ? 'shift-early' : 'shift-late', 2, 1)
  return out
}

/** Of what a corner shows, what nothing else there explains: what may be called its root. */
export const unexplained = (shown: readonly ShownMistake[]): ShownMistake[] =>
  shown.filter((one) => !shown.some((other) => other !== one && canExplain(other.code, one.code)))
