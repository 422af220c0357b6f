import type { DebriefLine, Run } from '@ochote/contract'
import { briefingParts, type DayEvent } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { type DayAtHand, dayStates } from './day-states.ts'

const empty: DayAtHand = {
  surface: 'dry',
  widthAssumed: false,
  studentIds: [],
  runsPlanned: 0,
  problems: [],
  events: [],
  runs: [],
  lines: [],
}
const common = (id: string) => ({ id, dayId: 'd', at: '2027-05-15T09:00:00.000Z' })
const weather = (rain: 'dry' | 'rain'): DayEvent => ({ ...common(rain), kind: 'weather', rain, air_C: 12, simulated: false })
const run = (id: string, endedAt: string | null, slotId: string | null = id): Run =>
  ({ id, endedAt, slotId, practice: false }) as unknown as Run
const line = (runId: string, sheetGivenAt: string | null): DebriefLine => ({
  runId,
  laps: 3,
  best_s: 80,
  costliest: null,
  mostFrequent: null,
  lookedAt: false,
  sheetGivenAt,
})

describe('how the stages stand', () => {
  it('asks for the first things of an empty day, and says nothing of what nobody can know', () => {
    expect(dayStates(empty)).toEqual({
      cones: { words: 'not laid yet', to: '/cones/lay', asks: true },
      day: { words: 'nobody in it', to: '/day', asks: true },
    })
    expect(dayStates({ ...empty, widthAssumed: true }).circuit).toMatchObject({ words: 'width assumed', asks: true })
  })

  it('says that cones are for another surface than the weather leaves, until the plan fits or the weather does', () => {
    const laid: DayEvent = { ...common('c'), kind: 'cone-report', coneId: 'T1-brake', state: 'laid', error_m: null }
    expect(dayStates({ ...empty, events: [laid] }).cones).toEqual({ words: '1 laid', to: '/cones/check', asks: false })
    const wet = [laid, weather('rain')]
    expect(dayStates({ ...empty, events: wet }).cones).toEqual({ words: 'for dry; it is not', to: '/cones', asks: true })
    expect(dayStates({ ...empty, events: wet, surface: 'wet' }).cones?.asks).toBe(false)
    expect(dayStates({ ...empty, events: [...wet, weather('dry')] }).cones?.asks).toBe(false)
  })

  it('counts who is not briefed, what does not fit, what is left to drive, and sheets to give', () => {
    const briefed = briefingParts.map((part): DayEvent => ({ ...common(part), kind: 'acknowledged', studentId: 'imke', part }))
    const day: DayAtHand = {
      ...empty,
      studentIds: ['imke', 'rashid'],
      runsPlanned: 3,
      events: briefed,
      runs: [run('a', '2027-05-15T09:30:00.000Z'), run('b', '2027-05-15T10:00:00.000Z')],
      lines: [line('a', '2027-05-15T10:00:00.000Z'), line('b', null)],
    }
    const { day: plan, brief, run: runs, debrief } = dayStates(day)
    expect([plan?.words, brief?.words, runs?.words, debrief?.words]).toEqual(['3 runs', '1 not briefed', '1 to drive', '1 to give'])
    expect(dayStates({ ...day, problems: [{ kind: 'no-car', slotId: 's' }] }).day).toMatchObject({ words: '1 thing off', asks: true })
    expect(dayStates({ ...day, runs: [run('c', null)] }).run).toMatchObject({ words: '1 on track', asks: false })
    const given = dayStates({ ...day, lines: [line('a', 'x'), line('b', 'x')], studentIds: ['imke'] })
    expect([given.brief?.words, given.debrief?.words]).toEqual(['all briefed', 'all given'])
  })
})
