import { readFileSync } from 'node:fs'
import { ThemeProvider } from '@mui/material'
import type { Debrief } from '@ochote/contract'
import { buildCircuit, cornerName, groupPicture, makePlan, makeVenue, readCircuit, type Vehicle, type VenueNotes } from '@ochote/core'
import type { ReactNode } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { makeTheme } from '../../look/theme.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { GroupTable } from './group-picture.tsx'
import { AccountLine } from './own-account.tsx'
import { PassesOfCorner } from './passes-of-corner.tsx'
import { SayFirst } from './say-first.tsx'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const [car] = JSON.parse(demo('vehicles.json')) as Vehicle[]
const [notes] = (JSON.parse(demo('scenario.json')) as { circuits: VenueNotes[] }).circuits
const venue = makeVenue(buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'Ostrel Mere')), notes)
const plan = makePlan(venue, car, { surface: 'dry', pace: 0.6, school: 'straight' })

/** The words of a page, each separated by one space. */
const words = (element: ReactNode): string =>
  renderToStaticMarkup(
    <ThemeProvider theme={makeTheme(false)}>
      <LapSelectionProvider>{element}</LapSelectionProvider>
    </ThemeProvider>,
  )
    .replace(/<style.*?<\/style>/g, '')
    // Marks that open an explanation are no words.
    .replace(/<button[^>]*aria-label="What “[^>]*>\?<\/button>/g, '')
    .replace(/<[^>]*>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

const debrief: Debrief = {
  runId: 'r',
  source: 'file',
  rows: 10,
  skipped: [],
  laps: [1, 2, 3].map((lap) => ({ lap, start_s: 0, time_s: 121 + lap / 10, gap_s: 0 })),
  findings: [1, 2, 3].map((lap) => ({
    lap,
    cornerId: 'T1',
    station_m: 190,
    from_m: 180,
    to_m: 190,
    code: 'brake-late',
    root: true,
    because: null,
    lossTime_s: -0.1,
    certainty: 0.97,
    evidence: { brake_m: 193, referenceBrake_m: 180, later_m: 13, allowed_m: 11, speed_mps: 46 },
  })),
  review: {
    passes: [1, 2, 3].map((lap) => ({
      lap,
      cornerId: 'T1',
      brake_m: 140 + lap,
      release_m: 300,
      turnIn_m: 302,
      apex_m: 362,
      exit_m: 418,
      throttle_m: 364,
      slowest_mps: 18,
      off: null,
      phases_s: [0.5, 0.02, -0.01, 0.04],
    })),
    theoreticalBest: { ideal_s: 120.6, best_s: 121.1, pieces: [] },
    lapUse: [],
    reference: null,
    undecidableCodes: ['wrong-gear'],
    undecidable: [{ lap: 2, cornerId: 'T3', codes: 'all' }],
    quality: { rate_hz: 10, noise_m: 0.2, drift_m: 0.5, pedals: false, steering: true, positions: true },
    thresholds: {},
  },
}

describe('what to say', () => {
  it('puts safety first, with a size, a cue, the next run and the numbers', () => {
    const text = words(<SayFirst plan={plan} debrief={debrief} />)
    expect(text).toContain('1. Boathouse Safety first Brake earlier: a car length a lap, up to 3 in all. The rest follows.')
    expect(text).toContain('braked 13 m after the mark (up to 11 m is fine) · 3 of 3 laps')
    expect(text).toContain('2:00.600 from the best pieces that join at matching speeds; best lap 2:01.100: 0.50 s to find.')
    expect(text).toContain('no pedals recorded: derived from speed · cannot tell: wrong gear · no data at Long Heron, lap 2')
  })

  it('says so when nothing stood out', () => {
    expect(words(<SayFirst plan={plan} debrief={{ ...debrief, findings: [] }} />)).toContain('Nothing stood out against the plan.')
  })
})

describe('a corner lap by lap', () => {
  it('shows time by phase, and says that few passes may be chance', () => {
    const text = words(<PassesOfCorner plan={plan} debrief={debrief} cornerId="T1" />)
    expect(text).toContain('only 3 times through: may be chance')
    expect(text).toContain('1 +0.50 +0.02 −0.01 +0.04 +0.55 65 km/h')
    const planned = plan.marks.find((m) => m.cornerId === 'T1' && m.kind === 'brake')?.station_m ?? Number.NaN
    const by_m = Math.round(141 - planned)
    expect(text).toContain(`Lap 1 ${by_m > 0 ? '+' : '−'}${Math.abs(by_m)} `)
  })

  it('says so where the log does not tell', () => {
    expect(words(<PassesOfCorner plan={plan} debrief={debrief} cornerId="T3" />)).toContain('No data for Long Heron in this log.')
  })
})

describe('the own account', () => {
  it('stands in one line', () => {
    const account = { id: 'a', runId: 'r', at: '', kind: 'account' as const, best: 'T1', worst: null, word: 'rushed' as const }
    expect(words(<AccountLine plan={plan} account={account} />)).toBe('Own account best: Boathouse · “rushed”')
  })
})

describe('the group', () => {
  const nameOf = (id: string): string => cornerName(plan.corners, id)

  it('shows how many do what, and what to try where most do', () => {
    const seen = ['a', 'b', 'c'].map((studentId) => ({ studentId, cornerId: 'T3', code: 'turn-in-early' as const }))
    const picture = groupPicture([...seen, { studentId: 'a', cornerId: 'T1', code: 'tense' }], 4)
    const text = words(<GroupTable picture={picture} drove={4} nameOf={nameOf} />)
    expect(text).toContain('Long Heron: turned in early, 3 of 4')
    expect(text).toContain('Move the turn-in cone on by a car length')
    expect(text).toContain('Boathouse Tense 1 of 4')
  })

  it('says so where nothing is common', () => {
    const text = words(<GroupTable picture={[]} drove={1} nameOf={nameOf} />)
    expect(text).toContain('1 student drove today. Nothing that most of them get wrong.')
  })
})
