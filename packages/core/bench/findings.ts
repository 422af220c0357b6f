import { demoPlan } from '../fixtures/load.ts'
import { type Analysis, analyseLog } from '../src/findings/analyse.ts'
import { uncertaintyOf } from '../src/findings/quality.ts'
import type { Log } from '../src/log/log.ts'
import { markOf } from '../src/marks/mark.ts'
import { type LogCode, logCodes } from '../src/mistakes/mistakes.ts'
import type { Plan } from '../src/plan/plan.ts'
import { type ShownMistake, shownIn, steadyLap, unexplained } from '../src/simulate/answer-key.ts'
import { type Drive, type DriveOptions, simulateDrive } from '../src/simulate/drive.ts'
import { usualSize } from '../src/simulate/habits.ts'
import type { Habit, MadeMistake } from '../src/simulate/student.ts'
import { seededRandom } from '../src/units/random.ts'
import { driveByFeel } from './by-feel.ts'
import { driveByPlaces } from './by-places.ts'
import { feltCodes } from './own-car.ts'

/**
 * Logs of made-up students with known mistakes, over habits, rates and noises: the mistakes made compared with those found.
 * Arguments: number of students in a row, the number of the first, the name of one kind of log where not all are wanted, and
 * `lap` or `plan` for one reference. Prints JSON.
 */

/** Drivers that share no way of driving with the made-up students. */
const drivers = { feel: driveByFeel, places: driveByPlaces } as const

/** A kind of log; `plans`: driven by these in turn instead of the usual ones; `local`: on a circuit whose place on the globe is not known. */
type Kind = {
  name: string
  options: Partial<DriveOptions>
  change?: (log: Log, seed: number) => Log
  plans?: readonly Plan[]
  local?: boolean
  /** Driven by another driver than the made-up students, with errors of single fixes and of a slow drift (m). */
  by?: keyof typeof drivers
  errors?: { white_m?: number; drift_m?: number }
}

const without = (log: Log, channels: readonly (keyof Log)[]): Log =>
  Object.fromEntries(Object.entries(log).filter(([name]) => !channels.includes(name as keyof Log))) as Log

/** A clock that stops now and then: fixes with a repeated timestamp are dropped on reading. */
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

const withoutPedals = (log: Log): Log => without(log, ['throttle_pct', 'brake_bar'])
const bare = (log: Log): Log => without(log, ['throttle_pct', 'brake_bar', 'steer_deg', 'gear', 'rpm'])

const positionsAlone = (log: Log): Log => without(bare(log), ['speed_mps'])

const wetPlans = [
  demoPlan({ surface: 'wet', pace: 0.7 }),
  demoPlan({ surface: 'wet', pace: 0.75, school: 'trail' }, 'coupe'),
  demoPlan({ surface: 'wet', pace: 0.65 }, 'roadster'),
]

const kinds: readonly Kind[] = [
  { name: '100 Hz, 0.1 m', options: { rate_hz: 100, noise_m: 0.1 } },
  { name: '25 Hz, 0.2 m', options: { rate_hz: 25, noise_m: 0.2 } },
  { name: '10 Hz, 0.1 m', options: { rate_hz: 10, noise_m: 0.1 } },
  { name: '10 Hz, 0.4 m', options: { rate_hz: 10, noise_m: 0.4 } },
  { name: '20 Hz, 0.8 m', options: { rate_hz: 20, noise_m: 0.8 } },
  { name: '20 Hz, 0.3 m, no pedals', options: { rate_hz: 20, noise_m: 0.3 }, change: withoutPedals },
  {
    name: '20 Hz, 0.3 m, no pedals, speed ± 0.04 m/s',
    options: { rate_hz: 20, noise_m: 0.3, speedNoise_mps: 0.04 },
    change: withoutPedals,
  },
  { name: '10 Hz, 0.2 m, position and speed only', options: { rate_hz: 10, noise_m: 0.2 }, change: bare },
  { name: '10 Hz, 0.2 m, position and speed ± 0.04 m/s only', options: { rate_hz: 10, noise_m: 0.2, speedNoise_mps: 0.04 }, change: bare },
  { name: '10 Hz, 0.3 m, positions alone', options: { rate_hz: 10, noise_m: 0.3 }, change: positionsAlone },
  { name: '25 Hz, 0.3 m, positions alone', options: { rate_hz: 25, noise_m: 0.3 }, change: positionsAlone },
  { name: '1 Hz, 0.3 m, position and speed only', options: { rate_hz: 1, noise_m: 0.3 }, change: bare },
  { name: '20 Hz, 1.0 m', options: { rate_hz: 20, noise_m: 1 } },
  { name: '10 Hz, 0.3 m, drop-outs', options: { rate_hz: 10, noise_m: 0.3, dropOuts: 1.5 } },
  { name: '25 Hz, 0.2 m, stalled clock', options: { rate_hz: 25, noise_m: 0.2 }, change: stalled },
  { name: '25 Hz, 0.2 m, circuit without a place on the globe', options: { rate_hz: 25, noise_m: 0.2 }, local: true },
  {
    name: '25 Hz, 0.2 m, in the wet',
    options: { rate_hz: 25, noise_m: 0.2 },
    plans: [
      demoPlan({ surface: 'wet', pace: 0.7 }),
      demoPlan({ surface: 'wet', pace: 0.8, method: 'wet' }),
      demoPlan({ surface: 'wet', pace: 0.75, school: 'trail' }, 'coupe'),
    ],
  },
  {
    name: '25 Hz, 0.2 m, kart, motorcycle, single-seater',
    options: { rate_hz: 25, noise_m: 0.2 },
    plans: [demoPlan({}, 'kart'), demoPlan({}, 'motorcycle'), demoPlan({}, 'single-seater')],
  },
  {
    name: '25 Hz, 0.2 m, quick, on late and fast lines',
    options: { rate_hz: 25, noise_m: 0.2 },
    plans: [
      demoPlan({ pace: 0.9, method: 'late' }),
      demoPlan({ pace: 0.9, school: 'trail' }, 'roadster'),
      demoPlan({ pace: 0.95, method: 'fast' }),
    ],
  },
  { name: 'by feel, 25 Hz, drift 0.2 m, all channels', options: { rate_hz: 25 }, by: 'feel', errors: { drift_m: 0.2 } },
  {
    name: 'by feel, 100 Hz, 0.05 m and drift 0.1 m, all channels',
    options: { rate_hz: 100 },
    by: 'feel',
    errors: { white_m: 0.05, drift_m: 0.1 },
  },
  {
    name: 'by feel, 25 Hz, drift 0.2 m, all channels, in the wet',
    options: { rate_hz: 25 },
    by: 'feel',
    errors: { drift_m: 0.2 },
    plans: wetPlans,
  },
  { name: 'by feel, 20 Hz, drift 0.8 m, all channels', options: { rate_hz: 20 }, by: 'feel', errors: { drift_m: 0.8 } },
  {
    name: 'by feel, 10 Hz, drift 0.3 m, position and speed ± 0.05 m/s only',
    options: { rate_hz: 10, speedNoise_mps: 0.05 },
    by: 'feel',
    errors: { drift_m: 0.3 },
    change: bare,
  },
  {
    name: 'by feel, 5 Hz, drift 0.3 m, position and speed ± 0.05 m/s only',
    options: { rate_hz: 5, speedNoise_mps: 0.05 },
    by: 'feel',
    errors: { drift_m: 0.3 },
    change: bare,
  },
  {
    name: 'by feel, 10 Hz, 0.1 m, position and speed ± 0.05 m/s only',
    options: { rate_hz: 10, speedNoise_mps: 0.05 },
    by: 'feel',
    errors: { white_m: 0.1 },
    change: bare,
  },
  {
    name: 'by feel, 10 Hz, drift 0.3 m, positions alone',
    options: { rate_hz: 10 },
    by: 'feel',
    errors: { drift_m: 0.3 },
    change: positionsAlone,
  },
  {
    name: 'by feel, 25 Hz, 0.05 m, positions alone',
    options: { rate_hz: 25 },
    by: 'feel',
    errors: { white_m: 0.05 },
    change: positionsAlone,
  },
  {
    name: 'by feel, 10 Hz, drift 0.3 m, positions alone, in the wet',
    options: { rate_hz: 10 },
    by: 'feel',
    errors: { drift_m: 0.3 },
    change: positionsAlone,
    plans: wetPlans,
  },
  {
    name: 'by feel, 1 Hz, drift 0.3 m, position and speed only',
    options: { rate_hz: 1 },
    by: 'feel',
    errors: { drift_m: 0.3 },
    change: bare,
  },
  { name: 'by places, 25 Hz, drift 0.2 m, all channels', options: { rate_hz: 25 }, by: 'places', errors: { drift_m: 0.2 } },
  { name: 'by places, 100 Hz, 0.1 m, all channels', options: { rate_hz: 100 }, by: 'places', errors: { white_m: 0.1 } },
  {
    name: 'by places, 25 Hz, drift 0.2 m, all channels, in the wet',
    options: { rate_hz: 25 },
    by: 'places',
    errors: { drift_m: 0.2 },
    plans: wetPlans,
  },
  {
    name: 'by places, 10 Hz, drift 0.3 m, position and speed ± 0.05 m/s only',
    options: { rate_hz: 10, speedNoise_mps: 0.05 },
    by: 'places',
    errors: { drift_m: 0.3 },
    change: bare,
  },
  {
    name: 'by places, 5 Hz, 0.1 m, position and speed ± 0.05 m/s only',
    options: { rate_hz: 5, speedNoise_mps: 0.05 },
    by: 'places',
    errors: { white_m: 0.1 },
    change: bare,
  },
  {
    name: 'by places, 10 Hz, drift 0.3 m, positions alone',
    options: { rate_hz: 10 },
    by: 'places',
    errors: { drift_m: 0.3 },
    change: positionsAlone,
  },
]

/** What other drivers get wrong, each in a corner of its own. */
const habitsOfOthers = (plan: Plan, seed: number): Habit[] => {
  const random = seededRandom(seed * 17 + 5)
  return plan.corners.flatMap((corner) => {
    const code = feltCodes[Math.floor(random.uniform() * feltCodes.length)]
    return random.uniform() < 0.5 ? [{ cornerId: corner.id, code, probability: 0.6, size: 1 }] : []
  })
}

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
/** Mistakes that are recognised by places across the road: against the reference's, and against the edges. */
const across: readonly LogCode[] = ['apex-missed', 'setup-narrow', 'exit-unused', 'too-much-road', 'wrong-lane']
const atEdge: readonly LogCode[] = ['exit-wide', 'limit-crossed']
/** Mistakes that are recognised by times. */
const inSeconds: readonly LogCode[] = [
  'brake-slow-build',
  'brake-hold',
  'brake-in-turn',
  'no-trail',
  'coast',
  'throttle-late',
  'steer-pinched',
]

type Score = {
  meant: number
  asMeant: number
  made: number
  tellable: number
  hit: number
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

/** Mistakes that a pass shows by their definitions, and whether the intended one is among them. */
type Pass = { lap: number; cornerId: string; meant: MadeMistake | undefined; shown: ShownMistake[]; roots: LogCode[] }

/** The intended mistake, where the drive shows it. */
const label = ({ meant, roots }: Pass): LogCode | null => (meant && roots.includes(meant.code) ? meant.code : null)

/** True if a log says that it cannot tell a code in a pass. */
const isUntold = ({ undecidable, undecidableCodes }: Analysis, { lap, cornerId }: Pass, code: LogCode): boolean =>
  undecidableCodes.includes(code) ||
  undecidable.some((u) => u.lap === lap && u.cornerId === cornerId && (u.codes === 'all' || u.codes.includes(code)))

/** Codes that count as the root in a log that cannot tell some codes: a consequence of an undecidable mistake is one. */
const rootsTold = (analysis: Analysis, pass: Pass): LogCode[] =>
  unexplained(pass.shown.filter((one) => !isUntold(analysis, pass, one.code))).map((one) => one.code)

/** True if a log can tell a mistake: its pass was logged, its channels are there, and it is larger than the noise. */
const canTell = (plan: Plan, analysis: Analysis, reference: Referred, pass: Pass, code: LogCode): boolean => {
  const k = plan.corners.findIndex((corner) => corner.id === pass.cornerId)
  const { turnIn, apex, exit } = plan.turnings[k]
  const away_s = (plan.profile.time_s[exit ?? apex] - plan.profile.time_s[turnIn] + plan.profile.lapTime_s) % plan.profile.lapTime_s
  const { laps, quality } = analysis
  const doubt = uncertaintyOf(quality, reference)
  const widening = (): number => {
    if (atEdge.includes(code)) return doubt.edge_m(away_s)
    if (across.includes(code)) return doubt.offset_m(away_s)
    const { line, profile, circuit } = plan
    const along_m = doubt.along_m(profile.speed_mps[turnIn])
    if (code === 'turn-in-early' || code === 'turn-in-late') {
      const level = Math.abs(line.kappa_1pm[turnIn]) + (code === 'turn-in-late' ? doubt.bite(1) : -doubt.bite(1))
      let i = turnIn
      for (const step = code === 'turn-in-late' ? 1 : -1; step * (level - Math.abs(line.kappa_1pm[i])) > 0 && Math.abs(i - turnIn) < 25; )
        i += step
      return Math.hypot(along_m, Math.abs(i - turnIn) * circuit.step_m)
    }
    if (code === 'brake-early' || code === 'brake-late') return along_m
    if (code === 'throttle-dip') return doubt.throttle
    if (inSeconds.includes(code)) return Math.hypot(doubt.time_s, along_m / profile.speed_mps[turnIn])
    return 0
  }
  const { value, threshold } = pass.shown.find((one) => one.code === code) ?? { value: 0, threshold: 0 }
  return laps.some((lap) => lap.lap === pass.lap) && !isUntold(analysis, pass, code) && value >= threshold + widening()
}

const keys = new Map<Plan, Map<string, Pass[]>>()

/** All passes of a drive with what they show; the same for every kind of log of one plan. */
const keyOf = (plan: Plan, seed: string, reference: Referred, { driven, made }: Drive): Pass[] => {
  const ofPlan = keys.get(plan) ?? new Map<string, Pass[]>()
  keys.set(plan, ofPlan)
  const known = ofPlan.get(`${seed} ${reference}`)
  if (known) return known
  const held = reference === 'plan' ? steadyLap(plan) : driven[0]
  const passes = driven.flatMap((lap, j) =>
    plan.corners.map((corner): Pass => {
      const shown = reference === 'lap' && j === 0 ? [] : shownIn(plan, corner.id, lap, held)
      const meant = made.find((one) => one.lap === j + 1 && one.cornerId === corner.id)
      return { lap: j + 1, cornerId: corner.id, meant, shown, roots: unexplained(shown).map((one) => one.code) }
    }),
  )
  ofPlan.set(`${seed} ${reference}`, passes)
  return passes
}

/** A drive of one kind of log, by a made-up student or by another driver. */
const driveOf = (
  plan: Plan,
  { options, by, errors }: Kind,
  of: { laps: number; seed: number; habits: readonly Habit[]; habitsFrom: number },
): Drive => {
  if (!by) return simulateDrive(plan, { ...of, ...options })
  return drivers[by](plan, { ...of, ...options, ...errors, rate_hz: options.rate_hz ?? 10 })
}

const runOne = (plan: Plan, kind: Kind, seed: number, reference: Referred, score: Score): void => {
  const analysed = (habits: readonly Habit[], shift: number): { analysis: Analysis; drive: Drive } => {
    const habitsFrom = reference === 'lap' ? 2 : 1
    const drive = driveOf(plan, kind, { laps: LAPS, seed: seed + shift, habits, habitsFrom })
    const held = reference === 'plan' ? ({ kind: 'plan', plan } as const) : ({ kind: 'lap', lap: 1 } as const)
    const { origin: _, ...local } = plan.circuit
    const circuit = kind.local ? local : plan.circuit
    return { analysis: analyseLog(circuit, plan.corners, kind.change ? kind.change(drive.log, seed) : drive.log, held), drive }
  }
  const { analysis, drive } = analysed((kind.by ? habitsOfOthers : habitsOfAllKinds)(plan, seed), 0)
  const roots = analysis.findings.filter((f) => f.root)
  const key = `${kind.by ?? ''} ${seed}`
  for (const pass of keyOf(plan, key, reference, drive)) {
    const root = roots.find((f) => f.lap === pass.lap && f.cornerId === pass.cornerId)
    const code = label(pass)
    if (pass.meant) score.meant++
    if (code) score.made++
    if (root) score.roots++
    if (root && rootsTold(analysis, pass).includes(root.code)) score.right++
    else if (root && !pass.meant) count('nothing', root.code)
    if (pass.meant && root?.code === pass.meant.code) score.asMeant++
    if (!code || !canTell(plan, analysis, reference, pass, code)) continue
    score.tellable++
    if (root?.code === code) score.hit++
    count(code, root?.code ?? 'nothing')
  }
  const clean = analysed([], 5000)
  score.cleanLaps += clean.analysis.laps.length - (reference === 'lap' ? 1 : 0)
  const shown = keyOf(plan, `clean ${key}`, reference, clean.drive)
  // Who drives otherwise than the plan differs from it without a mistake that was meant.
  score.cleanRoots += clean.analysis.findings.filter((f) => {
    const pass = shown.find((p) => p.lap === f.lap && p.cornerId === f.cornerId)
    return f.root && !(pass && rootsTold(clean.analysis, pass).includes(f.code))
  }).length
}

const [students = '24', first = '1', only, against] = process.argv.slice(2)
const plans = [demoPlan({ pace: 0.7 }), demoPlan({ pace: 0.75, school: 'trail' }, 'coupe'), demoPlan({ pace: 0.7, method: 'compact' })]
const rows = kinds
  .filter((kind) => !only || kind.name === only)
  .flatMap((kind) =>
    ((against ? [against] : ['lap', 'plan']) as Referred[]).map((reference) => {
      const score: Score = { meant: 0, asMeant: 0, made: 0, tellable: 0, hit: 0, roots: 0, right: 0, cleanLaps: 0, cleanRoots: 0 }
      for (let seed = Number(first); seed < Number(first) + Number(students); seed++)
        runOne((kind.plans ?? plans)[seed % plans.length], kind, seed, reference, score)
      return {
        log: kind.name,
        reference,
        ...score,
        found: score.hit / Math.max(1, score.tellable),
        foundAsMeant: score.asMeant / Math.max(1, score.meant),
        precision: score.right / Math.max(1, score.roots),
        falsePerCleanLap: score.cleanRoots / Math.max(1, score.cleanLaps),
      }
    }),
  )
console.log(JSON.stringify({ students: Number(students), laps: LAPS, rows, confusion }))
