import { readFileSync } from 'node:fs'
import { ThemeProvider } from '@mui/material'
import { dayPlanSchema } from '@ochote/contract'
import {
  buildCircuit,
  coneKinds,
  coneSchemes,
  coneSetOf,
  cornerMetrics,
  fadeCones,
  makePlan,
  makeVenue,
  placeCones,
  readCircuit,
  type Vehicle,
  type VenueNotes,
  writeLayingCsv,
} from '@ochote/core'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter } from 'react-router'
import { describe, expect, it } from 'vitest'
import { makeTheme } from '../../look/theme.tsx'
import { ConeGhost, isMoved } from '../../shared/marks/cone-ghost.tsx'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { ConeEditor } from './cone-editor.tsx'
import { movesInWords } from './cone-words.ts'
import { FadingTable } from './fading-table.tsx'
import { reportsOf } from './reports.ts'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const scenario = JSON.parse(demo('scenario.json')) as { circuits: VenueNotes[]; day: unknown }
const day = dayPlanSchema.parse(scenario.day)
const venue = makeVenue(buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'x')), scenario.circuits[0])
const plan = makePlan(venue, (JSON.parse(demo('vehicles.json')) as Vehicle[])[0], { surface: 'dry', pace: 0.6, school: 'straight' })
const numbers = cornerMetrics(plan)
const work = { ...day.cones, nudges: {} }
const school = { schemes: coneSchemes, stock: {}, reserved: [] }
const setOf = (change: Partial<typeof work>) =>
  coneSetOf({
    plan,
    schemeId: coneSchemes[0].id,
    school,
    work: { ...work, ...change },
    numbers,
    served: [],
    lines: [],
    sheets: [],
  })

const words = (element: ReactElement): string =>
  renderToStaticMarkup(<ThemeProvider theme={makeTheme(false)}>{element}</ThemeProvider>)
    .replace(/<style[\s\S]*?<\/style>/g, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')

describe('a cone under the hand', () => {
  const hand = (nudges: typeof work.nudges, locks: typeof work.locks = {}, canChange = true): string => {
    const set = setOf({ nudges, locks })
    const own = numbers.find((n) => n.cornerId === 'T1')
    return words(
      <MemoryRouter>
        <LapSelectionProvider>
          <ConeEditor
            plan={plan}
            cones={set.cones}
            groupId="T1-brake"
            hands={{ nudges, locks }}
            numbers={own}
            canChange={canChange}
            onChange={() => {}}
            onClose={() => {}}
          />
        </LapSelectionProvider>
      </MemoryRouter>,
    )
  }
  const grace = numbers.find((n) => n.cornerId === 'T1')?.grace?.time_s ?? 0
  const speed = plan.marks.find((m) => m.cornerId === 'T1' && m.kind === 'brake')?.speed_mps ?? 1

  it('stands at its computed place with all of its grace', () => {
    expect(hand({})).toContain(`+0.0 m along, +0.0 m out, +0.00 s of grace (${grace.toFixed(2)} s left)`)
  })

  it('tells metres and grace of a nudge, and warns where less than half a second is left', () => {
    expect(hand({ 'T1-brake': { along_m: -5, across_m: 0.5 } })).toContain(
      `−5.0 m along, +0.5 m out, +${(5 / speed).toFixed(2)} s of grace`,
    )
    expect(hand({ 'T1-brake': { along_m: -5, across_m: 0 } })).not.toContain('Later than the plan advises')
    const late_m = (grace - 0.3) * speed
    expect(hand({ 'T1-brake': { along_m: late_m, across_m: 0 } })).toContain('Later than the plan advises: less than 0.5 s of grace')
  })

  it('says that it is locked, and that nothing is kept without a day', () => {
    expect(hand({}, { 'T1-brake': { station_m: 150, offset_m: 8 } })).toContain('Unlock')
    expect(hand({}, {}, false)).toContain('is kept with a day, on its own layout')
  })
})

describe('cones of a set', () => {
  it('have a ghost only where a hand moved them', () => {
    const set = setOf({ nudges: { 'T1-brake': { along_m: 6, across_m: 0 } } })
    expect(set.cones.filter(isMoved).map((c) => c.groupId)).toEqual(['T1-brake', 'T1-brake'])
    expect(renderToStaticMarkup(<ConeGhost cone={set.cones[0]} />)).toContain('stroke-dasharray')
  })

  it('stand earlier for a first day than for steady students, by the reaction at that speed', () => {
    const at = (level: 'first-day' | 'steady'): number => setOf({ level }).cones.find((c) => c.id === 'T1-brake-2')?.station_m ?? 0
    const speed = plan.marks.find((m) => m.cornerId === 'T1' && m.kind === 'brake')?.speed_mps ?? 0
    expect(at('steady') - at('first-day')).toBeCloseTo(0.5 * speed, 6)
  })

  it('leave out what the least experienced no longer need, once that is wished', () => {
    const all = setOf({ level: 'steady' })
    const faded = setOf({ level: 'steady', fade: true })
    expect(faded.faded.length).toBeGreaterThan(3)
    expect(faded.cones.length).toBeLessThan(all.cones.length)
    const mixed = setOf({ level: 'steady', fade: true, served: [{ vehicleId: 'coupe', level: 'first-day', pace: 0.6 }] })
    expect(mixed.least).toBe('first-day')
    expect(mixed.cones).toHaveLength(all.cones.length)
  })

  it('keep clear of lines that are driven beside the plan’s', () => {
    const wide = { ...plan, line: { ...plan.line, offset_m: plan.line.offset_m.map(() => 5.9) } }
    const set = coneSetOf({ plan, schemeId: coneSchemes[0].id, school, work, numbers: undefined, served: [], lines: [wide], sheets: [] })
    const pushed = set.cones.filter((c) => c.moved.includes('line'))
    expect(pushed.length).toBeGreaterThan(5)
    expect(pushed.every((c) => c.roadSide === 'left')).toBe(true)
  })
})

describe('fading out on the page', () => {
  const { cones } = placeCones(plan, coneSchemes[0])
  const table = (ground: typeof plan.ground): string =>
    words(<FadingTable plan={plan} fadings={fadeCones({ ...plan, ground }, cones)} fade={false} canChange onFade={() => {}} />)

  it('names the level and the reference that takes over, those first', () => {
    const text = table(plan.ground)
    expect(text).toMatch(/Osier Brake steady \d+ m before: Old gatepost/)
    expect(text.indexOf('Old gatepost')).toBeLessThan(text.indexOf('no landmark near enough'))
  })

  it('says where to note references when there are none', () => {
    expect(table([])).toContain('so none can go. Note seams, patches, posts and kerb ends in the Circuit stage')
  })
})

describe('words of cones', () => {
  it('say every reason for which a cone stands elsewhere', () => {
    const all = movesInWords(['reaction', 'shared', 'line', 'run-off', 'across', 'nudged', 'locked'])
    expect(all.split('; ')).toHaveLength(7)
    expect(all).toContain('to keep the run-off clear')
    expect(movesInWords([])).toBe('')
  })

  it('have a name for every kind', () => {
    expect(new Set(coneKinds.map((k) => coneNames[k])).size).toBe(coneKinds.length)
  })

  it('take reports out of a day’s events, in their order', () => {
    const common = { dayId: 'd', at: '1' }
    const events = [
      { ...common, id: 'a', kind: 'cone-report' as const, coneId: 'T1-apex', state: 'laid' as const, error_m: 0.1 },
      { ...common, id: 'b', kind: 'radio-heard' as const, studentId: 's' },
      { ...common, id: 'c', kind: 'cone-report' as const, coneId: 'T1-apex', state: 'moved' as const, error_m: null },
    ]
    expect(reportsOf(events).map((r) => r.state)).toEqual(['laid', 'moved'])
  })

  it('leave in a table with a row a cone, whatever the cones are', () => {
    const { sheet } = setOf({})
    const lines = writeLayingCsv(sheet).trim().split('\n')
    expect(lines).toHaveLength(sheet.length + 1)
    expect(new Set(lines.map((l) => l.split(',').length)).size).toBe(1)
    expect(lines[1]).toContain('pit-lane')
  })
})
