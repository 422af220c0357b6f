import { readFileSync } from 'node:fs'
import { ThemeProvider } from '@mui/material'
import type { Day, Run } from '@ochote/contract'
import { dayPlanSchema } from '@ochote/contract'
import {
  buildCircuit,
  type DayEvent,
  makePlan,
  makeVenue,
  type Plan,
  type RunEvent,
  readCircuit,
  runStateOf,
  standing,
  stopNow,
  type Vehicle,
} from '@ochote/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter } from 'react-router'
import { describe, expect, it } from 'vitest'
import type { LiveDay } from '../../data/live/live-store.ts'
import { makeTheme } from '../../look/theme.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { brokenInWords } from '../day/plan-words.ts'
import { CallPanel } from './call-panel.tsx'
import { togetherOut } from './day-changes.tsx'
import { dayEventInWords } from './day-event-words.ts'
import { FlagsAndStops, StopAll, StopDecision } from './flags-and-stops.tsx'
import { nextRow } from './lead-follow-start.tsx'
import { ReleasePanel } from './release-panel.tsx'
import { ReleasePicture } from './release-picture.tsx'
import { LastLine, TabletPage, Tiles, TurnedPages } from './tablet.tsx'
import type { TrackDay, TrackRun } from './use-track-day.ts'
import { weatherInWords } from './weather-prompt.tsx'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const scenario = JSON.parse(demo('scenario.json'))
const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'x'))
const vehicle = (JSON.parse(demo('vehicles.json')) as Vehicle[])[0]
const plan = makePlan(makeVenue(circuit), vehicle, { surface: 'dry', pace: 0.6, school: 'straight' })
const day: Day = { id: 'd', version: 1, plan: dayPlanSchema.parse(scenario.day) }
const still: LiveDay = { cars: () => new Map(), passes: () => [], connected: () => true, subscribe: () => () => {} }

const markup = (element: ReactElement): string =>
  renderToStaticMarkup(
    <QueryClientProvider client={new QueryClient()}>
      <ThemeProvider theme={makeTheme(false)}>
        <MemoryRouter>{element}</MemoryRouter>
      </ThemeProvider>
    </QueryClientProvider>,
  ).replace(/<style[\s\S]*?<\/style>/g, '')
const words = (element: ReactElement): string =>
  markup(element)
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

const id = (k: number): string => `018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e${String(k).padStart(2, '0')}`
const told = (k: number, event: object): DayEvent => ({ id: id(k), dayId: 'd', at: '2027-05-15T10:00:00Z', ...event }) as DayEvent
const runOf = (name: string, events: RunEvent[] = []): TrackRun => ({
  run: { id: name, studentName: name, studentId: name, settings: day.plan.settings } as Run,
  carNumber: '4',
  state: runStateOf(events),
})
const trackOf = (events: DayEvent[], open: TrackRun[] = []): TrackDay => ({
  day,
  plan,
  live: still,
  open,
  all: open,
  students: [],
  events: standing(events),
  stop: stopNow(events),
  tell: () => '',
})

const slot = (studentId: string, start: string, format: 'lead-follow' | 'released' | 'ride-along') => ({
  id: `${format} ${start} ${studentId}`,
  start,
  end: '12:00',
  kind: 'run' as const,
  title: '',
  studentId,
  instructorId: 'teo',
  format,
})

describe('targets for a glove', () => {
  const tiles = Array.from({ length: 6 }, (_, k) => ({ id: String(k), words: `Mistake ${k}`, number: k + 1, onTap: () => {} }))

  it('are buttons with their key, and what positions show beneath', () => {
    const html = markup(<Tiles tiles={[...tiles.slice(1), { ...tiles[0], under: 'shown: turned in 6 m early', tone: 'shown' as const }]} />)
    expect(html.match(/<button/g)).toHaveLength(6)
    expect(html).toContain('shown: turned in 6 m early')
    expect(html.match(/aria-hidden="true"/g)).toHaveLength(6)
  })

  it('stand on pages of which one is open, without a target for turning', () => {
    const page = (name: string) => ({ name, label: `Log for ${name}`, body: <Tiles tiles={tiles.slice(0, 2)} /> })
    const html = markup(<TurnedPages pages={[page('What went wrong'), page('This lap')]} />)
    expect(html.match(/<button/g)).toHaveLength(2)
    expect(html).toContain('aria-label="What went wrong"')
    expect(words(<TurnedPages pages={[page('One')]} />)).not.toContain('swipe')
  })

  it('always have what was done last beside Undo, and no Undo where there is nothing', () => {
    expect(words(<LastLine words="Braked late at Osier" onUndo={() => {}} />)).toBe('Braked late at Osier Undo')
    expect(words(<LastLine words="Nothing logged yet" onUndo={null} />)).toBe('Nothing logged yet')
    expect(markup(<TabletPage label="Ride-along">x</TabletPage>)).toContain('aria-label="Ride-along"')
  })
})

describe('the next call', () => {
  it('stands with its distance, and what follows', () => {
    const call = { cornerId: 'T3', phrase: 'brake', mark_s: 10, start_s: 8, end_s: 9, markStation_m: 500 } as never
    const text = words(<CallPanel plan={plan} calls={[{ call, toMark_m: 62, toMark_s: 2, now: false }]} silence="quiet" />)
    expect(text).toContain('brake 60 m')
    const silent = (silence: 'quiet' | 'no-position' | 'lap'): string => words(<CallPanel plan={plan} calls={[]} silence={silence} />)
    expect(silent('quiet')).toContain('drives quietly')
    expect(silent('no-position')).toContain('Waiting for positions')
    expect(silent('lap')).toBe('No calls on this lap.')
  })
})

describe('the pit wall', () => {
  it('offers the flags of this venue, one that is up comes down, and Stop all', () => {
    const text = words(<FlagsAndStops track={trackOf([told(1, { kind: 'flag', flag: 'Yellow', cornerId: null, up: true })])} />)
    expect(text).toMatch(/Yellow, up since [0-9:]+: take it down/)
    for (const { name } of day.plan.flags) expect(text).toContain(name)
    const taken = trackOf([
      told(1, { kind: 'flag', flag: 'Yellow', cornerId: null, up: true }),
      told(2, { kind: 'flag', flag: 'Yellow', cornerId: null, up: false }),
    ])
    expect(words(<FlagsAndStops track={taken} />)).not.toContain('take it down')
  })

  it('asks for a decision while everything is stopped', () => {
    const track = trackOf([told(1, { kind: 'stop', why: 'Oil at Osier' })])
    if (!track.stop) throw new Error('no stop')
    const text = words(<StopDecision track={track} stop={track.stop} />)
    expect(text).toContain('Oil at Osier. Every screen in the cars says: come in.')
    expect(text).toMatch(/Go on End the session$/)
    expect(markup(<StopAll track={track} />)).toMatch(/disabled=""[^>]*>All is stopped/)
    expect(words(<StopAll track={trackOf([])} />)).toBe('Stop all')
  })

  it('has a release only for those who wait', () => {
    expect(words(<ReleasePanel track={trackOf([])} />)).toBe('')
    const out: RunEvent = { id: id(1), runId: 'r', at: '', kind: 'sent-out', program: { sighting: 0, coached: 2, coolDown: 0 } }
    expect(words(<ReleasePanel track={trackOf([], [runOf('Imke Valderan', [out])])} />)).toBe('')
    expect(words(<ReleasePanel track={trackOf([], [runOf('Imke Valderan')])} />)).toContain('Computing the laps of those who wait')
  })

  it('is drawn over the run, with who comes too near to whom, or how much slower one may be', () => {
    const lap = plan.profile.lapTime_s
    const car = (name: string, lap_s: number) => ({ id: name, lapTimes_s: Array.from({ length: 4 }, () => lap_s) })
    const shown = (of: Plan, quick: number): string =>
      words(<ReleasePicture plan={of} order={[car('Imke', lap), car('Rashid', quick)]} interval_s={20} nameOf={(name) => name} />)
    expect(shown(plan, lap)).toMatch(
      /Nobody comes within 3 s of another at these laps\. That holds while nobody is more than \d+ % slower\. If Imke is: Rashid reaches Imke after/,
    )
    const caught = shown(plan, 0.92 * lap)
    expect(caught).toMatch(/First to come too near: Rashid reaches Imke after \d:\d\d, lap 2, after [A-Z]/)
    expect(caught).not.toContain('passing place')
    const everywhere = { id: 'p', kind: 'passing' as const, name: '', side: 'both' as const, from_m: 0, to_m: plan.circuit.length_m }
    expect(shown({ ...plan, ground: [everywhere] }, 0.92 * lap)).toContain(', a passing place')
    expect(shown({ ...plan, ground: [{ ...everywhere, to_m: 1 }] }, 0.92 * lap)).toContain(', no passing place')
  })

  it('of a row takes the next that is planned and was not driven', () => {
    const slots = [
      slot('a', '11:00', 'lead-follow'),
      slot('b', '11:00', 'lead-follow'),
      slot('c', '10:00', 'lead-follow'),
      slot('d', '10:00', 'lead-follow'),
      slot('e', '09:00', 'ride-along'),
    ]
    expect(nextRow(slots, new Set()).map((s) => s.studentId)).toEqual(['c', 'd'])
    expect(nextRow(slots, new Set([slots[2].id, slots[3].id])).map((s) => s.studentId)).toEqual(['a', 'b'])
    expect(nextRow(slots, new Set(slots.map((s) => s.id)))).toEqual([])
  })

  it('counts down in the order and at the interval that were told, and holds while all is stopped', () => {
    const release = told(1, { kind: 'release', runIds: ['b', 'a'], interval_s: 20, firstAt: new Date(Date.now() + 30_000).toISOString() })
    const open = [runOf('a'), runOf('b')]
    const text = words(<ReleasePanel track={trackOf([release], open)} />)
    expect(text).toMatch(/Release (29|30) 4 · b (49|50) 4 · a/)
    expect(words(<ReleasePanel track={trackOf([release, told(2, { kind: 'stop', why: 'x' })], open)} />)).toContain('Release is held')
  })

  it('has all pages of the stage beside it', () => {
    expect(words(<StageHead stage="Run" />)).toBe('Run Runs Pit wall Lead-follow Corner post Pad History Devices')
  })
})

describe('the day on the pit wall', () => {
  it('starts those together who set off together, and others one by one', () => {
    const slots = [
      slot('a', '10:00', 'released'),
      slot('b', '10:00', 'released'),
      slot('c', '10:00', 'ride-along'),
      slot('d', '10:20', 'released'),
    ]
    expect(togetherOut(slots).map((together) => together.map((s) => s.studentId))).toEqual([['a', 'b'], ['c'], ['d']])
  })

  it('tells each thing that does not fit once, with its times', () => {
    const away = (at: string) => ({ rule: 'instructor-away' as const, at, who: 'teo', of: [] })
    const told = brokenInWords([away('11:00'), away('10:00'), { rule: 'car-out', at: '10:00', who: 'c4', of: [] }], (id) =>
      id.toUpperCase(),
    )
    expect(told).toEqual(['TEO: is away, has a break, or is missing (10:00, 11:00)', 'C4: is out of use then (10:00)'])
  })
})

describe('weather', () => {
  const rain = told(1, { kind: 'weather', rain: 'rain', air_C: 12, simulated: true })

  it('is told where the plan is for another surface, and not where it fits', () => {
    expect(weatherInWords([rain], 'dry')).toBe('rain (simulated): this plan is for dry')
    expect(weatherInWords([rain], 'wet')).toBeNull()
    expect(weatherInWords([], 'dry')).toBeNull()
    expect(weatherInWords([rain, told(2, { kind: 'weather', rain: 'dry', air_C: 17, simulated: true })], 'dry')).toBeNull()
  })
})

describe('what happened in a day', () => {
  const nameOf = (cornerId: string): string => (cornerId === 'T4' ? 'Osier' : cornerId)

  it.each([
    [{ kind: 'flag', flag: 'Red', cornerId: 'T4', up: true }, 'Red shown at Osier'],
    [{ kind: 'incident', what: 'spin', cornerId: 'T4', runId: null, carNumber: '7', action: 'talked' }, 'Spin at Osier, car 7: spoken to'],
    [{ kind: 'restart', stopId: id(1), decision: 'all-in' }, 'Decided: the session ends'],
    [{ kind: 'release', runIds: ['a', 'b'], interval_s: 10, firstAt: '' }, 'Release of 2, every 10 s'],
    [{ kind: 'row', runIds: ['a', 'b', 'c'], lap: 3 }, 'Train of 3 from lap 3'],
    [{ kind: 'radio', to: ['a'], text: 'Close up' }, 'Radio to 1: Close up'],
    [{ kind: 'drill', studentId: 's', drill: 'circle', surface: 'wet', result: 'in-band' }, 'Pad, circle, wet: in-band'],
    [{ kind: 'car-seen', carNumber: '77', cornerId: 'T4', code: 'brake-late' }, 'Car 77 at Osier: Braked late'],
    [{ kind: 'weather', rain: 'rain', air_C: 12, simulated: true }, 'Simulated weather station: rain, 12 °C'],
    [{ kind: 'beam', carNumber: '4', lapTime_s: 91.234, simulated: true }, 'Simulated timing beam: car 4, 91.23 s'],
  ])('is told in a few words: %o', (event, text) => {
    expect(dayEventInWords(told(1, event), nameOf)).toBe(text)
  })
})
