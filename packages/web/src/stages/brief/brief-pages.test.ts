import { readFileSync } from 'node:fs'
import { type DayPlan, dayPlanSchema } from '@ochote/contract'
import { buildCircuit, coneSchemes, makePlan, makeVenue, readCircuit, type Vehicle } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { cornerInWords } from '../../shared/corner-card/corner-words.ts'
import { schemeOf } from '../cones/use-cones.ts'
import { briefPages } from './brief-pages.ts'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'Ostrel Mere'))
const car = (JSON.parse(demo('vehicles.json')) as Vehicle[])[0]
const day: DayPlan = dayPlanSchema.parse(JSON.parse(demo('scenario.json')).day)
const planAt = (surface: 'dry' | 'wet') => makePlan(makeVenue(circuit), car, { surface, pace: 0.6, school: 'straight' })
const plan = planAt('dry')

describe('briefing pages', () => {
  const pages = briefPages(plan, day, coneSchemes[0])

  it('tell safety and the venue’s rules before anything else', () => {
    expect(pages.map((p) => p.id).slice(0, 6)).toEqual(['safety', 'rules', 'wrong', 'flags', 'cones', 'circuit'])
    const rules = pages[1]
    expect(rules.kind === 'lines' && rules.lines).toEqual(day.rules)
    expect(pages[0].kind === 'lines' && pages[0].lines[0]).toContain('can kill')
  })

  it('have one page a corner, with the marks that cones show there', () => {
    const corners = pages.filter((p) => p.kind === 'corner')
    expect(corners).toHaveLength(11)
    for (const page of corners) for (const mark of page.marks) expect(coneSchemes[0].rules[mark.kind]).toBeDefined()
    expect(corners[0].marks.map((m) => m.kind)).toEqual(['brake', 'turn-in', 'apex', 'exit'])
  })

  it('are in step with the plan: wet moves the brake and is named', () => {
    const wet = briefPages(planAt('wet'), day, coneSchemes[0])
    const brakeOf = (list: typeof pages): number => {
      const page = list.find((p) => p.id === 'T1')
      return page?.kind === 'corner' ? (page.marks.find((m) => m.kind === 'brake')?.station_m ?? 0) : 0
    }
    expect(brakeOf(wet)).toBeLessThan(brakeOf(pages))
    const glance = wet.find((p) => p.kind === 'circuit')
    expect(glance?.kind === 'circuit' && glance.lines[1]).toContain('Today wet')
  })

  it('do without a day, its rules and its flags', () => {
    expect(
      briefPages(plan, undefined, coneSchemes[0])
        .map((p) => p.id)
        .slice(0, 4),
    ).toEqual(['safety', 'wrong', 'cones', 'circuit'])
    expect(briefPages(plan, { ...day, rules: [], flags: [] }, coneSchemes[0]).some((p) => p.id === 'flags')).toBe(false)
  })
})

describe('a corner in words', () => {
  it('says side, shape, radius and turn', () => {
    expect(cornerInWords(plan.corners[5])).toBe('Right hairpin, radius 21 m, turns 159°')
  })
})

describe('a cone scheme by its id', () => {
  it('is the first ready-made one where the id is not known', () => {
    expect(schemeOf('lakeside').id).toBe('lakeside')
    expect(schemeOf('gone')).toBe(coneSchemes[0])
    expect(schemeOf(undefined)).toBe(coneSchemes[0])
  })
})
