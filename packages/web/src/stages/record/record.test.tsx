import { ThemeProvider } from '@mui/material'
import { recordSchema, type StudentRecord } from '@ochote/contract'
import type { MistakeCode, StudentEvent } from '@ochote/core'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { makeTheme } from '../../look/theme.tsx'
import { FocusBox } from './focus-box.tsx'
import { HandOverBox } from './hand-over-box.tsx'
import { MistakesPage } from './mistakes-page.tsx'
import { recordCsv } from './record-csv.ts'
import { toldInWords } from './runs-page.tsx'
import { SkillsTable } from './skills-table.tsx'
import { logbookOf } from './use-logbook.ts'

const settings = { circuitId: 'here', vehicleId: 'hatchback', surface: 'dry', pace: 0.6, school: 'straight', schemeId: 'plain' }
const run = (n: number) => ({
  id: `r${n}`,
  dayId: `d${n}`,
  slotId: null,
  studentId: 's',
  studentName: 'Imke Valderan',
  instructorId: null,
  carId: null,
  settings,
  startedAt: `2027-04-0${n}T09:00:00.000Z`,
  endedAt: `2027-04-0${n}T09:20:00.000Z`,
  simulation: null,
  hasLog: true,
  date: `2027-04-0${n}`,
  bestLap_s: 131,
  laps: 5,
})
const pass = (n: number, lap: number, cornerId: string, codes: MistakeCode[], brake_m: number) => ({
  cornerId,
  circuitId: 'here',
  run: n,
  runId: `r${n}`,
  lap,
  date: `2027-04-0${n}`,
  pace: 0.6,
  watched: 'log' as const,
  codes,
  off: { brake_m, turnIn_m: 1, apexInner_m: 0.1, slowest_mps: 0.2 },
})
const laps = [1, 2, 3, 4, 5]
const at = { circuitId: 'here', run: 1, runId: 'r1', cornerId: 'T1', code: 'brake-late' as const }

/** Two runs of five laps: T1 was braked for late in the first one, T2 never; the marks of the second are good. */
const record = (decisions: StudentEvent[] = []): StudentRecord =>
  recordSchema.parse({
    student: { id: 's', name: 'Imke Valderan', level: 'first-day', talk: 'guided', units: 'metric' },
    runs: [run(1), run(2)],
    seen: [1, 2].map((lap) => ({ ...at, lap, by: lap === 1 ? 'both' : 'log', worth_s: 0.2 })),
    passes: laps.flatMap((lap) => [
      pass(1, lap, 'T1', lap <= 2 ? ['brake-late'] : [], lap <= 2 ? 14 : 2),
      pass(1, lap, 'T2', [], 3),
      pass(2, lap, 'T1', [], 2),
      pass(2, lap, 'T2', [], 3),
    ]),
    said: [{ ...at, lap: 2, words: 'Brake earlier, at the cone; the rest follows.' }],
    incidents: [],
    decisions: decisions.map((event) => ({ by: 'Marit Oakhanger', event })),
  })
const event = (more: Record<string, unknown>): StudentEvent =>
  ({ id: crypto.randomUUID(), studentId: 's', at: '2027-04-03T10:00:00.000Z', ...more }) as StudentEvent

const pageOf = (decisions: StudentEvent[] = []) => ({
  record: record(decisions),
  book: logbookOf(record(decisions), 'here'),
  tell: () => {},
  nameOf: (id: string) => (id === 'T1' ? 'Boathouse' : 'Reedbank'),
})
const words = (element: React.ReactElement): string =>
  renderToStaticMarkup(<ThemeProvider theme={makeTheme(false)}>{element}</ThemeProvider>)
    .replace(/<style[\s\S]*?<\/style>/g, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')

describe('the logbook', () => {
  it('chooses the next focus and says why, with whether corrections stuck', () => {
    const text = words(<FocusBox {...pageOf()} />)
    expect(text).toContain('Boathouse: braked late')
    expect(text).toContain('it concerns safety: seen 2 times in 1 of 2 runs')
    expect(text).toContain('stuck 1 of 1')
  })

  it('shows a focus that a person set with the note, and what the record would choose', () => {
    const text = words(
      <FocusBox {...pageOf([event({ kind: 'focus-set', focus: { cornerId: 'T2', code: 'eyes-near' }, note: 'She asked' })])} />,
    )
    expect(text).toContain('Reedbank: looking too close')
    expect(text).toContain('“She asked”')
    expect(text).toContain('The record would choose Boathouse: braked late.')
  })

  it('holds skills against what they ask, and offers the level once a person confirmed them', () => {
    const before = words(<SkillsTable {...pageOf()} />)
    expect(before).toMatch(/braking point the brake within 6 m of the mark 2, asks 2 shown (Boathouse 8|Reedbank 10) of 10/)
    expect(before).toContain('For “building”, an instructor still has to confirm braking point, turn-in.')
    const confirmed = [
      event({ kind: 'skill-confirmed', skill: 'braking-point', shows: '' }),
      event({ kind: 'skill-confirmed', skill: 'turn-in', shows: '' }),
    ]
    const held = words(<SkillsTable {...pageOf(confirmed)} />)
    expect(held).toContain('Held by braked late in the last ten laps.')
    expect(held).not.toContain('Set the level')
    const clean = { ...record(confirmed), passes: record().passes.filter((p) => p.run === 2) }
    const page = { ...pageOf(confirmed), record: clean, book: logbookOf(clean, 'here') }
    expect(words(<SkillsTable {...page} />)).toContain('Set the level to “building”')
    const taken = [...confirmed, event({ kind: 'skill-withdrawn', skill: 'turn-in', why: '' })]
    expect(words(<SkillsTable {...pageOf(taken)} />)).toContain('still has to confirm turn-in.')
  })

  it('makes a hand-over, and tells when what a person wrote has grown old', () => {
    expect(words(<HandOverBox {...pageOf()} />)).toContain('2 runs on 2 days, 10 laps looked at')
    const old = { ...event({ kind: 'hand-over', text: 'Let her be.' }), at: '2027-04-01T12:00:00.000Z' } as StudentEvent
    const text = words(<HandOverBox {...pageOf([old])} />)
    expect(text).toContain('Let her be.')
    expect(text).toContain('1 run since')
  })

  it('shows mistakes over runs, corrections by wording, and what was forgotten between days', () => {
    const text = words(<MistakesPage {...pageOf()} />)
    expect(text).toContain('“Brake earlier, at the cone; the rest follows.” braked late 1 of 1')
    expect(text).toMatch(/1, to 02\.04\. 0% 0% 0 \(−\d+ to \+\d+\) points at once/)
  })

  it('goes out as a table with a row a pass', () => {
    const rows = recordCsv(record()).trim().split('\n')
    expect(rows).toHaveLength(21)
    expect(rows[1]).toBe('1,2027-04-01,here,dry,0.6,1,T1,log,brake-late,0.2,14,1,0.1,0.2')
  })

  it('says in words what was decided', () => {
    const say = (more: Record<string, unknown>): string => toldInWords({ by: null, event: event(more) }, (id) => id)
    expect(say({ kind: 'laps-shared', agreed: true })).toBe('noted that laps may be shown to others')
    expect(say({ kind: 'focus-set', focus: null, note: '' })).toBe('went back to the focus of the record')
    expect(say({ kind: 'level-set', level: 'steady', why: 'shown' })).toBe('set the level to “steady”: shown')
  })
})
