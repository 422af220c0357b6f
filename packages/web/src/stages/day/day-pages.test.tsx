import { dayPlanSchema, schoolSettingsSchema, venueSchema } from '@ochote/contract'
import { checkDay } from '@ochote/core'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { DayProvider } from '../../data/day/day-context.tsx'
import { answersOfDay, demoSchool, pageMarkup, pageWords, schoolAnswers, stubBrowser } from '../page-harness.test-data.tsx'
import { DayCars } from './day-cars.tsx'
import { DayFacts } from './day-facts.tsx'
import { DayPeople } from './day-people.tsx'
import { DaySheet } from './day-sheet.tsx'
import { DayStage } from './day-stage.tsx'
import { DaysPage } from './days-page.tsx'
import { newDay } from './new-day.ts'
import { exercisesAsOne, RunList } from './run-list.tsx'

const { plan } = demoSchool.day
const nothing = (): void => {}
const nameOf = (id: string | undefined): string => demoSchool.students.find((s) => s.id === id)?.name ?? ''

beforeEach(() => stubBrowser())
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('the list of days', () => {
  const page = (today: string, line = {}, role: 'lead' | 'instructor' = 'lead') => {
    vi.useFakeTimers({ now: new Date(`${today}T10:00:00`), toFake: ['Date'] })
    const client = schoolAnswers(role, answersOfDay({}, line))
    return pageWords(
      client,
      <DayProvider>
        <DaysPage />
      </DayProvider>,
    )
  }

  it('puts a day ahead up to its own evening, and into the past from the next morning', () => {
    for (const date of ['2027-05-01', '2027-05-15']) {
      expect(page(date)).toContain('Today and ahead')
      expect(page(date)).not.toContain('Past')
    }
    expect(page('2027-05-16')).toContain('Past')
    expect(page('2027-05-16')).not.toContain('Today and ahead')
  })

  it('says who is in it, and what was driven of what was planned', () => {
    const runs = plan.slots.filter((s) => s.kind === 'run').length
    expect(page('2027-05-15')).toContain(`12 students · 9 cars · ${runs} runs planned`)
    expect(page('2027-05-15', { driven: 3 })).toContain(`3 driven of ${runs} planned`)
    expect(page('2027-05-15', { students: 1, cars: 1, runs: 0, driven: 2 })).toContain('1 student · 1 car · 2 driven')
  })

  it('offers to remove only what nobody drove, and to the lead alone', () => {
    expect(page('2027-05-15')).toContain('Remove')
    expect(page('2027-05-15', { driven: 1 })).not.toContain('Remove')
    expect(page('2027-05-15', {}, 'instructor')).not.toContain('Remove')
    expect(page('2027-05-15', {}, 'instructor')).toContain('The lead makes days.')
  })

  it('keeps templates apart: they have no date and are no day to open', () => {
    const words = page('2027-05-15', { template: true })
    expect(words).toContain('0 days')
    expect(words).toContain('Make a day of it on 15 May')
    expect(words).not.toContain('Open beside')
  })
})

describe('a day as it begins', () => {
  const venue = {
    ...venueSchema.parse({ id: 'v', name: 'Ostrel Mere', rules: ['No passing in the chicane.'], flags: plan.flags }),
    version: 1,
  }
  const settings = { circuitId: 'ostrel-mere', vehicleId: 'hatchback' }
  it('takes the venue’s rules and flags after the first ones, and the school’s defaults', () => {
    const school = schoolSettingsSchema.parse({ defaults: { pace: 0.75 }, checkOff: ['Belts', 'Doors'] })
    const made = newDay({ date: '2027-06-01', settings, school, venue, circuitName: 'short layout', leadId: 'lead' })
    expect(made.rules.at(-1)).toBe('No passing in the chicane.')
    expect(made.rules).toHaveLength(3)
    expect(made.flags).toEqual(plan.flags)
    expect([made.venue, made.settings.pace, made.checkOff, made.instructorIds]).toEqual(['Ostrel Mere', 0.75, ['Belts', 'Doors'], ['lead']])
    expect(() => dayPlanSchema.parse(made)).not.toThrow()
  })

  it('is called after its circuit where there is no venue, and never holds more rules than a day may', () => {
    const school = schoolSettingsSchema.parse({})
    const bare = newDay({ date: '2027-06-01', settings, school, venue: undefined, circuitName: 'short layout', leadId: undefined })
    expect([bare.venue, bare.flags, bare.instructorIds]).toEqual(['short layout', [], []])
    const many = { ...venue, rules: Array.from({ length: 20 }, (_, k) => `Rule ${k + 1}`) }
    const full = newDay({ date: '2027-06-01', settings, school, venue: many, circuitName: '', leadId: undefined })
    expect(full.rules).toHaveLength(20)
    expect(full.rules.at(-1)).toBe('Rule 18')
  })
})

describe('exercises in the run list', () => {
  it('that several do together stand as one line', () => {
    const pad = (studentId: string, start: string, format?: 'pad') => ({
      id: `${start} ${studentId}`,
      start,
      end: '11:00',
      kind: 'pad' as const,
      title: 'Braking',
      studentId,
      ...(format ? { format } : {}),
    })
    const lines = exercisesAsOne([pad('a', '10:00', 'pad'), pad('b', '10:00', 'pad'), pad('c', '10:30', 'pad'), pad('d', '10:30')])
    expect(lines.map((l) => [l.slot.start, l.studentIds])).toEqual([
      ['10:00', ['a', 'b']],
      ['10:30', ['c']],
      ['10:30', ['d']],
    ])
  })
})

describe('people of a day', () => {
  it('are counted under their levels, and whoever is not here can be added', () => {
    const here = { ...plan, studentIds: plan.studentIds.slice(0, 10) }
    const words = pageWords(schoolAnswers(), <DayPeople plan={here} onChange={nothing} />)
    expect(words).toContain('Students (10)')
    for (const id of here.studentIds) expect(words).toContain(`${nameOf(id)} ×`)
    for (const id of plan.studentIds.slice(10)) expect(words).not.toContain(`${nameOf(id)} ×`)
    expect(words).toContain('Add all 2 others')
    const nearly = { ...plan, studentIds: plan.studentIds.slice(0, 11) }
    expect(pageWords(schoolAnswers(), <DayPeople plan={nearly} onChange={nothing} />)).toContain('Add the other one')
  })

  it('are warned where runs go with them', () => {
    const driving = plan.slots.find((s) => s.studentId)?.studentId
    const markup = pageMarkup(schoolAnswers(), <DayPeople plan={plan} onChange={nothing} />)
    const tag = new RegExp(`<button[^>]*aria-label="Take ${nameOf(driving)} off this day"[^>]*>`).exec(markup)?.[0]
    expect(tag).toContain('title="Takes them and their runs off this day"')
    const idle = pageMarkup(schoolAnswers(), <DayPeople plan={{ ...plan, slots: [] }} onChange={nothing} />)
    expect(idle).not.toContain('and their runs')
  })

  it('drive as one group until there are others', () => {
    expect(pageWords(schoolAnswers(), <DayPeople plan={plan} onChange={nothing} />)).toContain('Groups by level')
    const groups = [{ id: 'g', name: 'Early birds', studentIds: plan.studentIds.slice(0, 4) }]
    const words = pageWords(schoolAnswers(), <DayPeople plan={{ ...plan, groups }} onChange={nothing} />)
    expect(words).toContain('4 in it')
    expect(words).not.toContain('everybody drives as one group')
  })

  it('lead to the page of students where there are none', () => {
    const client = schoolAnswers('lead', [[['students'], []]])
    expect(pageWords(client, <DayPeople plan={{ ...plan, studentIds: [] }} onChange={nothing} />)).toContain(
      'No students yet: add them first',
    )
  })
})

describe('cars of a day', () => {
  it('tell how each came back, and offer the others of the school', () => {
    const [first, ...rest] = demoSchool.cars
    const condition = {
      carId: first.id,
      runId: 'r',
      at: '2027-05-14T10:00:00.000Z',
      brakes: 'watch',
      tyres: 'good',
      other: 'good',
    } as const
    const client = schoolAnswers('lead', [[['cars'], [{ ...first, condition }, ...rest]]])
    const words = pageWords(client, <DayCars plan={{ ...plan, cars: plan.cars.slice(0, 7) }} onChange={nothing} />)
    expect(words).toContain('Cars (7)')
    expect(words).toContain('brakes: keep an eye on')
    expect(words).toContain('Add all 2')
    expect(words).toContain('Add 12, ')
  })

  it('do not offer a car that was put away', () => {
    const cars = demoSchool.cars.map((c) => ({ ...c, archivedAt: '2027-05-01T00:00:00.000Z' }))
    const words = pageWords(schoolAnswers('lead', [[['cars'], cars]]), <DayCars plan={{ ...plan, cars: [] }} onChange={nothing} />)
    expect(words).not.toContain('Add 1,')
  })
})

describe('the day itself', () => {
  it('shows whom to call in an emergency at its venue', () => {
    const venue = {
      ...venueSchema.parse({
        id: 'v',
        name: 'Ostrel Mere',
        emergency: 'Stop all, then call.',
        phones: [{ name: 'Marshals', number: '555 0100' }],
      }),
      version: 1,
    }
    const circuit = { id: plan.settings.circuitId, name: 'Ostrel Mere', length_m: 2000, corners: 9, venueId: 'v', archivedAt: null }
    const client = schoolAnswers('lead', [
      [['venues'], [venue]],
      [['circuits'], [circuit]],
    ])
    const words = pageWords(client, <DayFacts plan={plan} onChange={nothing} />)
    expect(words).toContain('In an emergency at Ostrel Mere')
    expect(words).toContain('Marshals: 555 0100')
    expect(pageWords(schoolAnswers(), <DayFacts plan={plan} onChange={nothing} />)).not.toContain('In an emergency')
  })

  it('offers practice only where simulated devices were switched on, and not in the demo', () => {
    const session = (simulated: boolean, demo: boolean) =>
      schoolAnswers('lead', [[['session'], { account: demoSchool.accounts[0], setUp: true, demo, simulated }]])
    const shows = (simulated: boolean, demo: boolean): boolean =>
      pageWords(session(simulated, demo), <DayFacts plan={plan} onChange={nothing} />).includes('A practice day')
    expect([shows(false, false), shows(true, false), shows(true, true)]).toEqual([false, true, false])
  })
})

describe('the run list', () => {
  const list = (change: Partial<typeof plan>, runs: Parameters<typeof RunList>[0]['runs'] = []) => ({
    client: schoolAnswers(),
    element: <RunList plan={{ ...plan, ...change }} runs={runs} starting={false} onStart={nothing} onOpen={nothing} onChange={nothing} />,
  })
  const shown = (change: Partial<typeof plan>, runs: Parameters<typeof RunList>[0]['runs'] = []): string => {
    const { client, element } = list(change, runs)
    return pageWords(client, element)
  }
  const [firstRun, secondRun] = plan.slots.filter((s) => s.kind === 'run')

  it('has a line for each slot, in the order of time whatever the order of the plan', () => {
    const backwards = shown({ slots: plan.slots.toReversed() })
    const starts = [...backwards.matchAll(/(\d\d:\d\d) to \d\d:\d\d/g)].map(([, start]) => start)
    // Whoever does an exercise together has one line.
    expect(starts).toEqual(
      exercisesAsOne(plan.slots)
        .map(({ slot }) => slot.start)
        .toSorted(),
    )
    expect(starts.length).toBeLessThan(plan.slots.length)
  })

  it('tells in the line of each what does not fit, as the check of the day finds it', () => {
    const clash = { ...secondRun, carId: firstRun.carId, start: firstRun.start, end: firstRun.end }
    const slots = [firstRun, clash]
    const found = checkDay({ slots, students: demoSchool.students, cars: demoSchool.cars, grounded: new Set() })
    expect(found.map((p) => p.kind)).toEqual(['car-twice'])
    const words = shown({ slots })
    expect(words).toContain(`this car is out at ${firstRun.start} too`)
    expect(words).toContain('1 thing does not fit')
  })

  it('says so where a run ends before it starts, has no car, or nobody in it', () => {
    expect(shown({ slots: [{ ...firstRun, end: '09:00' }] })).toContain('ends before it starts')
    expect(shown({ slots: [{ ...firstRun, carId: undefined }] })).toContain('1 thing does not fit')
    expect(shown({ slots: [{ ...firstRun, studentId: undefined }] })).toContain('nobody drives')
  })

  it('offers a run for each who has none', () => {
    const without = plan.studentIds.filter((id) => id !== firstRun.studentId)
    expect(shown({ slots: [firstRun] })).toContain(`A run for each of ${without.length} without one`)
    expect(shown({ slots: [firstRun], studentIds: [firstRun.studentId ?? '', without[0]] })).toContain(`A run for ${nameOf(without[0])}`)
    expect(shown({ slots: [], studentIds: [] })).toContain('Nobody is in this day yet')
  })

  it('opens a run that is under way, and the debrief of one that has ended', () => {
    const run = { id: 'r', slotId: firstRun.id, endedAt: null } as unknown as Parameters<typeof RunList>[0]['runs'][number]
    expect(shown({ slots: [firstRun] }, [run])).toContain('Running: open')
    const ended = shown({ slots: [firstRun] }, [{ ...run, endedAt: '2027-05-15T10:00:00.000Z' }])
    expect(ended).toContain('Debrief')
    expect(ended).not.toContain('Start the run')
  })
})

describe('the page of the day', () => {
  const page = (client: ReturnType<typeof schoolAnswers>): string =>
    pageWords(
      client,
      <DayProvider>
        <DayStage />
      </DayProvider>,
    )
  it('names the day, and leads to making one where there is none', () => {
    expect(page(schoolAnswers('lead', answersOfDay()))).toContain('Sandpiper day at Ostrel Mere · Saturday 15 May 2027')
    const empty = schoolAnswers('lead', [
      [['days'], []],
      [['circuits'], []],
    ])
    expect(page(empty)).toContain('No day yet. Choose its date; people, cars and times come next.')
  })
})

describe('the day on paper', () => {
  it('bears the school’s name and logo where it has them', () => {
    const settings = {
      version: 1,
      schoolSettings: schoolSettingsSchema.parse({ name: 'Sandpiper School', logo: 'data:image/png;base64,AAAA' }),
    }
    const markup = pageMarkup(schoolAnswers('lead', [[['school-settings'], settings]]), <DaySheet plan={plan} size="A4" />)
    expect(markup).toContain('Sandpiper School')
    expect(markup).toContain('src="data:image/png;base64,AAAA"')
    expect(pageMarkup(schoolAnswers(), <DaySheet plan={plan} size="A4" />)).not.toContain('<img')
  })

  it('holds every run with its student, instructor and car, on either size', () => {
    for (const size of ['A4', 'A3'] as const) {
      const words = pageWords(schoolAnswers(), <DaySheet plan={plan} size={size} />)
      for (const slot of plan.slots) expect(words).toContain(slot.start)
      for (const slot of plan.slots.filter((s) => s.studentId)) expect(words).toContain(nameOf(slot.studentId))
    }
  })
})
