import { readFileSync } from 'node:fs'
import { ThemeProvider } from '@mui/material'
import type { Debrief } from '@ochote/contract'
import {
  buildCircuit,
  type DayEvent,
  groupPicture,
  makePlan,
  makeVenue,
  planTrace,
  type RunEvent,
  readCircuit,
  type Vehicle,
  type VenueNotes,
  withCountedLaps,
} from '@ochote/core'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { makeTheme } from '../../look/theme.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { ShapesDrawing } from './brake-shapes.tsx'
import { changesOf, GroupTable } from './group-picture.tsx'
import { LapsTable } from './laps-table.tsx'
import { PhaseDifferences, phaseSentence, signed } from './phase-differences.tsx'
import { arrowHead } from './still.tsx'
import { chartLap } from './trace-columns.ts'
import { proposeStarts, speedTrend } from './video-sync.ts'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const [car] = JSON.parse(demo('vehicles.json')) as Vehicle[]
const [notes] = (JSON.parse(demo('scenario.json')) as { circuits: VenueNotes[] }).circuits
const plan = makePlan(makeVenue(buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'Ostrel Mere')), notes), car, {
  surface: 'dry',
  pace: 0.6,
  school: 'straight',
})
const own = planTrace(plan)

const markup = (element: React.ReactElement): string =>
  renderToStaticMarkup(
    <ThemeProvider theme={makeTheme(false)}>
      <LapSelectionProvider initialCornerId="T3">{element}</LapSelectionProvider>
    </ThemeProvider>,
  ).replace(/<style[\s\S]*?<\/style>/g, '')
const words = (element: React.ReactElement): string =>
  markup(element)
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')

describe('a lap beside another', () => {
  it('says in one line what was won and what was lost for it', () => {
    expect(phaseSentence([-0.1, 0, 0.02, 0.3])).toBe('won 0.10 s in the entry; lost 0.30 s down the straight after')
    expect(phaseSentence([0, 0, 0, 0])).toBe('as quick as it')
    expect(phaseSentence([0.04, 0.03, 0.04, 0.01])).toBe('lost 0.12 s, a little everywhere')
    expect([signed(0.004), signed(0.3), signed(-0.126)]).toEqual(['0.00', '+0.30', '−0.13'])
  })

  it('shows time by corner and phase, the most lost in heavy type', () => {
    const i = Math.round(plan.corners[2].peak_m / plan.circuit.step_m)
    const slow = { ...own, time_s: own.time_s.map((t, k) => t + (k > i ? 0.4 : 0)), lapTime_s: own.lapTime_s + 0.4 }
    const text = words(<PhaseDifferences plan={plan} lap={chartLap('lap 2', slow, plan)} reference={chartLap('the plan', own, plan)} />)
    expect(text).toContain('Lap 2 beside the plan, s')
    expect(text).toMatch(/Long Heron: lost 0\.\d\d s/)
    expect(text).toMatch(/Long Heron [^A-Z]*\+0\.40/)
  })

  it('draws brakes from their first touch, the chosen lap in full', () => {
    const shape = { at_m: Float64Array.of(0, 10, 20), brake_g: Float64Array.of(0, 0.8, 0), peak_g: 0.8, toPeak_s: 0.3, onset_m: 100 }
    const html = markup(
      <ShapesDrawing
        shapes={[
          { lap: 1, shape },
          { lap: 2, shape: { ...shape, peak_g: 0.6 } },
          { lap: null, shape },
        ]}
        lap={2}
        reference="the plan"
        cornerName="Boathouse"
      />,
    )
    expect(html).toContain('Lap 2: 0.60 g after 0.3 s · the plan: 0.80 g after 0.3 s')
    expect(html).toContain('aria-label="Brake of 2 laps at Boathouse over the plan"')
    expect(html.match(/stroke-width="2.6"/g)).toHaveLength(1)
  })
})

const debrief = {
  runId: 'r',
  source: 'file',
  rows: 9,
  laps: [
    { lap: 1, start_s: 0, time_s: 131.5, gap_s: 0 },
    { lap: 2, start_s: 131.5, time_s: 130, gap_s: 1.2 },
    { lap: 3, start_s: 261.5, time_s: 125, gap_s: 0 },
  ],
  skipped: [{ lap: 4, start_s: 386, gap_s: 0, after_s: 0, reason: 'stop' }],
  findings: [{ lap: 1, cornerId: 'T1', code: 'brake-late', root: true }],
  review: { passes: [], theoreticalBest: null, lapUse: [], undecidableCodes: [], undecidable: [], quality: null },
} as unknown as Debrief

describe('the table of laps', () => {
  it('names the quickest of the student, silences, laps left out, and who drove', () => {
    const text = words(
      <LapsTable
        debrief={debrief}
        lap={1}
        onLap={() => {}}
        events={[{ id: 'd', runId: 'r', at: '1', kind: 'lap-driver', lap: 3, driver: 'instructor' }]}
      />,
    )
    expect(text).toContain('Lap 2: 2:10.000 quickest')
    expect(text).toContain('1, 1 of safety')
    expect(text).toContain('1.2 s without data, not analysed')
    expect(text).toMatch(/Lap 3: 2:05\.000 .*instructor/)
    expect(text).toContain('left out: the car stood')
  })

  it('leaves an instructor’s laps out of what is judged', () => {
    const drivenByInstructor: RunEvent[] = [{ id: 'd', runId: 'r', at: '1', kind: 'lap-driver', lap: 1, driver: 'instructor' }]
    expect(withCountedLaps(debrief, drivenByInstructor).findings).toEqual([])
    expect(withCountedLaps(debrief, drivenByInstructor).laps.map((l) => l.lap)).toEqual([2, 3])
    expect(withCountedLaps(debrief, [])).toBe(debrief)
  })
})

describe('a video beside a log', () => {
  const laps = [0, 100].map((start_s) => ({
    start_s,
    lapTime_s: 100,
    time_s: Float64Array.from({ length: 400 }, (_, i) => i / 4),
    speed_mps: Float64Array.from(
      { length: 400 },
      (_, i) => 30 + 12 * Math.sin(i / 17) + 6 * Math.sin(i / 6.3) + (start_s / 50) * Math.sin(i / 29),
    ),
  }))

  it('has the speed of the log at an even interval, lap after lap', () => {
    const { from_s, speed } = speedTrend(laps, 0.5)
    expect(from_s).toBe(0)
    expect(speed).toHaveLength(400)
    expect(speed[10]).toBeCloseTo(laps[0].speed_mps[20], 9)
    expect(speed[210]).toBeCloseTo(laps[1].speed_mps[20], 9)
  })

  it('is proposed where its motion is like the speed, and nowhere where it is not', () => {
    const trend = speedTrend(laps, 0.5)
    const motion = trend.speed.slice(230, 330).map((v) => 3 * v + 10)
    expect(proposeStarts(motion, trend, 0.5)[0]).toMatchObject({ start_s: 115, alike: expect.closeTo(1, 6) })
    expect(
      proposeStarts(
        new Float64Array(100).map((_, i) => (i * 7919) % 13),
        trend,
        0.5,
      ),
    ).toEqual([])
  })

  it('has arrows whose heads point back from their end', () => {
    const [a, b] = arrowHead({ kind: 'arrow', x1: 0.1, y1: 0.5, x2: 0.9, y2: 0.5 }, 1000, 500, 30)
    expect(a[0]).toBeLessThan(900)
    expect(b[0]).toBeLessThan(900)
    expect(a[1] + b[1]).toBeCloseTo(500, 6)
  })
})

describe('what was changed for the group', () => {
  const passes = [
    ...Array.from({ length: 12 }, (_, i) => ({
      at: '2027-05-15T09:00:00.000Z',
      cornerId: 'T3',
      codes: i < 10 ? ['turn-in-early' as const] : [],
    })),
    ...Array.from({ length: 12 }, () => ({ at: '2027-05-15T11:00:00.000Z', cornerId: 'T3', codes: [] })),
  ]
  const change: DayEvent = {
    id: crypto.randomUUID(),
    dayId: 'd',
    at: '2027-05-15T10:00:00.000Z',
    kind: 'teaching-changed',
    cornerId: 'T3',
    code: 'turn-in-early',
    what: 'Turn-in cone on by 4 m',
  }

  it('is told with what came of it, and erased students still count', () => {
    const changes = changesOf([change], passes)
    const picture = groupPicture([{ studentId: 'a', cornerId: 'T3', code: 'turn-in-early' }], 4, [
      { cornerId: 'T3', code: 'turn-in-early', students: 2 },
    ])
    const text = words(<GroupTable picture={picture} drove={4} nameOf={() => 'Long Heron'} changes={changes} />)
    expect(text).toContain('Long Heron: turned in early, 3 of 4')
    expect(text).toMatch(
      /10:00 Long Heron, turned in early: Turn-in cone on by 4 m\. Seen before it 10 of 12 \(\d+ to \d+%\) times through, since then 0 of 12/,
    )
    expect(text).toContain('it helped')
  })
})
