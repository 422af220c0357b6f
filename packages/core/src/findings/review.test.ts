import { describe, expect, it } from 'vitest'
import { evidenceFor } from '../../fixtures/evidence.ts'
import { demoPlan } from '../../fixtures/load.ts'
import { signedDistance } from '../circuit/station.ts'
import { type LapTrace, planTrace } from '../drive/lap-trace.ts'
import type { Evidenced } from '../mistakes/evidence.ts'
import { type LogCode, logCodes } from '../mistakes/mistakes.ts'
import { innerDistance } from '../path/turning.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { unitSystems } from '../units/format.ts'
import { languages } from '../units/language.ts'
import { adviceText, evidenceText, praiseText, readerWords } from '../words/words.ts'
import {
  type Advice,
  consistencyOf,
  type PassMarks,
  phaseNames,
  type RootFinding,
  selectAdvice,
  selectPraise,
  timeToFind,
} from './advice.ts'
import { analyseLog } from './analyse.ts'
import { idealLap } from './theoretical-best.ts'

const plan = demoPlan()
const { circuit, corners } = plan
const own = planTrace(plan)

/** The plan's lap with stretches that take longer, by stations. */
const slower = (stretches: readonly { from: number; to: number; by_s: number }[], faster_mps = 0): LapTrace => {
  const lost = (i: number): number =>
    stretches.reduce((sum, { from, to, by_s }) => sum + by_s * Math.min(1, Math.max(0, (i - from) / (to - from))), 0)
  return {
    ...own,
    time_s: own.time_s.map((t, i) => t + lost(i)),
    speed_mps: own.speed_mps.map((v) => v + faster_mps),
    lapTime_s: own.lapTime_s + lost(circuit.count),
  }
}

describe('theoretical best lap', () => {
  const begins = [400, 1000, 1700, 2400]
  const laps = [
    { lap: 1, trace: slower([{ from: 10, to: 150, by_s: 0.4 }]) },
    { lap: 2, trace: slower([{ from: 300, to: 450, by_s: 0.7 }]) },
    {
      lap: 3,
      trace: slower([
        { from: 900, to: 1100, by_s: 0.3 },
        { from: 1250, to: 1500, by_s: 0.2 },
      ]),
    },
  ]

  it('takes each piece from the lap that did it best', () => {
    const theoreticalBest = idealLap(circuit, laps, begins)
    expect(theoreticalBest?.best_s).toBeCloseTo(own.lapTime_s + 0.4, 9)
    expect(theoreticalBest?.ideal_s).toBeCloseTo(own.lapTime_s, 9)
    expect(theoreticalBest?.pieces.reduce((sum, p) => sum + p.time_s, 0)).toBeCloseTo(theoreticalBest?.ideal_s ?? 0, 9)
    expect(theoreticalBest?.pieces[0].lap).not.toBe(1)
    expect(theoreticalBest?.pieces.at(-1)?.to_m).toBeCloseTo(circuit.length_m, 6)
  })

  it('never joins pieces that differ in speed or in place', () => {
    const [first, ...others] = laps
    const apart = [first, ...others.map(({ lap, trace }) => ({ lap, trace: { ...trace, speed_mps: trace.speed_mps.map((v) => v + lap) } }))]
    expect(idealLap(circuit, apart, begins)?.ideal_s).toBeCloseTo(own.lapTime_s + 0.4, 9)
    const wide = [
      first,
      ...others.map(({ lap, trace }) => ({ lap, trace: { ...trace, offset_m: trace.offset_m.map((n) => n + 2 * lap) } })),
    ]
    expect(idealLap(circuit, wide, begins)?.ideal_s).toBeCloseTo(own.lapTime_s + 0.4, 9)
  })

  it('is the least of all ways to put three laps together that join (brute force)', () => {
    const uneven = laps.map(({ lap, trace }, k) => ({
      lap,
      trace: { ...trace, speed_mps: trace.speed_mps.map((v, i) => v + (Math.floor(i / 300) % 3 === k ? 1.5 : 0)) },
    }))
    const joins = [0, ...begins.map((m) => Math.round(m / circuit.step_m)), circuit.count]
    const at = (t: LapTrace, i: number): number => (i === circuit.count ? t.lapTime_s : t.time_s[i])
    let min = Number.POSITIVE_INFINITY
    for (let code = 0; code < 3 ** 5; code++) {
      const pick = Array.from({ length: 5 }, (_, k) => uneven[Math.floor(code / 3 ** k) % 3].trace)
      const joined = pick.every(
        (t, k) => k === 0 || t === pick[k - 1] || Math.abs(t.speed_mps[joins[k]] - pick[k - 1].speed_mps[joins[k]]) < 0.8,
      )
      if (joined)
        min = Math.min(
          min,
          pick.reduce((sum, t, k) => sum + at(t, joins[k + 1]) - at(t, joins[k]), 0),
        )
    }
    expect(idealLap(circuit, uneven, begins)?.ideal_s).toBeCloseTo(min, 9)
  })

  it('is nothing with one lap, and leaves laps with a silence out', () => {
    expect(idealLap(circuit, laps.slice(0, 1), begins)).toBeNull()
    const holed = { lap: 4, trace: { ...own, known: own.known.map((k, i) => (i === 70 ? 0 : k)) } }
    expect(idealLap(circuit, [laps[0], holed], begins)).toBeNull()
  })
})

const root = (
  change: Partial<Omit<RootFinding, 'code' | 'evidence'>>,
  found = evidenceFor('apex-missed', { further_m: 1.8 }) as Evidenced<LogCode>,
): RootFinding => ({
  lap: 1,
  cornerId: 'T1',
  root: true,
  lossTime_s: 0.2,
  certainty: 0.95,
  ...found,
  ...change,
})
const limits = { dry: true }

describe('what to say', () => {
  it('puts safety first, then what costs most, one thing a corner and three in all', () => {
    const seen = [
      root({ cornerId: 'T1', lossTime_s: 0.9 }),
      root({ cornerId: 'T1', lossTime_s: 0.1 }, evidenceFor('throttle-late', { later_s: 0.6 })),
      root({ cornerId: 'T2', lossTime_s: 0.3 }),
      root({ cornerId: 'T3', lossTime_s: 0.1 }),
      ...[1, 2].map((lap) => root({ lap, cornerId: 'T4', lossTime_s: -0.1 }, evidenceFor('brake-late', { later_m: 12, speed_mps: 40 }))),
    ]
    const said = selectAdvice(seen, () => 2, limits)
    expect(said.map((a) => a.cornerId)).toEqual(['T4', 'T1', 'T2'])
    expect(said[0].reason).toBe('safety')
    expect(said[1]).toMatchObject({ code: 'apex-missed', laps: [1], passes: 2 })
    // The most time stands on one card.
    expect(said.map((a) => a.reason)).toEqual(['safety', 'most-time', 'time'])
  })

  it('leaves gears out while another mistake is worth a word', () => {
    const gears = [1, 2].map((lap) =>
      root({ lap, cornerId: 'T1', lossTime_s: 0.5 }, evidenceFor('wrong-gear', { gear: 3, referenceGear: 2 })),
    )
    const other = [1, 2].map((lap) => root({ lap, cornerId: 'T2', lossTime_s: 0.1 }))
    expect(selectAdvice([...gears, ...other], () => 2, limits).map((a) => a.cornerId)).toEqual(['T2'])
    expect(selectAdvice(gears, () => 2, limits).map((a) => a.code)).toEqual(['wrong-gear'])
  })

  it('shares out the time to find so that it adds up', () => {
    const pass = (lap: number, cornerId: string, lost_s: number) => ({ lap, cornerId, phases_s: [lost_s, 0, 0, 0] }) as unknown as PassMarks
    const shares = timeToFind([pass(1, 'T1', 0.4), pass(2, 'T1', 0), pass(1, 'T2', 0.1), pass(2, 'T2', 0.3), pass(1, 'T3', 9)])
    expect(shares).toEqual([
      { cornerId: 'T1', time_s: 0.2, share: expect.closeTo(2 / 3, 9) },
      { cornerId: 'T2', time_s: expect.closeTo(0.1, 9), share: expect.closeTo(1 / 3, 9) },
    ])
  })

  it('never asks for more than a car length a lap, nor for a later brake without grace or in the wet', () => {
    const early = [1, 2, 3].map((lap) => root({ lap }, evidenceFor('brake-early', { later_m: -30, speed_mps: 40 })))
    expect(adviceText(selectAdvice(early, () => 3, limits)[0]).say).toContain('a car length a lap')
    // The plan's own mark leaves too little: the brake may move by what leaves half a second, and no further.
    const [less] = selectAdvice(early, () => 3, { dry: true, grace_s: { T1: 0.1 } })
    expect(adviceText(less).say).toContain('up to 3 in all')
    expect(adviceText(selectAdvice(early, () => 3, limits)[0]).say).toContain('up to 6 in all')
    const slight = [1, 2, 3].map((lap) => root({ lap }, evidenceFor('brake-early', { later_m: -17, speed_mps: 40 })))
    expect(selectAdvice(slight, () => 3, { dry: true, grace_s: { T1: 0.1 } })).toEqual([])
    expect(selectAdvice(early, () => 3, { dry: false })).toEqual([])
  })

  it('weighs a thing that comes back more than an accident, and ignores consequences', () => {
    const seen = [
      root({ cornerId: 'T5', lap: 2, lossTime_s: 0.5 }),
      ...[1, 2, 3, 4].map((lap) => root({ cornerId: 'T6', lap, lossTime_s: 0.3 })),
      root({ cornerId: 'T7', root: false, lossTime_s: 3 }),
    ]
    expect(selectAdvice(seen, () => 4, limits).map((a) => a.cornerId)).toEqual(['T6', 'T5'])
  })

  it.each(languages.flatMap((language) => unitSystems.map((units) => ({ language, units }))))(
    'has words for every code in $language and $units, with a cue and something for the next run, never about the person',
    ({ language, units }) => {
      const words = readerWords(language, units)
      for (const code of logCodes) {
        const found = evidenceFor(code, { later_m: -30, slowest_mps: 20, referenceSlowest_mps: 25, referenceGear: 3 })
        const said = adviceText({ code, goal: found.evidence } as Pick<Advice, 'code' | 'goal'>, words)
        for (const text of [said.say, said.cue, said.next, evidenceText(found, 'full', words), words.mistakes[code].name]) {
          expect(text.length).toBeGreaterThan(3)
          expect(text).not.toMatch(/NaN|undefined/)
          if (language === 'en') expect(text).not.toMatch(/\b(he|she|they)\b/)
          if (units === 'imperial') expect(text).not.toMatch(/\d (m|km\/h)\b/)
          if (language === 'de') expect(text).not.toMatch(/\d\.\d|\b(the|you|man)\b/)
        }
      }
    },
  )

  it('is in the reader’s units and decimal sign', () => {
    const late = evidenceFor('turn-in-late', { later_m: 10, allowed_m: 6 })
    expect(evidenceText(late, 'full', readerWords('en', 'imperial'))).toBe('turned in 33 ft late (up to 20 ft is fine)')
    const missed = evidenceFor('apex-missed', { further_m: 1.25 })
    expect(evidenceText(missed, 'short', readerWords('de', 'metric'))).toBe('1,3 m weiter außen am Scheitel vorbei als geplant')
    const { code, evidence: goal } = evidenceFor('brake-over', { slowest_mps: 20, referenceSlowest_mps: 25 })
    expect(adviceText({ code, goal }, readerWords('de', 'imperial')).say).toContain('10 mph')
  })
})

describe('what held', () => {
  const pass = (lap: number, cornerId: string, brake_m: number | null): PassMarks => ({
    lap,
    cornerId,
    brake_m,
    release_m: null,
    turnIn_m: 300 + lap * 9,
    apex_m: 360,
    exit_m: null,
    throttle_m: null,
    slowest_mps: 20,
    off: null,
    phases_s: [0, 0, 0, 0],
  })
  const passes = [1, 2, 3, 4, 5].flatMap((lap) => [
    pass(lap, 'T1', 100 + lap * 0.5),
    pass(lap, 'T2', 500 + 20 * lap),
    pass(lap, 'T3', null),
  ])

  it('names first what went away, then what was steady, with numbers', () => {
    const held = selectPraise([root({ cornerId: 'T3', lap: 1 }), root({ cornerId: 'T3', lap: 2 })], passes)
    expect(praiseText(held[0])).toBe('Missed the apex up to lap 2, not once since.')
    expect(praiseText(held[0], readerWords('de'))).toContain('bis Runde 2')
    expect(held[1]).toMatchObject({ cornerId: 'T1' })
    expect(praiseText(held[1])).toMatch(/^Braked within \d m of the same spot on 5 laps/)
  })

  it('tells how alike passes are from three of them on', () => {
    expect(consistencyOf(passes).find((c) => c.cornerId === 'T2')?.brake_m).toBeCloseTo(1.4826 * 20, 6)
    expect(consistencyOf(passes.slice(0, 6)).find((c) => c.cornerId === 'T1')?.brake_m).toBeNull()
  })
})

describe('a run analysed', () => {
  const habits = [{ cornerId: 'T1', code: 'brake-early' as const, probability: 1, size: 40 }]
  const { log } = simulateDrive(plan, { laps: 4, seed: 8, habits })
  const analysis = analyseLog(circuit, corners, log, { kind: 'plan', plan })

  it('measures every pass, and its phases add up to what the laps lost', () => {
    expect(analysis.passes).toHaveLength(4 * corners.length)
    for (const [j, lap] of analysis.laps.entries()) {
      const sum = analysis.passes.filter((p) => p.lap === lap.lap).reduce((total, p) => total + p.phases_s.reduce((a, b) => a + b, 0), 0)
      expect(sum).toBeCloseTo(analysis.traces[j].lapTime_s - analysis.reference.lapTime_s, 6)
    }
    expect(phaseNames).toHaveLength(4)
  })

  it('says of every pass how near the edges, how tight and where slowest it was', () => {
    for (const pass of analysis.passes) {
      const k = corners.findIndex((c) => c.id === pass.cornerId)
      const { shape } = pass
      if (!shape) throw new Error('no shape')
      // Clean passes keep near what the plan has: half a metre off the inner edge, its radius, its slowest point.
      const inner_m =
        innerDistance(circuit, corners[k], plan.line.offset_m[plan.turnings[k].apex], plan.turnings[k].apex) - plan.vehicle.width_m / 2
      expect(Math.abs(shape.apexInner_m - inner_m)).toBeLessThan(1)
      expect(shape.radius_m).toBeGreaterThan(8)
      const slowest = plan.marks.find((m) => m.cornerId === pass.cornerId && m.kind === 'slowest')
      if (slowest && pass.cornerId !== 'T1')
        expect(Math.abs(signedDistance(slowest.station_m, shape.slowest_m, circuit.length_m))).toBeLessThan(80)
      for (const { to } of shape.shifts) expect(to).toBeGreaterThan(0)
    }
    expect(analysis.passes.flatMap((p) => p.shape?.shifts ?? []).length).toBeGreaterThan(4)
  })

  it('loses the time of an early brake before the apex', () => {
    const first = analysis.passes.filter((p) => p.cornerId === 'T1')
    for (const { phases_s } of first) expect(phases_s[0]).toBeGreaterThan(0.3)
  })

  it('has a theoretical best lap, no slower than its best lap', () => {
    expect(analysis.theoreticalBest?.ideal_s).toBeLessThanOrEqual(analysis.theoreticalBest?.best_s ?? 0)
    expect(analysis.theoreticalBest?.ideal_s).toBeGreaterThan(plan.profile.lapTime_s * 0.97)
  })

  it('says the brake first', () => {
    const said = selectAdvice(analysis.findings, (id) => analysis.passes.filter((p) => p.cornerId === id).length, { dry: true })
    expect(said[0]).toMatchObject({ cornerId: 'T1', code: 'brake-early', passes: 4 })
    expect(said[0].laps).toHaveLength(4)
  })
})
