import { graceOf, MIN_GRACE_S } from '../corner-numbers/safety.ts'
import type { Evidenced, EvidenceOf } from '../mistakes/evidence.ts'
import { isGear, type LogCode, mistakes, teachableOf } from '../mistakes/mistakes.ts'
import type { Plan } from '../plan/plan.ts'
import { median, spread } from '../solve/robust.ts'
import { CAR_LENGTH_M } from '../vehicle/car-length.ts'

/** Input for advice: roots of a run (`lossTime_s` of the pass, `certainty` 0 … 1). */
export type RootFinding = {
  lap: number
  cornerId: string
  root: boolean
  lossTime_s: number
  certainty: number
} & Evidenced<LogCode>

/** A pass against its reference, mark by mark: positive is later (m), further from the inner edge (m), quicker (m/s). */
export type PassOff = { brake_m: number | null; turnIn_m: number | null; apexInner_m: number; slowest_mps: number }

/**
 * A pass beside its marks: the station of its slowest point, distances of the wheels from the inner edge at the apex and from the
 * outer edge at the exit (m, negative beyond it; null where the corner has no exit), radius at the apex (m), and stations at which
 * the gear changed.
 */
export type PassShape = {
  slowest_m: number
  apexInner_m: number
  exitOuter_m: number | null
  radius_m: number
  shifts: { station_m: number; to: number }[]
}

/** Marks of one pass, in stations (m); null where there was none. */
export type PassMarks = {
  lap: number
  cornerId: string
  brake_m: number | null
  release_m: number | null
  turnIn_m: number | null
  apex_m: number
  exit_m: number | null
  throttle_m: number | null
  slowest_mps: number
  /** What the pass looked like beside its marks; null where positions do not tell, absent in logs judged before it was kept. */
  shape?: PassShape | null | undefined
  /** Differences from the reference's marks; null where one was not measured. */
  off: PassOff | null
  /** Time lost (positive) or won against the reference by phase (s): to turn-in, to the apex, to the exit, to the next corner. */
  phases_s: [number, number, number, number]
}

/** Names of the phases of a pass, in order. */
export const phaseNames = ['entry', 'middle', 'exit', 'straight after'] as const

/** One thing to say: what, how much of it, and why; its words are made for each reader. */
export type Advice = {
  cornerId: string
  laps: number[]
  /** Passes that the log could judge. */
  passes: number
  time_s: number
  margin_s: number
  certainty: number
  /** `most-time`: of all that is said, this costs the most time; `time`: it costs time too. */
  reason: 'safety' | 'most-time' | 'time' | 'margin'
} & {
  /** `goal`: the evidence that advice goes by, within its limits. */
  [C in LogCode]: { code: C; goal: EvidenceOf<C>; evidence: EvidenceOf<C> }
}[LogCode]

/** Something that held: a mistake that went away after a lap, a mark that repeats within so many metres, or laps without mistakes. */
export type Praise = { cornerId: string } & (
  | { kind: 'gone'; code: LogCode; lap: number }
  | { kind: 'brake' | 'turn-in'; within_m: number; laps: number }
  | { kind: 'within'; laps: number }
)

/** Consistency of the passes of a corner: standard deviations by the middle half, and the number of passes. */
export type Consistency = { cornerId: string; passes: number; brake_m: number | null; turnIn_m: number | null; slowest_mps: number }

/** Limits of advice: the surface, and the grace (s) that the plan leaves at each corner. */
export type AdviceLimits = { dry: boolean; grace_s?: Readonly<Record<string, number>> }

/** The part of a plan that limits advice. */
export const adviceLimitsOf = (plan: Plan): AdviceLimits => ({
  dry: plan.settings.surface === 'dry',
  grace_s: Object.fromEntries(
    plan.corners.flatMap((corner) => {
      const grace = graceOf(plan, corner)
      return grace ? [[corner.id, grace.time_s]] : []
    }),
  ),
})

/** A loss of margin in the clock’s scale, by code: a second of grace, or a metre over an edge, weighs as this many seconds per lap. */
const marginLost: { [C in LogCode]?: (e: EvidenceOf<C>) => number } = {
  'brake-late': (e) => 0.5 * (Math.abs(e.later_m) / Math.max(10, e.speed_mps)),
  'lift-late': (e) => 0.5 * (Math.abs(e.later_m) / Math.max(10, e.speed_mps)),
  'lift-missing': () => 0.4,
  'exit-wide': (e) => 0.2 + 0.2 * Math.max(0, -e.margin_m),
  'limit-crossed': (e) => 0.3 + 0.3 * e.over_m,
  'brake-in-turn': (e) => 0.2 * e.inTurn_s,
  'brake-hold': (e) => 0.2 * e.held_s,
  'steer-caught': () => 0.3,
  'brake-dump': () => 0.1,
  'throttle-jab': () => 0.1,
}

const marginOf = <C extends LogCode>(code: C, evidence: EvidenceOf<C>): number => marginLost[code]?.(evidence) ?? 0

/**
 * The evidence that advice is based on, or null where none may be given: in the wet nobody is told to brake later, and in the
 * dry only as far as the place that leaves half a second of grace.
 */
const withinLimits = <E extends Evidenced<LogCode>>(found: E, cornerId: string, { dry, grace_s }: AdviceLimits): E['evidence'] | null => {
  if (found.code !== 'brake-early') return found.evidence
  if (!dry) return null
  const { evidence } = found
  const short_s = Math.max(0, MIN_GRACE_S - (grace_s?.[cornerId] ?? Number.POSITIVE_INFINITY))
  const room_m = Math.abs(evidence.later_m) - short_s * evidence.speed_mps
  return room_m < CAR_LENGTH_M / 2 ? null : { ...evidence, later_m: -room_m }
}

/** Worth of a finding (s per lap): the larger of the time and the margin that it cost. */
export const worthOf = (found: Pick<RootFinding, 'code' | 'lossTime_s' | 'evidence'>): number =>
  Math.max(0, found.lossTime_s, marginOf(found.code, found.evidence as EvidenceOf<LogCode>))

/** The median of several pieces of evidence of one code, value by value. */
const medianEvidence = ([first, ...others]: readonly RootFinding[]): Evidenced<LogCode> => {
  const all = [first, ...others].map((seen) => seen.evidence as Readonly<Record<string, number>>)
  const evidence = Object.fromEntries(Object.keys(first.evidence).map((key) => [key, median(all.map((e) => e[key]))]))
  // All of them are of the first one's code, and so are their medians.
  return { code: first.code, evidence } as Evidenced<LogCode>
}

/**
 * What to say first: safety before all, then worth (the larger of time lost a lap and margin lost, times how sure, times how
 * teachable now); one thing a corner, at most `max` in all. `passes`: how often a corner could be judged;
 * `shares`: the time to find of each corner.
 */
export const selectAdvice = (
  findings: readonly RootFinding[],
  passes: (cornerId: string) => number,
  limits: AdviceLimits,
  shares: readonly TimeToFind[] = [],
  max = 3,
): Advice[] => {
  const groups = new Map<string, RootFinding[]>()
  for (const finding of findings) {
    if (!finding.root) continue
    const key = `${finding.cornerId} ${finding.code}`
    groups.set(key, [...(groups.get(key) ?? []), finding])
  }
  const all = [...groups.values()].flatMap((seen) => {
    const { cornerId, code } = seen[0]
    const of = Math.max(seen.length, passes(cornerId))
    const share = seen.length / of
    const typical = medianEvidence(seen)
    const goal = withinLimits(typical, cornerId, limits)
    if (!goal) return []
    const time_s = share * Math.max(0, median(seen.map((s) => s.lossTime_s)))
    const margin_s = share * marginOf(code, typical.evidence as EvidenceOf<LogCode>)
    const certainty = median(seen.map((s) => s.certainty))
    const teachable = teachableOf(mistakes[code].skill)
    // Once in many passes is an accident, not a habit.
    const habit = seen.length > 1 || of <= 2 ? 1 : 0.5
    const weight = Math.max(time_s, margin_s, 0.02 * share) * certainty * teachable * habit
    const { safety } = mistakes[code]
    const advice = {
      ...typical,
      cornerId,
      laps: seen.map((s) => s.lap).sort((a, b) => a - b),
      passes: of,
      time_s,
      margin_s,
      certainty,
      reason: safety ? ('safety' as const) : margin_s > time_s ? ('margin' as const) : ('time' as const),
      goal,
    } as Advice
    return [{ advice, weight: weight + (safety && habit === 1 ? 100 : 0) }]
  })
  const out: Advice[] = []
  const others = all.some(({ advice, weight }) => !isGear(advice.code) && weight > WORTH_SAYING_S)
  for (const { advice } of all.sort((a, b) => b.weight - a.weight)) {
    if (isGear(advice.code) && others) continue
    if (out.length < max && !out.some((other) => other.cornerId === advice.cornerId)) out.push(advice)
  }
  // Where the time to find is known corner by corner, it says where most of it lies.
  const held = (advice: Advice): number => shares.find((s) => s.cornerId === advice.cornerId)?.time_s ?? advice.time_s
  const slowest = out.filter((advice) => advice.reason === 'time').sort((a, b) => held(b) - held(a))[0]
  return out.map((advice) => (advice === slowest ? { ...advice, reason: 'most-time' as const } : advice))
}

/** Beside a mistake of this worth (s a lap) a gear is not talked about. */
const WORTH_SAYING_S = 0.02

/** Consistency of the passes of each corner. */
export const consistencyOf = (passes: readonly PassMarks[]): Consistency[] =>
  [...new Set(passes.map((p) => p.cornerId))].map((cornerId) => {
    const ofCorner = passes.filter((p) => p.cornerId === cornerId)
    const of = (value: (p: PassMarks) => number | null): number | null => {
      const list = ofCorner.map(value).filter((v) => v !== null)
      return list.length >= 3 ? spread(list) : null
    }
    return {
      cornerId,
      passes: ofCorner.length,
      brake_m: of((p) => p.brake_m),
      turnIn_m: of((p) => p.turnIn_m),
      slowest_mps: of((p) => p.slowest_mps) ?? 0,
    }
  })

/** A brake or a turn-in within this of itself is steady (m). */
const STEADY_M = 4

/** Passes without a mistake that are worth a word, and passes from which a mark is called steady. */
const MIN_PRAISED = 2
const MIN_STEADY = 3

/**
 * What was good, with evidence: first what went away during the run, then corners without a finding and with steady marks.
 */
export const selectPraise = (findings: readonly RootFinding[], passes: readonly PassMarks[], max = 3): Praise[] => {
  const laps = [...new Set(passes.map((p) => p.lap))].sort((a, b) => a - b)
  const half = laps[Math.floor(laps.length / 2)] ?? 0
  const roots = findings.filter((f) => f.root)
  const corners = [...new Set(passes.map((p) => p.cornerId))]
  const better = corners.flatMap((cornerId) => {
    const ofCorner = roots.filter((f) => f.cornerId === cornerId)
    const codes = [...new Set(ofCorner.map((f) => f.code))]
    const gone = codes.find((code) => {
      const at = ofCorner.filter((f) => f.code === code).map((f) => f.lap)
      return at.length >= 2 && Math.max(...at) < half
    })
    if (!gone) return []
    const lap = Math.max(...ofCorner.filter((f) => f.code === gone).map((f) => f.lap))
    return [{ cornerId, kind: 'gone' as const, code: gone, lap }]
  })
  const steady = consistencyOf(passes)
    .filter((c) => c.passes >= MIN_PRAISED && !roots.some((f) => f.cornerId === c.cornerId))
    .sort((a, b) => (a.brake_m ?? a.turnIn_m ?? 99) - (b.brake_m ?? b.turnIn_m ?? 99))
    .map(({ cornerId, passes: laps, brake_m, turnIn_m }): Praise => {
      const within = (spread_m: number): number => Math.max(1, Math.round(2 * spread_m))
      if (laps >= MIN_STEADY && brake_m !== null && brake_m < STEADY_M) return { cornerId, kind: 'brake', within_m: within(brake_m), laps }
      if (laps >= MIN_STEADY && turnIn_m !== null && turnIn_m < STEADY_M)
        return { cornerId, kind: 'turn-in', within_m: within(turnIn_m), laps }
      return { cornerId, kind: 'within', laps }
    })
  return [...better, ...steady].slice(0, max)
}

/** Time that one corner holds: how much slower its usual pass was than its best (s), and its share of what all corners hold (0 … 1). */
export type TimeToFind = { cornerId: string; time_s: number; share: number }

/**
 * Where time is to be found: for each corner with its straight the mean of its passes against the quickest of them, over the same
 * laps. Shares are of one sum, so that they add up; empty with fewer than two laps.
 */
export const timeToFind = (passes: readonly PassMarks[]): TimeToFind[] => {
  const corners = [...new Set(passes.map((p) => p.cornerId))]
  const times = corners.map((cornerId) => {
    const all = passes.filter((p) => p.cornerId === cornerId).map((p) => p.phases_s.reduce((a, b) => a + b, 0))
    return { cornerId, passes: all.length, time_s: all.reduce((a, b) => a + b, 0) / all.length - Math.min(...all) }
  })
  const known = times.filter((t) => t.passes > 1)
  const sum = known.reduce((total, t) => total + t.time_s, 0)
  return known.map(({ cornerId, time_s }) => ({ cornerId, time_s, share: sum > 0 ? time_s / sum : 0 }))
}

/** Speed at which an error along the road is counted as time (m/s). */
const USUAL_MPS = 25
/** The least time a lap (s) that a log can tell from its noise: twice the error of a difference of two times. */
export const leastTold_s = (noise_m: number): number => Math.max(0.02, (2 * Math.SQRT2 * noise_m) / USUAL_MPS)
