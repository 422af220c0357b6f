import { readFileSync } from 'node:fs'
import { ThemeProvider } from '@mui/material'
import {
  accountSchema,
  type Day,
  type DayPlan,
  type DaySummary,
  dayPlanSchema,
  type StoredCar,
  type StoredSchoolSettings,
  type StoredStudent,
  schoolCarSchema,
  schoolSettingsSchema,
  studentSchema,
} from '@ochote/contract'
import { plannedDay, type Student, type Vehicle } from '@ochote/core'
import { type QueryClient, QueryClientProvider } from '@tanstack/react-query'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter } from 'react-router'
import { vi } from 'vitest'
import { queryClient } from '../data/api/queries.ts'
import { makeTheme } from '../look/theme.tsx'
import { LapSelectionProvider } from '../shared/selection/lap-selection.tsx'

const demo = (file: string): string => readFileSync(new URL(`../../../../demo/${file}`, import.meta.url), 'utf8')
const scenario = JSON.parse(demo('scenario.json'))

const students: Student[] = scenario.students.map((s: unknown) => studentSchema.parse(s))
const dayPlan = dayPlanSchema.parse(scenario.day)
/** Moves by which the day is planned here: enough for a plan in which everybody drives. */
const STEPS = 20_000

/** The demo school as the server tells it, without a server. */
export const demoSchool = {
  day: {
    id: scenario.day.id,
    version: 1,
    plan: plannedDay(dayPlan, { students, schoolCars: [], teaching: {}, lap_s: () => 110 }, STEPS),
  } satisfies Day,
  students: students as StoredStudent[],
  accounts: scenario.accounts.map((a: object) => accountSchema.parse({ ...a, canSignIn: true })),
  vehicles: (JSON.parse(demo('vehicles.json')) as Vehicle[]).map((v) => ({ ...v, version: 1 })),
  cars: scenario.day.cars.map(
    (c: object): StoredCar => ({ ...schoolCarSchema.parse(c), version: 1, archivedAt: null, condition: null }),
  ) as StoredCar[],
  settings: { version: 1, schoolSettings: schoolSettingsSchema.parse({}) } satisfies StoredSchoolSettings,
}

/** Fills the cache with answers, by their keys; nothing is asked of a server. */
export const answers = (given: readonly (readonly [readonly unknown[], unknown])[]): QueryClient => {
  queryClient.clear()
  queryClient.setDefaultOptions({ queries: { staleTime: Number.POSITIVE_INFINITY, retry: false, enabled: false } })
  for (const [key, data] of given) queryClient.setQueryData(key, data)
  return queryClient
}

/** Answers of the demo school, and who is signed in. */
export const schoolAnswers = (
  role: 'lead' | 'instructor' = 'lead',
  more: readonly (readonly [readonly unknown[], unknown])[] = [],
): QueryClient =>
  answers([
    [
      ['session'],
      { account: demoSchool.accounts.find((a: { role: string }) => a.role === role), setUp: true, demo: false, simulated: false },
    ],
    [['students'], demoSchool.students],
    [['students', 'lines'], []],
    [['accounts'], demoSchool.accounts],
    [['vehicles'], demoSchool.vehicles],
    [['cars'], demoSchool.cars],
    [['venues'], []],
    [['school-settings'], demoSchool.settings],
    ...more,
  ])

/** What the browser gives a page about its day: nothing was chosen before. */
export const stubBrowser = (at = 'http://localhost:4180/'): void => {
  const nothingStored = { getItem: () => null, setItem: () => {} }
  vi.stubGlobal('window', { isSecureContext: true, location: new URL(at), innerHeight: 800 })
  vi.stubGlobal('navigator', { serviceWorker: {}, onLine: true })
  vi.stubGlobal('sessionStorage', nothingStored)
  vi.stubGlobal('localStorage', nothingStored)
}

/** A day with changes, as the only one of the school, and the line that the list of days has of it. */
export const answersOfDay = (
  change: Partial<DayPlan> = {},
  line: Partial<DaySummary> = {},
): readonly (readonly [readonly unknown[], unknown])[] => {
  const day = { ...demoSchool.day, plan: { ...demoSchool.day.plan, ...change } }
  const { date, title, venue, weather, template, settings, studentIds, cars, slots } = day.plan
  const summary: DaySummary = {
    id: day.id,
    date,
    title,
    venue,
    weather,
    template,
    circuitId: settings.circuitId,
    students: studentIds.length,
    cars: cars.length,
    runs: slots.filter((s) => s.kind === 'run').length,
    driven: 0,
    ...line,
  }
  return [
    [['days'], [summary]],
    [['days', day.id], day],
    [['days', day.id, 'links'], []],
    [['circuits'], []],
    [['runs', {}], []],
    [['runs', { dayId: day.id }], []],
  ]
}

/** A page's markup at an address, with the answers that were given. */
export const pageMarkup = (client: QueryClient, element: ReactElement, at = '/'): string =>
  renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <ThemeProvider theme={makeTheme(false)}>
        <MemoryRouter initialEntries={[at]}>
          <LapSelectionProvider>{element}</LapSelectionProvider>
        </MemoryRouter>
      </ThemeProvider>
    </QueryClientProvider>,
  ).replace(/<style[\s\S]*?<\/style>/g, '')

/** The words of a page in order, without tags. */
export const pageWords = (client: QueryClient, element: ReactElement, at = '/'): string =>
  pageMarkup(client, element, at)
    .replace(/<[^>]+>/g, ' ')
    .replaceAll('&#x27;', '’')
    .replaceAll('&amp;', '&')
    .replace(/\s+/g, ' ')
    .trim()
