import { readFileSync } from 'node:fs'
import { type DayPlan, dayPlanSchema } from '@ochote/contract'
import { buildCircuit, coneSchemes, makePlan, makeVenue, markOf, readCircuit, schemeOf, type Vehicle } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { staleBecause } from '../../data/cones/use-cone-set.ts'
import { cornerInWords } from '../../shared/corner-card/corner-words.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { type BriefSource, briefPages, inOrder, pagesFor, strayPages } from './brief-pages.ts'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'Ostrel Mere'))
const car = (JSON.parse(demo('vehicles.json')) as Vehicle[])[0]
const day: DayPlan = dayPlanSchema.parse(JSON.parse(demo('scenario.json')).day)
const planAt = (surface: 'dry' | 'wet') => makePlan(makeVenue(circuit), car, { surface, pace: 0.6, school: 'straight' })
const plan = planAt('dry')

const source = (change: Partial<BriefSource> = {}): BriefSource => ({
  plan,
  day,
  scheme: coneSchemes[0],
  words: wordsIn('en'),
  units: 'metric',
  cornerTips: {},
  questions: [],
  ...change,
})

describe('pages of the students’ links', () => {
  const links = Array.from({ length: 11 }, (_, k) => ({ name: `Learner ${k}`, address: `https://van.example/s/${k}` }))
  it('hold eight squares each, after what is told, and are none where phones cannot open this server', () => {
    const shown = briefPages(source({ links })).filter((p) => p.kind === 'links')
    expect(shown.map((p) => [p.id, p.links.length])).toEqual([
      ['links', 8],
      ['links-2', 3],
    ])
    expect(shown.flatMap((p) => p.links)).toEqual(links)
    expect(briefPages(source()).some((p) => p.kind === 'links')).toBe(false)
    const { briefing } = day
    expect(strayPages(briefPages(source()), { ...briefing, hidden: ['links-2'] })).not.toContain('links-2')
  })
})

describe('briefing pages', () => {
  const pages = briefPages(source())

  it('tell safety and the venue’s rules before anything else', () => {
    expect(pages.map((p) => p.id).slice(0, 6)).toEqual(['safety', 'rules', 'wrong', 'flags', 'pits', 'passing'])
    const rules = pages[1]
    expect(rules.kind === 'lines' && rules.lines).toEqual(day.rules)
    expect(pages[0].kind === 'lines' && pages[0].lines[0]).toContain('can kill')
  })

  it('have one page a corner, with the marks that cones show there', () => {
    const corners = pages.filter((p) => p.kind === 'corner')
    expect(corners).toHaveLength(11)
    for (const page of corners) for (const mark of page.marks) expect(coneSchemes[0].rules[mark.kind as 'brake'], mark.kind).toBeDefined()
    expect(corners[0].marks.map((m) => m.kind)).toEqual(['brake', 'turn-in', 'apex', 'exit'])
  })

  it('are in step with the plan: wet moves the brake, is named, and says by how much', () => {
    const wet = planAt('wet')
    const rainy = briefPages(source({ plan: wet }))
    const brakeOf = (list: typeof pages): number => {
      const page = list.find((p) => p.id === 'T1')
      return page?.kind === 'corner' ? (page.marks.find((m) => m.kind === 'brake')?.station_m ?? 0) : 0
    }
    expect(brakeOf(rainy)).toBeLessThan(brakeOf(pages))
    const glance = rainy.find((p) => p.kind === 'circuit')
    expect(glance?.kind === 'circuit' && glance.lines[1]).toContain('Today wet')
    const change = briefPages(source({ wet })).find((p) => p.id === 'wet')
    const shifts = plan.corners.flatMap((c) => {
      const [dry, rain] = [markOf(plan.marks, c.id, 'brake'), markOf(wet.marks, c.id, 'brake')]
      return dry && rain ? [dry.station_m - rain.station_m] : []
    })
    expect(change?.kind === 'lines' && change.lines[0]).toContain(`up to ${Math.round(Math.max(...shifts))} m earlier`)
  })

  it('tell the pace steps with their lap times, and speak the student’s language and units', () => {
    const steps = briefPages(source({ byPace: [plan] })).find((p) => p.id === 'paces')
    expect(steps?.kind === 'lines' && steps.lines[0]).toBe('Building: 60% of the grip, about 2:12 a lap')
    const german = briefPages(source({ words: wordsIn('de'), units: 'imperial' }))
    expect(german[0].title).toBe('Sicherheit zuerst')
    const glance = german.find((p) => p.kind === 'circuit')
    expect(glance?.kind === 'circuit' && glance.lines.join(' ')).toMatch(/11043 ft lang.*mph/)
  })

  it('keep answered questions with their corner, and leave out those without an answer', () => {
    const question = (text: string, answer: string) => ({ id: '', circuitId: 'c', cornerId: 'T1', text, answer, at: '', version: 1 })
    const asked = briefPages(source({ questions: [question('Why?', 'Because.'), question('And?', '')] })).find(
      (p) => p.kind === 'questions',
    )
    expect(asked?.kind === 'questions' && asked.asked).toEqual([{ where: 'T1', text: 'Why?', answer: 'Because.' }])
    expect(briefPages(source({ questions: [question('And?', '')] })).some((p) => p.kind === 'questions')).toBe(false)
  })

  it('do without a day, its rules and its flags', () => {
    expect(
      briefPages(source({ day: undefined }))
        .map((p) => p.id)
        .slice(0, 4),
    ).toEqual(['safety', 'wrong', 'signals', 'radio'])
    expect(briefPages(source({ day: { ...day, rules: [], flags: [] } })).some((p) => p.id === 'flags')).toBe(false)
  })
})

describe('the order of a briefing', () => {
  const pages = briefPages(source())
  const briefing = { ...day.briefing, order: [], hidden: [], levels: {}, notes: {} }
  const ids = (list: readonly { id: string }[]): string[] => list.map((p) => p.id)

  it('follows what was chosen; a page that came later stands behind the one it follows by itself', () => {
    const order = ids(pages).filter((id) => id !== 'wrong')
    order.unshift(...order.splice(order.indexOf('cones'), 1))
    const moved = ids(inOrder(pages, order))
    expect(moved[0]).toBe('cones')
    expect(moved[moved.indexOf('rules') + 1]).toBe('wrong')
    expect(moved).toHaveLength(pages.length)
  })

  it('leaves out what is hidden or for other levels', () => {
    const some = { ...briefing, hidden: ['radio'], levels: { sighting: ['first-day' as const] } }
    expect(ids(pagesFor(pages, some, null))).not.toContain('radio')
    expect(ids(pagesFor(pages, some, 'first-day'))).toContain('sighting')
    expect(ids(pagesFor(pages, some, 'steady'))).not.toContain('sighting')
  })

  it('names what is kept for pages that are gone, like a corner that was removed', () => {
    expect(strayPages(pages, { ...briefing, order: ['T1', 'T99'], notes: { T99: 'x', pits: 'y' } })).toEqual(['T99'])
    expect(ids(pagesFor(pages, { ...briefing, order: ['T99', 'T2'] }, null))).toHaveLength(pages.length)
  })
})

describe('a corner in words', () => {
  it('says side, shape, radius and turn', () => {
    expect(cornerInWords(plan.corners[5])).toBe('Right hairpin, radius 21 m, turns 159°')
  })
})

describe('a cone scheme by its id', () => {
  it('is the first ready-made one where the id is not known', () => {
    expect(schemeOf(coneSchemes, 'pairs-and-colours').id).toBe('pairs-and-colours')
    expect(schemeOf(coneSchemes, 'gone')).toBe(coneSchemes[0])
    expect(schemeOf(coneSchemes, undefined)).toBe(coneSchemes[0])
  })
})

describe('settled cones', () => {
  const settled = { at: '', settings: day.settings, circuitVersion: 3, cones: 50 }

  it('are up to date as long as nothing they stand on changes', () => {
    expect(staleBecause(settled, { ...day.settings }, 3)).toEqual([])
  })

  it('say why they are not: surface, vehicle, layout, ground', () => {
    expect(staleBecause(settled, { ...day.settings, surface: 'wet', vehicleId: 'coupe' }, 4)).toEqual([
      'vehicle changed',
      'surface: dry, now wet',
      'the circuit’s hazards or corners have changed',
    ])
    expect(staleBecause(settled, { ...day.settings, circuitId: 'other' }, 9)).toEqual(['layout changed'])
  })
})
