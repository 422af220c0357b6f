import { distanceAhead, signedDistance, stationIndex } from '../circuit/station.ts'
import { markOf } from '../marks/mark.ts'
import { timeBetween } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import { rollForward } from '../profile/passes.ts'

/** The use of a corner, with the numbers behind it. */
export type CornerWorth = {
  cornerId: string
  /** Time (s) lost up to the next brake point for each m/s missing at the exit. */
  price_spmps: number
  /** 1 is the corner whose exit speed is worth most. */
  rank: number
  /** Time (s) won on the way in by braking 5 m later, and lost from turn-in on when the turn has 5 m less of road. */
  entryGain_s: number
  exitRisk_s: number
  purpose: 'exit' | 'entry' | 'give-up'
}

/** Exit speed is lowered by this much to see what it costs (m/s). */
const LOWERED_MPS = 1
/** Later by this much at the entry (m). */
const LATER_M = 5
/** Time after the apex within which a turn the other way makes a corner a sacrifice corner (s). */
const SOON_S = 2.2

/**
 * Price, entry gain and purpose of every corner. Price: the speed at the exit mark (at the apex where there is none) is
 * lowered by 1 m/s and driven on with full drive until the speeds meet or the next brake point comes. Entry gain: the
 * braking curve moved 5 m down the road swaps 5 m at the speed of release for 5 m at the speed of the brake point; what
 * it risks is the same turn on 5 m less of road, slower through the corner and at its exit. A corner is a sacrifice corner where
 * a turn the other way follows within 2.2 s and is worth more than what this corner's exit speed brings before that turn.
 */
export const cornerWorth = (plan: Plan): CornerWorth[] => {
  const { corners, profile } = plan
  const prices = corners.map((_, k) => priceOf(plan, k))
  const byPrice = [...prices].sort((a, b) => b - a)
  return corners.map((corner, k) => {
    const price = prices[k]
    const [brake, release] = [markOf(plan.marks, corner.id, 'brake'), markOf(plan.marks, corner.id, 'release')]
    const entryGain_s = brake && release ? LATER_M * (1 / release.speed_mps - 1 / brake.speed_mps) : 0
    const exitRisk_s = brake ? riskOf(plan, k, price) : 0
    const next = (k + 1) % corners.length
    const gap_s = timeBetween(profile, plan.turnings[k].apex, plan.turnings[next].turnIn)
    const giveUp = corners.length > 1 && corners[next].side !== corner.side && gap_s < SOON_S && prices[next] > ownPriceOf(plan, k)
    return {
      cornerId: corner.id,
      price_spmps: price,
      rank: byPrice.indexOf(price) + 1,
      entryGain_s,
      exitRisk_s,
      purpose: giveUp ? 'give-up' : entryGain_s < exitRisk_s ? 'exit' : 'entry',
    }
  })
}

/** Station index of a corner's exit, or of its apex where the line has no exit. */
const exitIndex = (plan: Plan, k: number): number => plan.turnings[k].exit ?? plan.turnings[k].apex

/**
 * Time (s) lost from turn-in on when the same turn has to be made on 5 m less of road: on a path shorter by the share
 * 5/L radii shrink by that share and speeds by half of it, in the corner and at its exit.
 */
const riskOf = (plan: Plan, k: number, price_spmps: number): number => {
  const { circuit, profile, turnings } = plan
  const { turnIn, apex, exit } = turnings[k]
  const from = circuit.s_m[turnIn]
  const toApex_m = distanceAhead(from, circuit.s_m[apex], circuit.length_m)
  const length_m = exit === null ? 2 * toApex_m : distanceAhead(from, circuit.s_m[exit], circuit.length_m)
  const end = stationIndex(circuit, from + length_m)
  const share = Math.min(0.5, LATER_M / Math.max(length_m, LATER_M))
  const inside_s = timeBetween(profile, turnIn, end)
  return (share / 2) * (inside_s + price_spmps * profile.speed_mps[end])
}

/** Price of a corner's exit speed up to the next brake point. */
const priceOf = (plan: Plan, k: number): number => priceUntil(plan, k, nextSlowing(plan, (k + 1) % plan.corners.length))

/** The part of a corner's price that falls before the next corner: what lies beyond that one’s turn-in is that one’s to win. */
const ownPriceOf = (plan: Plan, k: number): number => {
  const { s_m, length_m } = plan.circuit
  const next = plan.turnings[(k + 1) % plan.turnings.length].turnIn
  return signedDistance(s_m[exitIndex(plan, k)], s_m[next], length_m) <= 0 ? 0 : priceUntil(plan, k, next)
}

const priceUntil = (plan: Plan, k: number, until: number): number => {
  const { circuit, profile } = plan
  const exit = exitIndex(plan, k)
  const count = Math.round(distanceAhead(circuit.s_m[exit], circuit.s_m[until], circuit.length_m) / circuit.step_m) || circuit.count
  const lowered = rollForward(plan, exit, profile.speed_mps[exit] - LOWERED_MPS, profile.speed_mps, count)
  let lost_s = 0
  for (let j = 0; j < count; j++) {
    const i = (exit + j) % circuit.count
    const next = (i + 1) % circuit.count
    const length = plan.line.stepPath_m[i]
    lost_s += (2 * length) / (lowered[j] + lowered[j + 1]) - (2 * length) / (profile.speed_mps[i] + profile.speed_mps[next])
  }
  return lost_s / LOWERED_MPS
}

/** Brake point of the next corner that is braked for, looking on from corner k; its turn-in where none is. */
const nextSlowing = (plan: Plan, k: number): number => {
  for (let on = 0; on < plan.corners.length; on++) {
    const brake = markOf(plan.marks, plan.corners[(k + on) % plan.corners.length].id, 'brake')
    if (brake) return stationIndex(plan.circuit, brake.station_m)
  }
  return plan.turnings[k].turnIn
}
