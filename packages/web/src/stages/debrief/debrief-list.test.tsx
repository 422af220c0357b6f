import type { DebriefLine, Run } from '@ochote/contract'
import { mistakeName } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { demoSchool } from '../page-harness.test-data.tsx'
import { findingInWords, rowsOf } from './debrief-list.tsx'

const settings = demoSchool.day.plan.settings
const runOf = (id: string, change: Partial<Run> = {}): Run => ({
  id,
  dayId: 'today',
  slotId: null,
  studentId: 's',
  studentName: 'Imke Valderan',
  instructorId: null,
  carId: null,
  settings,
  startedAt: '2027-05-15T09:35:00.000Z',
  endedAt: '2027-05-15T09:55:00.000Z',
  simulation: null,
  hasLog: true,
  heldAgainst: { kind: 'plan' },
  submitted: false,
  practice: false,
  date: '2027-05-15',
  ...change,
})
const lineOf = (runId: string, change: Partial<DebriefLine> = {}): DebriefLine => ({
  runId,
  laps: 4,
  best_s: 90,
  costliest: null,
  mostFrequent: null,
  lookedAt: false,
  sheetGivenAt: null,
  ...change,
})
const drive = (run: Run, line?: DebriefLine) => ({ run, line, car: '1', finding: '' })

describe('the finding of a drive in the list', () => {
  const line = (times: number) => lineOf('r', { mostFrequent: { cornerId: 'T1', code: 'brake-late', times } })
  it('names the corner as the school calls it, and how often', () => {
    const name = mistakeName('brake-late').toLowerCase()
    expect(findingInWords(runOf('r'), line(3), { T1: 'Boathouse' })).toBe(`Boathouse: ${name}, 3 times`)
    expect(findingInWords(runOf('r'), line(1), { T2: 'Weir' })).toBe(`T1: ${name}`)
  })

  it('leaves the corner out where its circuit is not the day’s, for its number would be another corner’s', () => {
    expect(findingInWords(runOf('r'), line(2), null)).toBe(`${mistakeName('brake-late')}, 2 times`)
  })

  it('says why there is none', () => {
    expect(findingInWords(runOf('r'), lineOf('r'), {})).toBe('nothing found')
    expect(findingInWords(runOf('r', { hasLog: false }), undefined, {})).toBe('no log yet')
    expect(findingInWords(runOf('r', { hasLog: false, endedAt: null }), undefined, {})).toBe('on track now')
    expect(findingInWords(runOf('r'), undefined, {})).toBe('')
  })
})

describe('the order of drives', () => {
  const today = [
    runOf('a', { studentName: 'Quill', startedAt: '2027-05-15T10:00:00.000Z' }),
    runOf('b', { studentName: 'Ashe', startedAt: '2027-05-15T11:00:00.000Z' }),
  ]
  const before = [
    runOf('c', { dayId: 'old', date: '2027-04-03', startedAt: '2027-04-03T10:00:00.000Z' }),
    runOf('d', { dayId: 'older', date: '2027-03-06', startedAt: '2027-03-06T10:00:00.000Z' }),
  ]
  const lines = new Map([
    ['a', lineOf('a', { best_s: 95, mostFrequent: { cornerId: 'T1', code: 'brake-late', times: 2 } })],
    ['b', lineOf('b', { best_s: null, mostFrequent: { cornerId: 'T1', code: 'brake-late', times: 5 } })],
  ])
  const drives = [...before.toReversed(), ...today].map((run) => drive(run, lines.get(run.id)))
  const told = (order: Parameters<typeof rowsOf>[2], dayId: string | undefined = 'today'): string[] =>
    rowsOf(drives, dayId, order).map((row) => ('heading' in row ? `— ${row.heading}` : row.drive.run.id))

  it('has this day first, then the others from the newest to the oldest, each under its date', () => {
    expect(told('time')).toEqual(['— This day', 'b', 'a', '— Saturday 3 April 2027', 'c', '— Saturday 6 March 2027', 'd'])
  })

  it('is by name, by quickest lap (none comes last), and by what was found most', () => {
    expect(told('student').slice(1, 3)).toEqual(['b', 'a'])
    expect(told('quickest').slice(1, 3)).toEqual(['a', 'b'])
    expect(told('found').slice(1, 3)).toEqual(['b', 'a'])
  })

  it('has no heading of this day where nobody drove on it, and loses no drive', () => {
    const shown = rowsOf(drives, 'another day', 'time')
    expect(shown.some((row) => 'heading' in row && row.heading === 'This day')).toBe(false)
    expect(shown.filter((row) => 'drive' in row)).toHaveLength(drives.length)
  })
})
