import { demoPlan } from '../fixtures/load.ts'
import { type Analysis, analyseLog } from '../src/findings/analyse.ts'
import { type LogCode, logCodes } from '../src/findings/mistakes.ts'
import { doubtOf } from '../src/findings/quality.ts'
import { thresholds } from '../src/findings/thresholds.ts'
import type { Log } from '../src/log/log.ts'
import { markOf } from '../src/marks/marks.ts'
import type { Plan } from '../src/plan.ts'
import { type DriveOptions, simulateDrive } from '../src/simulate/drive.ts'
import { usualSize } from '../src/simulate/habits.ts'
import { seededRandom } from '../src/simulate/random.ts'
import type { Habit, MadeMistake } from '../src/simulate/student.ts'

/**
 * Logs of made-up students with known mistakes, over habits, rates and noises: what was made against what was found.
 * Arguments: number of students a row, the name of one kind of log where not all are wanted, and `lap` or `plan` for one reference. Prints JSON.
 */

type Kind = { name: string; options: Partial<DriveOptions>; change?: (log: Log, seed: number) => Log }

const without = (log: Log, channels: readonly (keyof Log)[]): Log =>
  Object.fromEntries(Object.entries(log).filter(([name]) => !channels.includes(name as keyof Log))) as Log

/** A clock that stands still now and then: fixes with a stamp that was there already are dropped on reading. */
const stalled = (log: Log, seed: number): Log => {
  const random = seededRandom(seed)
  const keep: number[] = []
  let until = -1
  for (let i = 0; i < log.time_s.length; i++) {
    if (log.time_s[i] < until) continue
    if (random.uniform() < 0.0012) until = log.time_s[i] + 0.3 + 1.5 * random.uniform()
    keep.push(i)
  }
  return Object.fromEntries(Object.entries(log).map(([name, column]) => [name, Float64Array.from(keep, (i) => column[i])])) as Log
}

const kinds: readonly Kind[] = [
  { name: '100 Hz, 0.1 m', options: { rate_hz: 100, noise_m: 0.1 } },
  { name: '25 Hz, 0.2 m', options: { rate_hz: 25, noise_m: 0.2 } },
  { name: '10 Hz, 0.1 m', options: { rate_hz: 10, noise_m: 0.1 } },
  { name: '10 Hz, 0.4 m', options: { rate_hz: 10, noise_m: 0.4 } },
  { name: '20 Hz, 0.8 m', options: { rate_hz: 20, noise_m: 0.8 } },
  {
    name: '10 Hz, 0.2 m, position and speed only',
    options: { rate_hz: 10, noise_m: 0.2 },
    change: (log) => without(log, ['throttle_pct', 'brake_bar', 'steer_deg', 'gear', 'rpm']),
  },
  { name: '20 Hz, 0.3 m, no pedals', options: { rate_hz: 20, noise_m: 0.3 }, change: (log) => without(log, ['throttle_pct', 'brake_bar']) },
  { name: '10 Hz, 0.3 m, drop-outs', options: { rate_hz: 10, noise_m: 0.3, dropOuts: 1.5 } },
  { name: '25 Hz, 0.2 m, stalled clock', options: { rate_hz: 25, noise_m: 0.2 }, change: stalled },
]

/** Habits of every kind, each in a corner of a made-up student; what a corner does not allow is not made. */
const habitsOfAllKinds = (plan: Plan, seed: number): Habit[] => {
  const random = seededRandom(seed * 31 + 7)
  return plan.corners.flatMap((corner) => {
    const code = logCodes[Math.floor(random.uniform() * logCodes.length)]
    const speed = markOf(plan.marks, corner.id, code.startsWith('brake') ? 'brake' : 'turn-in')?.speed_mps ?? 20
    return random.uniform() < 0.5 ? [{ cornerId: corner.id, code, probability: 0.6, size: usualSize[code](speed) }] : []
  })
}

const LAPS = 7
/** A usual time between the straights beside a corner (s). */
const AWAY_S = 5

type Score = {
  made: number
  tellable: number
  hit: number
  shown: number
  shownHit: number
  roots: number
  right: number
  cleanLaps: number
  cleanRoots: number
}
type Referred = 'plan' | 'lap'
const confusion: Record<string, Record<string, number>> = {}
const count = (made: string, found: string): void => {
  confusion[made] ??= {}
  confusion[made][found] = (confusion[made][found] ?? 0) + 1
}

/** Whether a log can tell a made mistake: its pass was logged, its channels are there, and it is larger than what noise hides. */
const canTell = ({ laps, untold, blindTo, quality }: Analysis, reference: Referred, made: MadeMistake): boolean => {
  const offset_m = doubtOf(quality, reference).offset_m(AWAY_S)
  const least: Partial<Record<LogCode, number>> = {
    'apex-missed': thresholds.apexMissed_m + offset_m,
    'setup-narrow': thresholds.setupNarrow_m + offset_m,
    'exit-unused': thresholds.exitUnused_m + offset_m,
    'exit-wide': thresholds.exitWide_m + offset_m,
    'limit-crossed': offset_m,
  }
  return (
    laps.some((lap) => lap.lap === made.lap) &&
    !blindTo.includes(made.code) &&
    !untold.some((u) => u.lap === made.lap && u.cornerId === made.cornerId && (u.codes === 'all' || u.codes.includes(made.code))) &&
    made.size >= (least[made.code] ?? 0)
  )
}

const exact = new Map<string, Set<string>>()
const keyOf = (one: { lap: number; cornerId: string; code: LogCode }): string => `${one.lap} ${one.cornerId} ${one.code}`

/** What the same drive shows, as a root or beside one, in a log without noise at 100 Hz: what a made mistake really became. */
const shownBy = (plan: Plan, seed: number, reference: Referred): Set<string> => {
  const key = `${seed} ${reference}`
  const known = exact.get(key)
  if (known) return known
  const habits = habitsOfAllKinds(plan, seed)
  const { log } = simulateDrive(plan, { laps: LAPS, seed, habits, habitsFrom: reference === 'lap' ? 2 : 1, rate_hz: 100, noise_m: 0 })
  const held = reference === 'plan' ? ({ kind: 'plan', plan } as const) : ({ kind: 'lap', lap: 1 } as const)
  const shown = new Set(analyseLog(plan.circuit, plan.corners, log, held).findings.map(keyOf))
  exact.set(key, shown)
  return shown
}

const runOne = (plan: Plan, kind: Kind, seed: number, reference: Referred, score: Score): void => {
  const analysed = (habits: readonly Habit[], shift: number): { analysis: Analysis; made: MadeMistake[] } => {
    const habitsFrom = reference === 'lap' ? 2 : 1
    const { log, made } = simulateDrive(plan, { laps: LAPS, seed: seed + shift, habits, habitsFrom, ...kind.options })
    const held = reference === 'plan' ? ({ kind: 'plan', plan } as const) : ({ kind: 'lap', lap: 1 } as const)
    return { analysis: analyseLog(plan.circuit, plan.corners, kind.change ? kind.change(log, seed) : log, held), made }
  }
  const { analysis, made } = analysed(habitsOfAllKinds(plan, seed), 0)
  const roots = analysis.findings.filter((f) => f.root)
  const at = (list: readonly { lap: number; cornerId: string; code: LogCode }[], one: { lap: number; cornerId: string }) =>
    list.filter((other) => other.lap === one.lap && other.cornerId === one.cornerId)
  score.made += made.length
  for (const mistake of made) {
    if (!canTell(analysis, reference, mistake)) continue
    const [found] = at(roots, mistake)
    score.tellable++
    const right = found?.code === mistake.code
    if (right) score.hit++
    if (shownBy(plan, seed, reference).has(keyOf(mistake))) {
      score.shown++
      if (right) score.shownHit++
    }
    count(mistake.code, found?.code ?? 'nothing')
  }
  score.roots += roots.length
  for (const root of roots) {
    const there = at(made, root)
    if (there.some((m) => m.code === root.code)) score.right++
    else if (there.length === 0) count('nothing', root.code)
  }
  const clean = analysed([], 5000).analysis
  score.cleanLaps += clean.laps.length - (reference === 'lap' ? 1 : 0)
  score.cleanRoots += clean.findings.filter((f) => f.root).length
}

const [students = '24', only] = process.argv.slice(2)
const plans = [demoPlan({ pace: 0.7 }), demoPlan({ pace: 0.75, school: 'trail' }, 'coupe')]
const rows = kinds
  .filter((kind) => !only || kind.name === only)
  .flatMap((kind) =>
    ((process.argv[4] ? [process.argv[4]] : ['lap', 'plan']) as Referred[]).map((reference) => {
      const score: Score = { made: 0, tellable: 0, hit: 0, shown: 0, shownHit: 0, roots: 0, right: 0, cleanLaps: 0, cleanRoots: 0 }
      for (let seed = 1; seed <= Number(students); seed++) runOne(plans[seed % plans.length], kind, seed, reference, score)
      return {
        log: kind.name,
        reference,
        ...score,
        found: score.hit / Math.max(1, score.tellable),
        foundOfShown: score.shownHit / Math.max(1, score.shown),
        precision: score.right / Math.max(1, score.roots),
        falsePerCleanLap: score.cleanRoots / Math.max(1, score.cleanLaps),
      }
    }),
  )
console.log(JSON.stringify({ students: Number(students), laps: LAPS, rows, confusion }))
