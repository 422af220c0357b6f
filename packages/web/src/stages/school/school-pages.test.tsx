import { schoolSettingsSchema } from '@ochote/contract'
import { peopleOf, readPeopleList } from '@ochote/core'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { AskFirst } from '../../shared/ask-first.tsx'
import { ChooseSome } from '../../shared/choose-some.tsx'
import { LostFields } from '../../shared/lost-fields.tsx'
import { answers, demoSchool, pageMarkup, pageWords, schoolAnswers } from '../page-harness.test-data.tsx'
import { CarsPage } from './cars-page.tsx'
import { InstructorsPage } from './instructors-page.tsx'
import { NetworkPage } from './network-page.tsx'
import { PeoplePage } from './people-page.tsx'
import { SettingsPage } from './settings-page.tsx'
import { studentsCsv } from './students-csv.ts'

const [imke] = demoSchool.students

describe('the page of students', () => {
  it('counts who is here, opens the one that the address names, and hides who was put away', () => {
    const away = { ...demoSchool.students[1], archivedAt: '2027-05-01T00:00:00.000Z' }
    const students = demoSchool.students.map((s) => (s.id === away.id ? away : s))
    const words = pageWords(schoolAnswers('lead', [[['students'], students]]), <PeoplePage />, `/school?student=${imke.id}`)
    expect(words).toContain(`${students.length - 1} students, 1 put away`)
    expect(words).toContain(imke.name)
    expect(words).not.toContain(away.name)
    expect(words).toContain('Put away')
  })

  it('says what to do first where nobody is there', () => {
    const words = pageWords(schoolAnswers('lead', [[['students'], []]]), <PeoplePage />)
    expect(words).toContain('Nobody yet. Add students one by one, or paste a list from a spreadsheet.')
  })

  it('offers erasing to the lead alone', () => {
    const at = `/school?student=${imke.id}`
    expect(pageWords(schoolAnswers('lead'), <PeoplePage />, at)).toContain('Erase this student')
    expect(pageWords(schoolAnswers('instructor'), <PeoplePage />, at)).not.toContain('Erase this student')
  })

  it('names who is past the time for which records are kept', () => {
    const settings = { version: 1, schoolSettings: schoolSettingsSchema.parse({ retention_months: 12 }) }
    const line = { studentId: imke.id, runs: 3, lastDay: '2020-05-01', lastRunId: 'r', focus: null }
    const client = schoolAnswers('lead', [
      [['school-settings'], settings],
      [['students', 'lines'], [line]],
    ])
    expect(pageWords(client, <PeoplePage />)).toContain(`Past the 12 months for which records are kept: ${imke.name}`)
    const fresh = schoolAnswers('lead', [
      [['school-settings'], settings],
      [['students', 'lines'], [{ ...line, lastDay: '2999-01-01' }]],
    ])
    expect(pageWords(fresh, <PeoplePage />)).not.toContain('Past the 12 months')
  })

  it('writes a table that the list of people reads again', () => {
    const list = readPeopleList(studentsCsv(demoSchool.students))
    const people = peopleOf(list, list.guess)
    expect(people.map((p) => p.name)).toEqual(demoSchool.students.map((s) => s.name))
    expect(people.map((p) => p.level)).toEqual(demoSchool.students.map((s) => s.level))
    expect(people.map((p) => p.language ?? null)).toEqual(demoSchool.students.map((s) => s.profile.language))
    expect(people.every((p) => p.unknown.length === 0)).toBe(true)
  })
})

describe('the page of instructors', () => {
  it('shows whom each teaches, and lets the lead alone change it', () => {
    const [first, ...others] = demoSchool.accounts
    const accounts = [{ ...first, teaching: { levels: ['steady'], vehicleIds: [], languages: [] } }, ...others]
    const lead = pageMarkup(schoolAnswers('lead', [[['accounts'], accounts]]), <InstructorsPage />)
    expect(lead).toContain('Add the instructor')
    expect(lead).toMatch(/aria-pressed="true"[^>]*>steady/)
    const instructor = pageWords(schoolAnswers('instructor', [[['accounts'], accounts]]), <InstructorsPage />)
    expect(instructor).toContain('The lead adds and changes accounts.')
    expect(instructor).not.toContain('New password')
  })

  it('lists closed accounts after the others, to be opened again', () => {
    const closed = { ...demoSchool.accounts[1], archivedAt: '2027-05-01T00:00:00.000Z', canSignIn: false }
    const accounts = [demoSchool.accounts[0], closed]
    const words = pageWords(schoolAnswers('lead', [[['accounts'], accounts]]), <InstructorsPage />)
    expect(words).toContain('1 with an account, 1 closed')
    expect(words).toContain('instructor · closed')
    expect(words).toContain('Open it again')
  })
})

describe('the page of cars', () => {
  const bad = {
    carId: demoSchool.cars[0].id,
    runId: 'r',
    at: '2027-05-15T10:00:00.000Z',
    brakes: 'stop',
    tyres: 'good',
    other: 'watch',
  } as const
  it('shows each with its vehicle and the last word on it', () => {
    const cars = demoSchool.cars.map((c, k) => (k === 0 ? { ...c, condition: bad } : c))
    const history = [{ ...bad, date: '2027-05-15', studentName: imke.name, by: 'Marit Oakhanger' }]
    const client = schoolAnswers('lead', [
      [['cars'], cars],
      [['cars', cars[0].id, 'history'], history],
    ])
    const words = pageWords(client, <CarsPage />)
    expect(words).toContain(`${cars.length} cars`)
    expect(words).toContain('brakes: do not drive; anything else: keep an eye on')
    expect(words).toContain(`(after ${imke.name}, told by Marit Oakhanger)`)
  })

  it('asks for a vehicle before a car', () => {
    const client = schoolAnswers('lead', [
      [['cars'], []],
      [['vehicles'], []],
    ])
    expect(pageWords(client, <CarsPage />)).toContain('A car is one of a vehicle. Add a vehicle first.')
    expect(pageWords(schoolAnswers('lead', [[['cars'], []]]), <CarsPage />)).toContain('No cars yet.')
  })
})

describe('the settings of the school', () => {
  const withCircuits = (circuits: readonly unknown[], students: readonly unknown[]) =>
    schoolAnswers('lead', [
      [['circuits'], circuits],
      [['students'], students],
    ])
  it('offer an archive to be read in while there is nothing yet', () => {
    expect(pageWords(withCircuits([], []), <SettingsPage />)).toContain('Choose an archive')
    expect(pageWords(withCircuits([{ id: 'c' }], []), <SettingsPage />)).not.toContain('Choose an archive')
    expect(pageWords(withCircuits([{ id: 'c' }], []), <SettingsPage />)).toContain('Export everything')
  })

  it('are read by instructors and changed by the lead', () => {
    const shut = (role: 'lead' | 'instructor') => /<fieldset[^>]* disabled/.test(pageMarkup(schoolAnswers(role), <SettingsPage />))
    expect(shut('instructor')).toBe(true)
    expect(shut('lead')).toBe(false)
  })

  it('say that practice is kept out of records, and in the demo that everything is simulated', () => {
    expect(pageWords(schoolAnswers('lead'), <SettingsPage />)).toContain('it is in no record, on no sheet, in no group and in no report')
    const demo = schoolAnswers('lead', [[['session'], { account: demoSchool.accounts[0], setUp: true, demo: true, simulated: true }]])
    expect(pageWords(demo, <SettingsPage />)).toContain('This is the demo: its devices are simulated')
  })
})

describe('the page of the network', () => {
  beforeEach(() => {
    vi.stubGlobal('window', { isSecureContext: true, location: new URL('http://localhost:4180/school/network') })
    vi.stubGlobal('navigator', { serviceWorker: {} })
  })
  afterEach(() => {
    vi.unstubAllGlobals()
  })
  it('says how to open a server that listens to itself alone', () => {
    const client = schoolAnswers('lead', [[['network'], { addresses: [], onboarding: [], fingerprint: null }]])
    const words = pageWords(client, <NetworkPage />)
    expect(words).toContain('No other device can open this server yet')
    expect(words).toContain('bin/start --host')
  })

  it('shows first how to trust it, then where to open it, and a square for each page beside the track', () => {
    const network = { addresses: ['https://192.168.7.3:4180'], onboarding: ['http://192.168.7.3:4181'], fingerprint: 'AB:CD' }
    const client = schoolAnswers('lead', [[['network'], network]])
    const markup = pageMarkup(client, <NetworkPage />)
    expect(markup.indexOf('1 Once for each device: trust this server')).toBeLessThan(markup.indexOf('2 Then: open the school'))
    expect(markup).toContain('AB:CD')
    expect(markup).toContain('<title>Trust this server: http://192.168.7.3:4181</title>')
    expect(markup).toContain('<title>Corner post: https://192.168.7.3:4180/run/corner-post</title>')
  })
})

describe('parts that pages share', () => {
  const client = answers([])
  it('ask before what cannot be taken back', () => {
    const words = pageWords(client, <AskFirst label="Remove" question="It is gone then." yes="Remove it" onYes={() => {}} />)
    expect(words).toBe('Remove')
  })

  it('show what none chosen means, and what is chosen', () => {
    const some = (chosen: ('a' | 'b')[]) => (
      <ChooseSome
        label="Levels"
        none="all levels"
        options={[['a', 'one'] as const, ['b', 'two'] as const]}
        chosen={chosen}
        onChoose={() => {}}
      />
    )
    expect(pageWords(client, some([]))).toBe('Levels: all levels one two')
    expect(pageMarkup(client, some(['b']))).toMatch(/aria-pressed="true"[^>]*>two/)
  })

  it('name a field that was not kept, without its ids', () => {
    const lost = [
      { path: ['settings', 'surface'], mine: 'dry', theirs: 'wet' },
      { path: ['slots', '019aaaaa-0000-7000-8000-000000000001', 'carId'], mine: undefined, theirs: 'c' },
      { path: ['mass_kg'], mine: 1200, theirs: 1300 },
    ]
    const words = pageWords(client, <LostFields lost={lost} onSeen={() => {}} />)
    expect(words).toContain('settings of the day, surface: yours dry, now wet')
    expect(words).toContain('run list, car: yours nothing, now c')
    expect(words).toContain('mass: yours 1200, now 1300')
    expect(pageWords(client, <LostFields lost={[]} onSeen={() => {}} />)).toBe('')
  })
})
