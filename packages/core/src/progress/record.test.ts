import { describe, expect, it } from 'vitest'
import type { MistakeCode, Skill } from '../mistakes/mistakes.ts'
import { type HandOverInput, handOver } from '../words/hand-over.ts'
import { outcomeOf, type Said, stuckRates } from './corrections.ts'
import { differenceOf, shareOf } from './estimate.ts'
import { nextFocus } from './focus.ts'
import { forgetting } from './forgetting.ts'
import { helpedBy } from './group.ts'
import { joinRun, type RunKnown } from './joined.ts'
import type { PassKnown } from './passes.ts'
import { levelAhead, skillStandings } from './skill-levels.ts'
import { skillPicture } from './skill-picture.ts'

const pass = (run: number, lap: number, codes: MistakeCode[] = [], more: Partial<PassKnown> = {}): PassKnown => ({
  cornerId: 'T1',
  run,
  lap,
  date: `2027-04-${String(run).padStart(2, '0')}`,
  pace: 0.6,
  watched: 'log',
  codes,
  off: null,
  ...more,
})

describe('a share of tries', () => {
  it('has Wilson’s interval: wide for few, narrow for many, inside 0 … 1', () => {
    expect(shareOf(8, 10)).toMatchObject({ share: 0.8, low: expect.closeTo(0.541, 3), high: expect.closeTo(0.931, 3) })
    expect(shareOf(3, 3)).toMatchObject({ share: 1, low: expect.closeTo(0.526, 3), high: 1 })
    expect(shareOf(800, 1000).high - shareOf(800, 1000).low).toBeLessThan(0.05)
    expect(shareOf(0, 0)).toMatchObject({ share: null, low: 0, high: 1 })
    expect(() => shareOf(2, 1)).toThrow(RangeError)
    expect(Math.round(100 * shareOf(8, 10).low)).toBe(54)
    expect(Math.round(100 * shareOf(8, 10).high)).toBe(93)
  })

  it('covers the true share in nine of ten draws', () => {
    const choose = (n: number, k: number): number => (k === 0 ? 1 : (choose(n, k - 1) * (n - k + 1)) / k)
    const coverage = [0.2, 0.35, 0.5, 0.7].map((p) =>
      Array.from({ length: 21 }, (_, k) => {
        const { low, high } = shareOf(k, 20)
        return low <= p && p <= high ? choose(20, k) * p ** k * (1 - p) ** (20 - k) : 0
      }).reduce((a, b) => a + b, 0),
    )
    expect(coverage.reduce((a, b) => a + b, 0) / coverage.length).toBeGreaterThan(0.88)
    for (const one of coverage) expect(one).toBeGreaterThan(0.84)
  })

  it('differs by an interval that leaves zero out only for a clear difference', () => {
    expect(differenceOf(shareOf(2, 40), shareOf(20, 40))?.high).toBeLessThan(0)
    expect(differenceOf(shareOf(1, 3), shareOf(2, 3))?.high).toBeGreaterThan(0)
    expect(differenceOf(shareOf(0, 0), shareOf(2, 3))).toBeNull()
  })
})

describe('a correction', () => {
  const said = (lap: number | null, words = 'Wait.'): Said => ({ cornerId: 'T1', code: 'turn-in-early', run: 1, lap, words })

  it('has stuck when the next two passes of that corner are free of it', () => {
    const passes = [pass(1, 1, ['turn-in-early']), pass(1, 2), pass(1, 3, ['apex-missed'])]
    expect(outcomeOf(said(1), passes)).toBe('stuck')
    expect(outcomeOf(said(2), passes)).toBe('open')
    expect(outcomeOf(said(1), [...passes.slice(0, 2), pass(1, 3, ['turn-in-early'])])).toBe('not-yet')
    expect(outcomeOf(said(1), [passes[0], pass(1, 2, ['turn-in-early'])])).toBe('not-yet')
  })

  it('said at the debrief is held against the next run, and only against its own corner', () => {
    const passes = [pass(1, 4, ['turn-in-early']), pass(2, 1), pass(2, 2, ['turn-in-early'], { cornerId: 'T2' }), pass(2, 2)]
    expect(outcomeOf(said(null), passes)).toBe('stuck')
  })

  it('is counted by wording, the surely better one first', () => {
    const passes = [1, 2, 3, 4, 5, 6].flatMap((run) => [
      pass(run, 1, ['turn-in-early']),
      pass(run, 2, run > 4 ? ['turn-in-early'] : []),
      pass(run, 3),
    ])
    const rates = stuckRates(
      [1, 2, 3, 4, 5, 6].map((run) => ({ ...said(1, run <= 3 ? 'Wait.' : 'Touch the cone with the eyes.'), run })),
      passes,
    )
    expect(rates.map((r) => [r.words, r.rate.hits, r.rate.of])).toEqual([
      ['Wait.', 3, 3],
      ['Touch the cone with the eyes.', 1, 3],
    ])
  })
})

describe('what the log shows and what people logged', () => {
  const known: RunKnown = {
    run: 1,
    date: '2027-04-01',
    pace: 0.6,
    findings: [
      { lap: 1, cornerId: 'T1', code: 'turn-in-early', root: true, worth_s: 0.2 },
      { lap: 1, cornerId: 'T1', code: 'apex-early', root: false, worth_s: 0.2 },
      { lap: 2, cornerId: 'T1', code: 'brake-late', root: true, worth_s: 0.1 },
    ],
    observations: [
      { lap: 1, cornerId: 'T1', code: 'apex-early' },
      { lap: 2, cornerId: 'T1', code: 'eyes-near' },
      { lap: 3, cornerId: 'T2', code: 'tense' },
    ],
    heldWell: [{ lap: 3, cornerId: 'T1' }],
    marks: [1, 2].map((lap) => ({ lap, cornerId: 'T1', off: null })),
  }
  const { seen, passes } = joinRun(known)

  it('is one event where both saw it, also where a person named a consequence of the root', () => {
    expect(seen.map((s) => [s.lap, s.code, s.by])).toEqual([
      [1, 'turn-in-early', 'both'],
      [2, 'brake-late', 'log'],
      [2, 'eyes-near', 'hand'],
      [3, 'tense', 'hand'],
    ])
  })

  it('tells of each pass who watched it', () => {
    expect(passes.map((p) => [p.lap, p.cornerId, p.watched, p.codes.length])).toEqual([
      [1, 'T1', 'both', 1],
      [2, 'T1', 'both', 2],
      [3, 'T2', 'seat', 1],
      [3, 'T1', 'seat', 0],
    ])
  })
})

describe('skills', () => {
  const braking = (cornerId: string, offs: number[]): PassKnown[] =>
    offs.map((brake_m, i) => pass(1, i + 1, [], { cornerId, off: { brake_m, turnIn_m: 0, apexInner_m: 0, slowest_mps: 0 } }))
  const standing = (passes: PassKnown[], skill: Skill) => skillStandings(passes).find((s) => s.skill === skill)
  const good = [1, -2, 5, 0, 3, -5, 2, 1]

  it('are shown by 8 of the last 10 laps at as many corners as asked, and just not by 7', () => {
    const shown = standing([...braking('T1', [9, 9, 9, ...good, 8, -9]), ...braking('T2', [...good, 20, 20])], 'braking-point')
    expect(shown).toMatchObject({ shown: true, corners: [{ met: true, rate: { hits: 8, of: 10 } }, { met: true }] })
    expect(standing([...braking('T1', [...good, 8, 9]), ...braking('T2', [...good.slice(1), 7, 20, 20])], 'braking-point')?.shown).toBe(
      false,
    )
  })

  it('are not shown by few laps, however good', () => {
    const few = standing(
      ['T1', 'T2', 'T3'].flatMap((id) => braking(id, good)),
      'braking-point',
    )
    expect(few?.shown).toBe(false)
    expect(few?.corners[0].rate.low).toBeLessThan(0.8)
  })

  it('amount to a level only when a person confirmed them; a safety mistake of late is told', () => {
    expect(levelAhead('first-day', new Set(['braking-point']), [])).toEqual({ next: 'building', missing: ['turn-in'], heldBy: null })
    const both = new Set<Skill>(['braking-point', 'turn-in'])
    expect(levelAhead('first-day', both, [pass(1, 1, ['brake-late'])])).toEqual({ next: 'building', missing: [], heldBy: 'brake-late' })
    expect(levelAhead('building', both, []).missing).toEqual(['apex', 'exit', 'brake-release', 'throttle'])
    expect(levelAhead('steady', both, [])).toMatchObject({ next: null, missing: [] })
    const later = Array.from({ length: 10 }, (_, i) => pass(2, i + 1))
    expect(levelAhead('first-day', new Set(), [pass(1, 1, ['brake-late']), ...later]).heldBy).toBeNull()
  })

  it('over the runs show where they are missed', () => {
    const { cells, skills } = skillPicture([pass(1, 1, ['brake-late']), pass(1, 2), pass(2, 1), pass(2, 2, [], { cornerId: 'T2' })])
    expect(skills).toEqual(['braking-point'])
    expect(cells.map((c) => [c.cornerId, c.runs.map((r) => r.missed.share)])).toEqual([
      ['T1', [0.5, 0]],
      ['T2', [0]],
    ])
  })
})

describe('between days', () => {
  it('the first laps are held against the last ones of the day before', () => {
    const day = (run: number, misses: boolean[]) => misses.map((miss, i) => pass(run, i + 1, miss ? ['apex-missed'] : []))
    const [gap] = forgetting([...day(1, [true, true, false, false]), ...day(8, [true, true, false])])
    expect(gap).toMatchObject({
      days: 7,
      last: { hits: 0, of: 2 },
      first: { hits: 2, of: 2 },
      forgot: { by: 1 },
      backAfter: 2,
      faster: false,
    })
    expect(gap.forgot?.low).toBeLessThan(0.5)
    expect(forgetting(day(1, [true, true]))).toEqual([])
  })
})

describe('the next focus', () => {
  const often = (cornerId: string) =>
    [1, 2, 3].map((run) => ({ cornerId, code: 'apex-missed' as const, run, by: 'log' as const, worth_s: 0.1 }))

  it('prefers what corrections can change, and asks for other words where they never stuck', () => {
    const stuckAt = (cornerId: string) => (cornerId === 'T1' ? shareOf(0, 4) : shareOf(3, 4))
    const focus = nextFocus([...often('T1'), ...often('T2')], stuckAt)
    expect(focus.map((f) => [f.cornerId, f.otherWords])).toEqual([
      ['T2', false],
      ['T1', true],
    ])
  })
})

describe('a change for the group', () => {
  const passes = (at_ms: number, missed: number, of: number) =>
    Array.from({ length: of }, (_, i) => ({ at_ms, cornerId: 'T3', codes: i < missed ? (['turn-in-early'] as const) : [] }))
  const change = { cornerId: 'T3', code: 'turn-in-early' as const, at_ms: 100 }

  it('helped, made it worse, or is open, by the interval of the difference', () => {
    expect(helpedBy([...passes(50, 15, 20), ...passes(150, 2, 20)], change)).toMatchObject({
      verdict: 'helped',
      change: { by: expect.closeTo(-0.65, 6) },
    })
    expect(helpedBy([...passes(50, 1, 20), ...passes(150, 12, 20)], change).verdict).toBe('worse')
    expect(helpedBy([...passes(50, 3, 4), ...passes(150, 2, 4)], change).verdict).toBe('open')
    expect(helpedBy(passes(50, 3, 4), change)).toMatchObject({ verdict: 'open', change: null })
  })
})

describe('a hand-over', () => {
  const known: HandOverInput = {
    name: 'Emil Quillan',
    level: 'building',
    talk: 'quiet',
    goals: 'To be smooth.',
    worries: ['T2'],
    runs: 2,
    laps: 12,
    days: 2,
    fastestPace: 0.75,
    focus: nextFocus([{ cornerId: 'T1', code: 'turn-in-early', run: 1, by: 'log', worth_s: 0.3 }]),
    rates: [
      { code: 'turn-in-early', words: 'Wait.', rate: shareOf(3, 4), open: 0 },
      { code: 'brake-late', words: 'Earlier.', rate: shareOf(0, 3), open: 1 },
    ],
    standings: [],
    gaps: [],
    safety: [{ cornerId: 'T1', code: 'brake-late' }],
    nameOf: (id) => `Corner ${id}`,
  }

  it('lists level, worries, safety, next focus and the wording that works', () => {
    const text = handOver(known)
    for (const part of [
      'prefers quiet coaching',
      'Uneasy at Corner T2',
      'Safety in the last run: braked late at Corner T1',
      'Next: Corner T1',
      '“Wait.” stuck when it was said, 3 of 4',
      '“Earlier.”, 0 of 3',
    ])
      expect(text).toContain(part)
    expect(text.split('\n').length).toBeLessThanOrEqual(12)
  })

  it('tells of forgetting only where it is clear', () => {
    const gap = {
      from: '2027-04-01',
      to: '2027-04-15',
      days: 14,
      last: shareOf(2, 40),
      first: shareOf(20, 40),
      backAfter: 2,
      faster: false,
    }
    const forgot = (first: number) => ({ ...gap, first: shareOf(first, 40), forgot: differenceOf(shareOf(first, 40), gap.last) })
    expect(handOver({ ...known, gaps: [forgot(20)] })).toContain('went from 5% to 50%; recovered after 2 laps.')
    expect(handOver({ ...known, gaps: [forgot(3)] })).toContain('nothing was clearly forgotten (corners with a mistake went from 5% to 8%)')
    expect(handOver({ ...known, gaps: [{ ...forgot(20), faster: true }] })).not.toContain('without driving')
  })

  it('says so when it rests on few laps', () => {
    expect(handOver({ ...known, laps: 3 })).toContain('few laps')
    expect(handOver(known)).not.toContain('few laps')
  })

  it('says the same in German, with the numbers of the English one', () => {
    const [text, german] = [handOver(known), handOver(known, 'de')]
    expect(german.split('\n')).toHaveLength(text.split('\n').length)
    const numbers = (of: string): string[] => of.replace(/T\d+/g, '').match(/\d+/g) ?? []
    expect(numbers(german)).toEqual(numbers(text))
    for (const english of [' the ', ' of ', ' and ', ' runs']) expect(german.replace(/[“„][^“”]*[”“]/g, '')).not.toContain(english)
  })
})
