import { thresholds as t } from '../findings/thresholds.ts'
import { offsetBounds } from '../line/bounds.ts'
import { type Around, type KeyCorner, max, min, type Say } from './answer-key-corner.ts'

/** Full throttle. */
const FULL = 0.85

/** The line: turn-in, apex, exit, edges and lanes, and the road used before the corner. */
export const lineShown = (c: KeyCorner, say: Say): void => {
  const { plan, place, own, ref, stations, turnIn, wantedTurnIn, apex, wantedApex } = c
  const { circuit, vehicle, settings } = plan
  const { step_m } = circuit
  if (turnIn !== null && wantedTurnIn !== null) {
    const allowed = Math.max(t.turnIn_m, t.turnIn_s * ref.speed(wantedTurnIn))
    say('turn-in-early', (wantedTurnIn - turnIn) * step_m, allowed)
    say('turn-in-late', (turnIn - wantedTurnIn) * step_m, allowed)
    say('setup-narrow', own.outer(turnIn) - ref.outer(wantedTurnIn), t.setupNarrow_m)
  }
  const length_m = (place.exit === null ? -2 * place.turnIn : place.exit - place.turnIn) * step_m
  const apexAllowed = Math.max(t.apexPlace_m, t.apexPlace * length_m)
  say('apex-early', (wantedApex.at - apex.at) * step_m, apexAllowed)
  say('apex-late', (apex.at - wantedApex.at) * step_m, apexAllowed)
  say('apex-missed', apex.inner_m - wantedApex.inner_m, t.apexMissed_m)
  const half_m = vehicle.width_m / 2
  if (place.exit !== null) {
    const [from, to] = [Math.max(1, place.exit - stations(35)), place.exit + stations(35)]
    const [mine, theirs] = [min(own.outer, from, to).value, min(ref.outer, from, to).value]
    const wanted_m = theirs - half_m < t.exitOwnMargin_m ? 0 : t.exitWide_m
    if (mine - half_m < wanted_m) say('exit-wide', wanted_m - (mine - half_m) + t.exitWide_m, t.exitWide_m)
    if (own.throttle(place.exit) > Math.min(FULL, 0.9 * ref.throttle(place.exit))) say('exit-unused', mine - theirs, t.exitUnused_m)
  }
  limitsShown(c, say)
  if (settings.method === 'compact')
    say(
      'too-much-road',
      max((j) => ref.outer(j) - own.outer(j), place.turnIn - stations(90), place.turnIn - stations(10)),
      t.tooMuchRoad_m,
    )
}

/** Wheels over an edge or out of a lane by this much are over it (m). */
const OVER_M = 0.05

const limitsShown = ({ plan, place, own, ref, stations }: KeyCorner, say: Say): void => {
  const hasLanes = plan.ground.some((item) => item.kind === 'lane')
  const atExit = (j: number): boolean => place.exit !== null && Math.abs(j - place.exit) < stations(35)
  for (const kind of hasLanes ? (['closed', 'lane'] as const) : (['closed'] as const)) {
    const { low_m, high_m } = offsetBounds(plan.circuit, plan.vehicle.width_m, 0, {
      ground: plan.ground.filter((item) => (item.kind === 'lane') === (kind === 'lane')),
      closed: ['forbidden'],
    })
    const over = (around: Around) => (j: number) =>
      Math.max(low_m[around.index(j)] - around.offset(j), around.offset(j) - high_m[around.index(j)])
    const beyond = (j: number): number =>
      kind === 'closed' && atExit(j) && own.outer(j) < ref.outer(j) ? 0 : over(own)(j) - Math.max(0, over(ref)(j))
    say(
      kind === 'lane' ? 'wrong-lane' : 'limit-crossed',
      max(beyond, place.turnIn - stations(40), (place.exit ?? 0) + stations(40)),
      OVER_M,
    )
  }
}

/** Number of times that the wheel was opened and turned in again. */
const countSteeringInputs = (around: Around, peak_1pm: number, from: number, apex: number): number => {
  const to = apex - Math.round(0.1 * Math.max(0, apex - from))
  let swings = 0
  let [high, low] = [around.wheel(from), Number.POSITIVE_INFINITY]
  for (let j = from; j <= to; j++) {
    const value = around.wheel(j)
    if (value > high) [high, low] = [value, Number.POSITIVE_INFINITY]
    if (value < high - t.bite * peak_1pm) low = Math.min(low, value)
    if (value > low + t.bite * peak_1pm) {
      swings++
      ;[high, low] = [value, Number.POSITIVE_INFINITY]
    }
  }
  return swings
}

/** For how long the wheel was held past the apex while the throttle rose (s). */
const heldFor = ({ place, own, ref, end, stations, apex, wantedApex, peak_1pm }: KeyCorner): number => {
  let held_s = 0
  for (let from = apex.at, last = Math.min((place.exit ?? stations(60)) - stations(5), end); from < last; from++)
    for (let j = from; j <= last; j++) {
      const beside = Math.max(ref.wheel(j), ref.wheel(j - apex.at + wantedApex.at))
      const rises = own.throttle(j + 2) >= own.throttle(j - 2) - 0.02 && own.throttle(j) > 0.1
      if (own.wheel(j) < beside + t.pinch * peak_1pm || own.wheel(j) < own.wheel(from) - t.pinch * peak_1pm || !rises) break
      held_s = Math.max(held_s, own.clock(j) - own.clock(from))
    }
  return held_s
}

/** Opposite lock for so long is a slide that was caught (s). */
const CAUGHT_S = 0.1

/** The wheel: bites, holding it, opposite lock. */
export const wheelShown = (c: KeyCorner, say: Say): void => {
  const { place, own, ref, end, stations, marks, apex, wantedApex, peak_1pm } = c
  if (countSteeringInputs(own, peak_1pm, marks.turnIn, apex.at) > countSteeringInputs(ref, peak_1pm, marks.wantedTurnIn, wantedApex.at))
    say('steer-notched', 2, 1)
  say('steer-pinched', heldFor(c), t.pinch_s)
  let against_s = 0
  for (let j = marks.turnIn, since: number | null = null; j <= Math.min(place.exit ?? stations(40), end) + stations(10); j++) {
    since = -own.wheel(j) > t.caught * peak_1pm && own.bend(j) > 0.3 * peak_1pm ? (since ?? j) : null
    if (since !== null) against_s = Math.max(against_s, own.clock(j) - own.clock(since))
  }
  say('steer-caught', against_s, CAUGHT_S)
}
