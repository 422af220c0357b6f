import { describe, expect, it } from 'vitest'
import { cornerOf, demoPlan } from '../../fixtures/load.ts'
import type { Circuit } from '../circuit/circuit.ts'
import { planTrace } from '../drive/lap-trace.ts'
import { canExplain, leadsTo, logCodes, mistakeCodes } from '../mistakes/mistakes.ts'
import type { Plan } from '../plan/plan.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { habitsOf } from '../simulate/habits.ts'
import type { Habit } from '../simulate/student.ts'
import { evidenceText } from '../words/words.ts'
import { type Analysis, analyseLog } from './analyse.ts'
import { timeBetween } from './phases.ts'

const plan = demoPlan()
const { circuit, corners } = plan
const drive = (habits: readonly Habit[], laps = 2, seed = 3) => simulateDrive(plan, { laps, seed, habits })
const always = (cornerId: string, code: Habit['code'], size: number): Habit => ({ cornerId, code, probability: 1, size })
const againstPlan = (habits: readonly Habit[]): Analysis => analyseLog(circuit, corners, drive(habits).log, { kind: 'plan', plan })
const codesAt = (analysis: Analysis, cornerId: string): string[] => [
  ...new Set(analysis.findings.filter((f) => f.cornerId === cornerId && f.root).map((f) => f.code)),
]

// Sizes well over each threshold, and about half of it.
const cases: [Habit['code'], string, number, number][] = [
  ['brake-early', 'T1', 34, 7],
  ['brake-late', 'T1', 24, 5],
  ['brake-over', 'T4', 0.13, 0.02],
  ['turn-in-early', 'T1', 12, 1.5],
  ['apex-missed', 'T6', 2.2, 0.4],
  ['exit-wide', 'T4', 2.4, 0.05],
]

describe('mistakes in a log against the plan', () => {
  it.each(cases)('%s is found in %s when it is there', (code, cornerId, size) => {
    const analysis = againstPlan([always(cornerId, code, size)])
    expect(codesAt(analysis, cornerId)).toContain(code)
    const finding = analysis.findings.find((f) => f.cornerId === cornerId && f.code === code)
    expect(Object.values(finding?.evidence ?? {}).length).toBeGreaterThan(1)
    expect(finding && evidenceText(finding)).toMatch(/\d/)
  })

  it.each(cases)('%s is not found in %s when it is within bounds', (code, cornerId, _size, small) => {
    expect(codesAt(againstPlan([always(cornerId, code, small)]), cornerId)).not.toContain(code)
  })

  it('are few on clean laps', () => {
    const analysis = analyseLog(circuit, corners, drive([], 8, 12).log, { kind: 'plan', plan })
    expect(analysis.laps).toHaveLength(8)
    expect(analysis.findings.filter((f) => f.root).length / 8).toBeLessThanOrEqual(0.5)
  })

  const others: [string, Plan][] = [
    ['in the wet', demoPlan({ surface: 'wet', pace: 0.7 })],
    ['in the wet on a line for it', demoPlan({ surface: 'wet', method: 'wet' })],
    ['on a late line', demoPlan({ method: 'late' })],
    ['in a kart', demoPlan({}, 'kart')],
    ['on a motorcycle', demoPlan({}, 'motorcycle')],
    ['at full pace', demoPlan({ pace: 1, method: 'fast' })],
    ['in a coupe off the brake late', demoPlan({ pace: 0.9, school: 'trail' }, 'coupe')],
  ]
  it.each(others)('are few on clean laps %s', (_, other) => {
    const { log } = simulateDrive(other, { laps: 3, seed: 5003, rate_hz: 25, noise_m: 0.1 })
    const { findings, laps } = analyseLog(other.circuit, other.corners, log, { kind: 'plan', plan: other })
    expect(findings.filter((f) => f.root).length / laps.length).toBeLessThanOrEqual(0.34)
  })

  it('tell nothing of edges that nobody measured, and the rest as before', () => {
    const narrow = { ...circuit, widthLeft_m: circuit.widthLeft_m.map(() => 5), widthRight_m: circuit.widthRight_m.map(() => 5) }
    const { log } = drive([always('T1', 'brake-early', 40)], 3)
    const edges = (circuit: Circuit): string[] =>
      analyseLog(circuit, corners, log, { kind: 'lap', lap: 2 })
        .findings.filter((f) => ['exit-wide', 'limit-crossed'].includes(f.code))
        .map((f) => f.code)
    // A road that is taken for narrower than it is makes mistakes out of nothing.
    expect(edges(narrow).length).toBeGreaterThan(0)
    expect(edges({ ...narrow, widthAssumed: true })).toEqual([])
    const early = analyseLog({ ...narrow, widthAssumed: true }, corners, log, { kind: 'plan', plan }).findings.filter(
      (f) => f.root && f.code === 'brake-early',
    )
    expect(early.length).toBeGreaterThan(0)
  })

  it('are few on clean laps of a circuit whose place on the globe is not known', () => {
    const { origin: _, ...local } = circuit
    const { log } = simulateDrive(plan, { laps: 4, seed: 6, rate_hz: 25, noise_m: 0.2 })
    for (const reference of [{ kind: 'plan', plan } as const, { kind: 'lap', lap: 1 } as const]) {
      const { findings, quality } = analyseLog(local, corners, log, reference)
      expect(findings.filter((f) => f.root)).toEqual([])
      expect(quality.positionUncertainty_m).toBeGreaterThan(0)
      expect(quality.positionUncertainty_m).toBeLessThan(0.4)
    }
  })

  it('are mostly the ones that were made, over many students (seeds 1 to 10)', () => {
    let hit = 0
    let made = 0
    let found = 0
    for (let seed = 1; seed <= 10; seed++) {
      const run = simulateDrive(plan, { laps: 4, seed, habits: habitsOf(seed, plan, 0.2) })
      const roots = analyseLog(circuit, corners, run.log, { kind: 'plan', plan }).findings.filter((f) => f.root)
      made += run.made.length
      found += roots.length
      hit += run.made.filter((m) => roots.some((f) => f.lap === m.lap && f.cornerId === m.cornerId && f.code === m.code)).length
    }
    expect(made).toBeGreaterThan(40)
    expect(hit / made).toBeGreaterThan(0.7)
    expect(hit / found).toBeGreaterThan(0.7)
  })
})

describe('mistakes against a lap of the same log', () => {
  it('are those that the lap itself does not have', () => {
    const run = simulateDrive(plan, { laps: 3, seed: 9, habits: [{ cornerId: 'T6', code: 'apex-missed', probability: 0.5, size: 2.4 }] })
    const reference = [1, 2, 3].find((lap) => !run.made.some((m) => m.lap === lap)) ?? 0
    expect(reference).toBe(1)
    expect(run.made.length).toBeGreaterThan(0)
    const analysis = analyseLog(circuit, corners, run.log, { kind: 'lap', lap: reference })
    expect(analysis.findings.every((f) => f.lap !== reference)).toBe(true)
    for (const mistake of run.made.filter((m) => m.lap !== reference))
      expect(analysis.findings.some((f) => f.lap === mistake.lap && f.cornerId === 'T6' && f.code === 'apex-missed')).toBe(true)
  })

  it('take the school of braking from that lap', () => {
    const slow = demoPlan({ pace: 0.7 })
    const { log } = simulateDrive(slow, { laps: 3, seed: 18, habits: [always('T3', 'brake-in-turn', 0.75)], habitsFrom: 2, rate_hz: 25 })
    const analysis = analyseLog(circuit, corners, log, { kind: 'lap', lap: 1 })
    expect(codesAt(analysis, 'T3')).toEqual(['brake-in-turn'])
    const trailed = demoPlan({ pace: 0.75, school: 'trail' }, 'coupe')
    const kept = simulateDrive(trailed, { laps: 3, seed: 4, habits: [always('T1', 'no-trail', 0.55)], habitsFrom: 2, rate_hz: 25 })
    expect(codesAt(analyseLog(circuit, corners, kept.log, { kind: 'lap', lap: 1 }), 'T1')).toEqual(['no-trail'])
  })

  it('need that lap to exist', () => {
    expect(() => analyseLog(circuit, corners, drive([]).log, { kind: 'lap', lap: 9 })).toThrow(
      expect.objectContaining({ code: 'reference-lap-missing', data: { lap: 9, known: '1, 2' } }),
    )
  })
})

describe('logs with less in them', () => {
  it('still show a late apex and a slow corner from place and speed alone', () => {
    const { log } = drive([always('T6', 'apex-missed', 2.4), always('T4', 'brake-over', 0.15)])
    const bare = { time_s: log.time_s, lat_deg: log.lat_deg, lon_deg: log.lon_deg, ele_m: log.ele_m }
    const analysis = analyseLog(circuit, corners, bare, { kind: 'plan', plan })
    expect(analysis.quality.pedals).toBe(false)
    expect(codesAt(analysis, 'T6')).toContain('apex-missed')
    expect(codesAt(analysis, 'T4')).toContain('brake-over')
  })
})

describe('roots and times', () => {
  it('fold consequences under the most upstream cause', () => {
    const analysis = againstPlan([always('T4', 'turn-in-early', 14), always('T4', 'exit-wide', 2.6)])
    const folded = analysis.findings.filter((f) => f.cornerId === 'T4' && f.code === 'exit-wide')
    expect(folded.length).toBeGreaterThan(0)
    expect(folded.every((f) => !f.root && f.because === 'turn-in-early')).toBe(true)
  })

  it('have links without circles between known codes', () => {
    for (const code of mistakeCodes) expect(canExplain(code, code)).toBe(false)
    for (const targets of Object.values(leadsTo)) for (const target of targets ?? []) expect(mistakeCodes).toContain(target)
    for (const code of logCodes) expect(mistakeCodes).toContain(code)
  })

  it('add up: the stretches of a lap take the lap time', () => {
    const trace = planTrace(plan)
    const places = [100, 900, 2000, 3300]
    const sum = places.reduce((total, from, k) => total + timeBetween(circuit, trace, from, places[(k + 1) % places.length]), 0)
    expect(sum).toBeCloseTo(plan.profile.lapTime_s, 6)
  })

  it('price braking early at about the time it costs', () => {
    const analysis = againstPlan([always('T1', 'brake-early', 40)])
    const finding = analysis.findings.find((f) => f.code === 'brake-early' && f.cornerId === cornerOf(plan, 'T1').id)
    expect(finding?.lossTime_s).toBeGreaterThan(0.2)
    expect(finding?.lossTime_s).toBeLessThan(2.5)
  })
})
