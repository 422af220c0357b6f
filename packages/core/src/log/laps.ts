import type { Circuit } from '../circuit/circuit.ts'
import { CoreError } from '../errors/errors.ts'
import type { Log } from './log.ts'
import type { MatchedLog } from './matched-log.ts'

/**
 * A complete lap of a log. `first`, `last`: indices of its first and last fix; `from`: laps travelled at its line, as
 * `travel_m` counts them; `gap_s`: its longest data gap, 0 where there is none worth a word.
 */
export type Lap = { lap: number; start_s: number; time_s: number; first: number; last: number; from: number; gap_s: number }

/** Why a lap is not compared. */
type SkipReason = 'silent' | 'stop' | 'elsewhere'

/** A lap that was left out: no data for `gap_s` after the moment `after_s` (s), or the car stood or left the circuit for that time. */
export type SkippedLap = { lap: number; start_s: number; gap_s: number; after_s: number; reason: SkipReason }

/** Complete laps in order and those left out; numbered together from 1. */
export type Laps = { laps: Lap[]; skipped: SkippedLap[] }

/** Minimum data gap that is reported (s). */
const GAP_S = 1
/** Share of a lap's time without data from which the lap is left out. */
const SILENT_SHARE = 0.4
/** A car that is off the circuit for longer than this drove another layout, or back to the pits (s). */
const AWAY_S = 3
/** Slower than this for this long is a stop (m/s, s). */
const STANDING_MPS = 1.5
const STANDING_S = 4

/**
 * Cuts a matched log at the start line. The moment of crossing is interpolated between the two fixes around it; a log
 * that begins just past or ends just short of the line is carried on at its own speed by one fix at most. Laps keep their
 * numbers where others are left out.
 * @throws CoreError 'log-no-lap' when no lap is complete, 'log-gap' when gaps spoil every one of them
 */
export const splitLaps = (circuit: Circuit, log: Log, matched: MatchedLog): Laps => {
  const on: number[] = []
  for (let i = 0; i < log.time_s.length; i++) if (matched.onCircuit[i]) on.push(i)
  const crossings = findCrossings(circuit, log, matched, on)
  const laps: Lap[] = []
  const skipped: SkippedLap[] = []
  let number = 0
  for (let k = 0; k + 1 < crossings.length; k++) {
    const from = crossings[k]
    const to = crossings[k + 1]
    if (to.lap !== from.lap + 1) continue
    number++
    const time_s = to.time_s - from.time_s
    const out = whyLeftOut(log, matched, on, from, to)
    if (out.reason) skipped.push({ lap: number, start_s: from.time_s, gap_s: out.gap_s, after_s: out.after_s, reason: out.reason })
    else
      laps.push({
        lap: number,
        start_s: from.time_s,
        time_s,
        first: on[from.after],
        last: on[to.after - 1],
        from: from.lap,
        gap_s: out.gap_s > GAP_S ? out.gap_s : 0,
      })
  }
  if (laps.length === 0) {
    const worst = skipped.toSorted((a, b) => b.gap_s - a.gap_s)[0]
    if (worst) throw new CoreError('log-gap', `the row after ${worst.after_s.toFixed(1)} s`, { gap_s: worst.gap_s.toFixed(1) })
    throw new CoreError('log-no-lap', 'file', { crossings: crossings.length })
  }
  return { laps, skipped }
}

const whyLeftOut = (
  log: Log,
  matched: MatchedLog,
  on: readonly number[],
  from: Crossing,
  to: Crossing,
): { reason: SkipReason | null; gap_s: number; after_s: number } => {
  let gap_s = 0
  let after_s = from.time_s
  let silent_s = 0
  let away_s = 0
  let standing_s = 0
  let stopped = false
  for (let j = Math.max(1, from.after); j <= Math.min(to.after, on.length - 1); j++) {
    const since_s = log.time_s[on[j]] - log.time_s[on[j - 1]]
    if (since_s > GAP_S) {
      silent_s += since_s
      // From the first to the last fix off the circuit: a single one that is wrong is no drive elsewhere.
      away_s = Math.max(away_s, log.time_s[on[j] - 1] - log.time_s[on[j - 1] + 1])
    }
    if (since_s > gap_s) {
      gap_s = since_s
      after_s = log.time_s[on[j - 1]]
    }
    const slow = (matched.travel_m[on[j]] - matched.travel_m[on[j - 1]]) / since_s < STANDING_MPS
    standing_s = slow ? standing_s + since_s : 0
    stopped ||= standing_s > STANDING_S
  }
  const time_s = to.time_s - from.time_s
  const reason = away_s > AWAY_S ? 'elsewhere' : stopped ? 'stop' : silent_s > SILENT_SHARE * time_s ? 'silent' : null
  return { reason, gap_s, after_s }
}

/** `after`: index into `on` of the first fix at or past the line. */
type Crossing = { time_s: number; lap: number; after: number }

const findCrossings = (circuit: Circuit, log: Log, matched: MatchedLog, on: number[]): Crossing[] => {
  const travel = (j: number): number => matched.travel_m[on[j]]
  const time = (j: number): number => log.time_s[on[j]]
  const last = on.length - 1
  const out: Crossing[] = []
  if (last < 1) return out
  const startsPast = travel(0) - Math.floor(travel(0) / circuit.length_m) * circuit.length_m
  const firstStep = travel(1) - travel(0)
  if (firstStep > 0 && startsPast <= firstStep)
    out.push({ time_s: time(0) - ((time(1) - time(0)) * startsPast) / firstStep, lap: Math.floor(travel(0) / circuit.length_m), after: 0 })
  let reached = Math.floor(travel(0) / circuit.length_m)
  for (let j = 1; j <= last; j++) {
    const lap = Math.floor(travel(j) / circuit.length_m)
    for (; reached < lap; reached++) {
      const line = (reached + 1) * circuit.length_m
      const share = (line - travel(j - 1)) / (travel(j) - travel(j - 1))
      out.push({ time_s: time(j - 1) + share * (time(j) - time(j - 1)), lap: reached + 1, after: j })
    }
  }
  const lastStep = travel(last) - travel(last - 1)
  const short = (reached + 1) * circuit.length_m - travel(last)
  if (lastStep > 0 && short <= lastStep)
    out.push({ time_s: time(last) + ((time(last) - time(last - 1)) * short) / lastStep, lap: reached + 1, after: last + 1 })
  return out
}
