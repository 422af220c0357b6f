import type { DayEvent } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { dayEventInWords } from './day-event-words.ts'

const common = { id: 'e', dayId: 'd', at: '2027-05-15T10:00:00.000Z' }
const nameOf = (id: string): string => ({ T3: 'Long Heron' })[id] ?? id
type Told = DayEvent extends infer E ? (E extends DayEvent ? Omit<E, 'id' | 'dayId' | 'at'> : never) : never
const words = (event: Told): string => dayEventInWords({ ...common, ...event } as DayEvent, nameOf)

describe('an event of the day, in a few words', () => {
  const told: [Told, string][] = [
    [{ kind: 'cone-report', coneId: 'T3-brake 1', state: 'missing', error_m: null }, 'Cone T3-brake 1: missing'],
    [{ kind: 'acknowledged', studentId: 's', part: 'flags' }, 'Briefing acknowledged: flags'],
    [{ kind: 'radio-heard', studentId: 's' }, 'Radio heard'],
    [{ kind: 'quiz-answer', studentId: 's', questionId: 'q', cornerId: 'T3', right: false }, 'Quiz wrong at Long Heron'],
    [
      {
        kind: 'recalled',
        studentId: 's',
        mode: 'none',
        lap_s: null,
        marks: [
          { cornerId: 'T3', action: 'brake', off_s: 0.1, off_m: 3 },
          { cornerId: 'T3', action: 'throttle', off_s: null, off_m: null },
        ],
      },
      'Driven from memory: 1 of 2 known',
    ],
    [{ kind: 'hands', cornerId: 'T3', hands: 4 }, '4 hands at Long Heron'],
    [{ kind: 'undo', undoes: 'x' }, 'Undone'],
    [{ kind: 'flag', flag: 'Yellow', cornerId: 'T3', up: true }, 'Yellow shown at Long Heron'],
    [{ kind: 'flag', flag: 'Black', cornerId: null, up: false, runId: 'r' }, 'Black down, to one car'],
    [{ kind: 'stop', why: 'oil' }, 'All stopped: oil'],
    [{ kind: 'restart', stopId: 's', decision: 'go-on' }, 'Decided: go on'],
    [{ kind: 'restart', stopId: 's', decision: 'all-in' }, 'Decided: the session ends'],
    [{ kind: 'release', runIds: ['a', 'b'], interval_s: 30, firstAt: common.at }, 'Release of 2, every 30 s'],
    [{ kind: 'row', runIds: ['a', 'b', 'c'], lap: 2 }, 'Train of 3 from lap 2'],
    [{ kind: 'radio', to: ['a'], text: 'Come in' }, 'Radio to 1: Come in'],
    [{ kind: 'radio-answer', radioId: 'x', runId: 'r' }, 'Radio: heard'],
    [{ kind: 'drill', studentId: 's', drill: 'slalom', surface: 'wet', result: 'clean' }, 'Pad, slalom, wet: clean'],
    [{ kind: 'drill-said', studentId: 's', drillId: 'x', sentence: 'Look on' }, 'Pad, said: Look on'],
    [{ kind: 'car-seen', carNumber: '7', cornerId: 'T3', code: null }, 'Car 7 at Long Heron: held well'],
    [{ kind: 'weather', rain: 'drizzle', air_C: 13, simulated: true }, 'Simulated weather station: drizzle, 13 °C'],
    [{ kind: 'beam', carNumber: '7', lapTime_s: 91.237, simulated: false }, 'Timing beam: car 7, 91.24 s'],
    [{ kind: 'beam', carNumber: '7', lapTime_s: null, simulated: true }, 'Simulated timing beam: car 7'],
  ]

  it.each(told)('%o', (event, said) => {
    expect(words(event)).toBe(said)
  })

  it('names mistakes as everywhere', () => {
    expect(words({ kind: 'teaching-changed', cornerId: 'T3', code: 'turn-in-early', what: 'Cone on by 4 m' })).toMatch(
      /^Changed at Long Heron because of “turned in (too )?early”: Cone on by 4 m$/,
    )
    expect(words({ kind: 'car-seen', carNumber: '7', cornerId: 'T3', code: 'brake-late' })).toMatch(
      /^Car 7 at Long Heron: Braked (too )?late$/,
    )
    const incident = words({ kind: 'incident', what: 'spin', cornerId: 'T3', runId: null, carNumber: '7', action: 'watched' })
    expect(incident).toMatch(/at Long Heron, car 7: /)
  })
})
