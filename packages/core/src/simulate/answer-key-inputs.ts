import { IDLE_G, TOUCH_G } from '../drive/trajectory.ts'
import { thresholds as t } from '../findings/thresholds.ts'
import { type Around, type Braking, type KeyCorner, min, type Say, TOUCH_KEPT_S } from './answer-key-corner.ts'

/** From the first touch to the hardest braking (s). */
const buildOf = (around: Around, { on, peak_g }: Braking): number => {
  let j = on
  while (around.brake(j) < 0.9 * peak_g) j++
  return around.clock(j) - around.clock(on)
}

/** Which share of its most a brake has so long after the first touch. */
const shareAfter = (around: Around, { on, peak_g }: Braking, time_s: number): number => {
  let j = on
  while (around.clock(j) - around.clock(on) < time_s) j++
  return around.brake(j) / peak_g
}

const isSplit = (around: Around, { on, off, peak_g }: Braking): boolean => {
  let [pressed, eased, again] = [false, false, false]
  for (let j = on; j <= off; j++) {
    const share = around.brake(j) / peak_g
    again ||= eased && share > t.splitAgain
    eased ||= pressed && share < t.splitRelease
    pressed ||= share > t.splitAgain
  }
  return again
}

/** For how long the brake was still on firmly past a place (s). */
const firmPast = (around: Around, { off }: Braking, from: number): number => {
  let j = off
  while (j > from && around.brake(j) < t.inTurn_g) j--
  return around.clock(j) - around.clock(from)
}

/** Start and duration of the last fall of the brake. */
const fallOf = (around: Around, { on, off, peak_g }: Braking): { at: number; time_s: number } => {
  let at = off
  while (at > on && around.brake(at) < t.dumpFrom * peak_g) at--
  return { at, time_s: around.clock(off) - around.clock(at) }
}

/** The brake: place, pressure, release. */
export const brakeShown = (c: KeyCorner, say: Say): void => {
  const { plan, place, own, ref, stations, marks, brake, wantedBrake: wanted } = c
  const { circuit, settings } = plan
  const slowest = (around: Around): number => min(around.speed, place.turnIn - stations(10), stations(60)).value
  say('brake-over', 1 - slowest(own) / slowest(ref), t.overSlowed)
  if (!brake || !wanted) return
  const speed_mps = ref.speed(wanted.on)
  const later_m = (brake.on - wanted.on) * circuit.step_m
  say('brake-early', -later_m, Math.max(t.brakeEarly_m, t.brakeEarly_s * speed_mps))
  say('brake-late', later_m, Math.max(t.brakeLate_m, t.brakeLate_s * speed_mps))
  const soft = ref.clock(wanted.off) - ref.clock(wanted.on) > t.softZone_s ? 1 - brake.peak_g / wanted.peak_g : 0
  // A harder second part alone makes no brake slow: it has to lag where the reference has built up.
  const built_s = buildOf(ref, wanted) + 0.25
  const lags = shareAfter(own, brake, built_s) < 0.85 * shareAfter(ref, wanted, built_s)
  const slow_s = lags && buildOf(own, brake) > buildOf(ref, wanted) + 0.2 ? buildOf(own, brake) : 0
  if (soft / (1 - t.softPeak) >= slow_s / t.build_s) say('brake-soft', soft, 1 - t.softPeak)
  else say('brake-slow-build', slow_s, t.build_s)
  if (isSplit(own, brake) && !isSplit(ref, wanted)) say('brake-split', 2, 1)
  const straight = settings.school === 'straight' && firmPast(ref, wanted, marks.wantedTurnIn) < t.inTurn_s
  const turned_s = straight ? firmPast(own, brake, marks.turnIn) : 0
  say('brake-in-turn', turned_s, t.inTurn_s)
  // Both are there where the brake is on in the turn: who came in too fast still needs it, who did not holds on to it.
  const faster = own.speed(marks.turnIn) > 1.03 * ref.speed(marks.wantedTurnIn)
  const kept_s = ((brake.off - wanted.off) * circuit.step_m) / own.speed(brake.off)
  if (!(faster && turned_s > t.inTurn_s)) say('brake-hold', kept_s, t.hold_s)
  if (settings.school === 'trail' && wanted.off > marks.wantedTurnIn)
    say('no-trail', own.clock(marks.turnIn) - own.clock(brake.off), t.noTrail_s)
  const [fall, wantedFall] = [fallOf(own, brake), fallOf(ref, wanted)]
  if (fall.at >= marks.turnIn - stations(2) && fall.time_s < t.dump_s && wantedFall.time_s > fall.time_s + 0.05) say('brake-dump', 2, 1)
}

/** Opening of the throttle after a corner's braking, and the time with neither pedal pressed (s). */
const openingOf = ({ place, end, stations }: KeyCorner, around: Around, zone: Braking | null): { first: number | null; roll_s: number } => {
  const from = zone ? zone.off + 1 : place.turnIn
  const first = around.first(around.drive, TOUCH_G, TOUCH_KEPT_S, from, end)
  let roll_s = 0
  for (let j = from, since: number | null = null; j < Math.min(end, (first ?? from) + stations(60)); j++) {
    since = around.brake(j) < IDLE_G && around.drive(j) < IDLE_G ? (since ?? j) : null
    if (since !== null) roll_s = Math.max(roll_s, around.clock(j) - around.clock(since))
  }
  return { first, roll_s }
}

/** Depth and place of a throttle dip. */
const dipOf = ({ plan, end }: KeyCorner, around: Around, first: number | null): { depth: number; at: number } => {
  let [high, depth, at] = [0, 0, 0]
  if (first === null) return { depth, at }
  const last = end - (0.5 * around.speed(end)) / plan.circuit.step_m
  const opensAgain = (from: number, by: number): boolean => {
    for (let j = from; j < last; j++) if (around.throttle(j) >= around.throttle(from) + by) return true
    return false
  }
  for (let j = first; j < last; j++) {
    high = Math.max(high, around.throttle(j))
    if (high - around.throttle(j) > depth && opensAgain(j, Math.min(0.1, (high - around.throttle(j)) / 2)))
      [depth, at] = [high - around.throttle(j), j]
  }
  return { depth, at }
}

/** The shortest time in which the throttle was thrown open (s). */
const jabOf = ({ place, end, stations, marks }: KeyCorner, around: Around): number => {
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

/** The throttle, and the time between the pedals. */
export const throttleShown = (c: KeyCorner, say: Say): void => {
  const { own, ref, brake } = c
  const { step_m } = c.plan.circuit
  const [opening, wanted] = [openingOf(c, own, brake), openingOf(c, ref, c.wantedBrake)]
  if (brake && wanted.roll_s <= t.coast_s) say('coast', opening.roll_s, t.coast_s)
  const [dip, wantedDip] = [dipOf(c, own, opening.first), dipOf(c, ref, wanted.first)]
  say('throttle-dip', dip.depth - wantedDip.depth, t.dip)
  if (opening.first !== null && wanted.first !== null) {
    const later_s = ((opening.first - wanted.first) * step_m) / Math.max(5, ref.speed(wanted.first))
    if (dip.depth - wantedDip.depth > t.dip && own.clock(dip.at) - own.clock(opening.first) < 2.5)
      say('throttle-early', -later_s, t.throttleEarly_s)
    say('throttle-late', later_s, t.throttleLate_s)
  }
  fullShown(c, opening.first, wanted.first, say)
  const jab_s = jabOf(c, own)
  if (jab_s < t.jab_s + step_m / own.speed(0) && jabOf(c, ref) > jab_s + 0.1) say('throttle-jab', 2, 1)
}

/** Full throttle late after a touch in time, and throttle short of full further on. */
const fullShown = ({ plan, own, ref, end, place, stations }: KeyCorner, first: number | null, wanted: number | null, say: Say): void => {
  if (first === null || wanted === null) return
  const { step_m } = plan.circuit
  const full = (around: Around, from: number): number | null =>
    around.first(around.throttle, 0.95, 0.3, Math.max(from, min(around.speed, place.turnIn, Math.min(stations(60), end)).at), end)
  const at = full(own, first)
  // Due from where the reference stays on it.
  let due = full(ref, wanted)
  if (due === null) return
  for (let j = due, off: number | null = null; j < end; j++) {
    if (ref.throttle(j) < 0.95) off ??= j
    else if (off !== null) {
      const again = full(ref, j)
      if (again === j && ref.clock(j) - ref.clock(off) > 0.5) due = j
      if (again === j) off = null
    }
  }
  if (due < place.turnIn) return
  const speed = Math.max(5, ref.speed(wanted))
  if (at !== null && ((first - wanted) * step_m) / speed <= t.throttleLate_s)
    say('throttle-full-late', (at - due) * step_m, Math.max(t.fullLate_m, t.fullLate_s * speed))
  const from = Math.max(due, at ?? due)
  let to = from
  for (let j = from; j < end; j++) if (ref.throttle(j) >= 0.95 && (at === null || own.throttle(j) >= 0.95)) to = j
  let short_s = 0
  for (let j = from; j < to; j++) if (own.throttle(j) < 0.9) short_s += own.clock(j + 1) - own.clock(j)
  const lost_s = own.clock(to) - own.clock(from) - (ref.clock(to) - ref.clock(from))
  if (lost_s > t.shortLost_s) say('throttle-short', short_s, t.short_s)
}

/** The longest time between two changes down while braking, and the gears used. */
const pauseOf = (around: Around, zone: Braking, turnIn: number): { pause_s: number; gears: string } => {
  const downs: number[] = []
  for (let j = zone.on + 1; j <= Math.max(zone.off, turnIn); j++) if (around.gear(j) < around.gear(j - 1)) downs.push(j)
  const gears = [around.gear(zone.on), ...downs.map((j) => around.gear(j))].join()
  return { gears, pause_s: Math.max(0, ...downs.slice(1).map((j, k) => around.clock(j) - around.clock(downs[k]))) }
}

/** Where the car is slowest: the middle of the stretch that is as slow, give or take a hundredth. */
const slowestAt = ({ place, end, stations }: KeyCorner, { speed }: Around): number => {
  const { at, value } = min(speed, place.turnIn - stations(10), Math.min(stations(60), end))
  let [from, to] = [at, at]
  while (speed(from - 1) < 1.01 * value) from--
  while (speed(to + 1) < 1.01 * value) to++
  return (from + to) / 2
}

/** A slowest point elsewhere that costs time from the reference's brake, or turn-in, to the next corner. */
export const slowestShown = (c: KeyCorner, say: Say): void => {
  const { plan, own, ref, place, wantedBrake, end } = c
  const later_m = (slowestAt(c, own) - slowestAt(c, ref)) * plan.circuit.step_m
  const from = Math.min(wantedBrake?.on ?? place.turnIn, place.turnIn)
  const lost_s = own.clock(end) - own.clock(from) - (ref.clock(end) - ref.clock(from))
  if (lost_s <= t.slowestLost_s) return
  const most_m = Math.max(t.slowest_m, t.slowest_s * min(ref.speed, place.turnIn, Math.min(c.stations(60), end)).value)
  say('slowest-early', -later_m, most_m)
  say('slowest-late', later_m, most_m)
}

/** Gears at the marks. */
export const gearsShown = ({ place, own, ref, stations, marks, brake, wantedBrake }: KeyCorner, say: Say): void => {
  if (brake && wantedBrake) {
    const [pause, due] = [pauseOf(own, brake, marks.turnIn), pauseOf(ref, wantedBrake, marks.wantedTurnIn)]
    if (pause.gears === due.gears) say('shift-slow', pause.pause_s - due.pause_s, t.shiftSlow_s)
  }
  const differs = (j: number): boolean => own.gear(j) !== ref.gear(j)
  const at = (j: number): { own: number; wanted: number } | null => {
    let [from, to] = [j, j]
    while (differs(from) && j - from < 100) from--
    while (differs(to) && to - j < 100) to++
    return own.clock(to) - own.clock(from) < t.shift_s ? null : { own: own.gear(j), wanted: ref.gear(j) }
  }
  if (at(Math.max(0, min(ref.speed, place.turnIn, stations(60)).at))) {
    say('wrong-gear', 2, 1)
    return
  }
  const entering = at(marks.wantedTurnIn)
  if (entering) say(entering.own > entering.wanted ? 'shift-late' : 'shift-early', 2, 1)
  const leaving = place.exit === null ? null : at(place.exit)
  if (leaving) say(leaving.own > leaving.wanted ? 'shift-early' : 'shift-late', 2, 1)
}
