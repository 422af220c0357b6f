import { type DayEvent, incidentKinds, lapKindOf, standing, stopNow, stopsAll } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { dayEventSchema } from './day-event.ts'
import { liveEventSchema } from './live.ts'
import { newSimulationSchema, runEventSchema, simulationSchema } from './run.ts'

const id = (k: number): string => `018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e${String(k).padStart(2, '0')}`
const common = (k: number) => ({ id: id(k), dayId: 'd', at: '2027-05-15T10:00:00Z' })

describe('a stop', () => {
  const stop = (k: number): DayEvent => ({ ...common(k), kind: 'stop', why: 'Oil' })
  const restart = (k: number, stopId: string): DayEvent => ({ ...common(k), kind: 'restart', stopId, decision: 'go-on' })

  it('holds until somebody decides about it', () => {
    expect(stopNow([])).toBeNull()
    expect(stopNow([stop(1)])?.id).toBe(id(1))
    expect(stopNow([stop(1), restart(2, id(1))])).toBeNull()
    // A second stop is not ended by the decision about the first, whatever came first.
    expect(stopNow([stop(1), stop(3), restart(2, id(1))])?.id).toBe(id(3))
    expect(stopNow([stop(1), { ...common(4), kind: 'undo', undoes: id(1) }])).toBeNull()
  })

  it('follows from some incidents and not from others', () => {
    expect(incidentKinds.filter(stopsAll)).toEqual(['contact', 'off-and-stuck', 'injury', 'oil-or-debris'])
  })
})

describe('events of a day', () => {
  it.each([
    { kind: 'flag', flag: 'Yellow', cornerId: null, up: true },
    { kind: 'incident', what: 'spin', cornerId: 'T3', runId: null, carNumber: '4', action: 'called-in' },
    { kind: 'release', runIds: ['a', 'b'], interval_s: 10, firstAt: '2027-05-15T10:00:05Z' },
    { kind: 'row', runIds: ['a', 'b'], lap: 1 },
    { kind: 'radio', to: ['a'], text: 'Close up' },
    { kind: 'drill', studentId: 's', drill: 'slalom', surface: 'wet', result: 'clean' },
    { kind: 'car-seen', carNumber: '77', cornerId: 'T1', code: null },
    { kind: 'weather', rain: 'rain', air_C: 12, simulated: true },
    { kind: 'beam', carNumber: '1', lapTime_s: 91.2, simulated: true },
  ])('are taken as they are told: $kind', (told) => {
    const event = { ...common(1), ...told }
    expect(dayEventSchema.parse(event)).toEqual(event)
    expect(liveEventSchema.safeParse({ kind: 'day-event', event }).success).toBe(true)
  })

  it.each([
    { kind: 'row', runIds: ['a'], lap: 1 },
    { kind: 'row', runIds: ['a', 'b', 'c', 'd', 'e', 'f', 'g'], lap: 1 },
    { kind: 'incident', what: 'nothing', cornerId: null, runId: null, carNumber: null, action: 'watched' },
    { kind: 'drill', studentId: 's', drill: 'slalom', surface: 'wet', result: 'superb' },
    { kind: 'radio', to: [], text: '' },
  ])('that cannot be are refused: $kind', (told) => {
    expect(dayEventSchema.safeParse({ ...common(1), ...told }).success).toBe(false)
  })

  it('stand until an undo takes them back', () => {
    const flag: DayEvent = { ...common(1), kind: 'flag', flag: 'Red', cornerId: null, up: true }
    expect(standing([flag])).toEqual([flag])
    expect(standing([flag, { ...common(2), kind: 'undo', undoes: id(1) }])).toEqual([])
  })
})

describe('events of a run', () => {
  const run = (k: number) => ({ id: id(k), runId: 'r', at: '2027-05-15T10:00:00Z' })

  it('know what was logged before there were other screens than the ride-along', () => {
    const old = { ...run(1), kind: 'observation', cornerId: 'T1', code: 'tense', lap: 1 }
    expect(runEventSchema.parse(old)).toEqual(old)
    expect(runEventSchema.safeParse({ ...old, via: 'corner-post', shown: true }).success).toBe(true)
    expect(runEventSchema.safeParse({ ...old, via: 'grandstand' }).success).toBe(false)
  })

  it('keep the pace under its ceiling', () => {
    const pace = (value: number) => runEventSchema.safeParse({ ...run(1), kind: 'pace', lap: 2, pace: value, why: '' }).success
    expect([pace(0.75), pace(0.92), pace(0.93)]).toEqual([true, true, false])
  })

  it('leave an undo of an undo without effect', () => {
    const events = [
      { ...run(1), kind: 'held-well' as const },
      { ...run(2), kind: 'undo' as const, undoes: id(1) },
      { ...run(3), kind: 'undo' as const, undoes: id(2) },
    ]
    expect(standing(events)).toEqual([])
  })
})

describe('laps', () => {
  it('begin with the out lap and end with the in lap, whatever the programme', () => {
    for (const sighting of [0, 1, 2])
      for (const coached of [1, 4])
        for (const coolDown of [0, 1]) {
          const program = { sighting, coached, coolDown }
          const kinds = Array.from({ length: sighting + coached + coolDown + 2 }, (_, lap) => lapKindOf(program, lap))
          expect(kinds[0]).toBe('out')
          expect(kinds.at(-1)).toBe('in')
          expect(kinds.filter((k) => k === 'coached')).toHaveLength(coached)
          expect(kinds.filter((k) => k === 'sighting')).toHaveLength(sighting)
        }
  })
})

describe('a simulation', () => {
  it('stored by an earlier release is read with today’s defaults', () => {
    const old = { seed: 1, laps: 3, speedFactor: 1, startedAt: '2027-05-15T10:00:00Z' }
    expect(simulationSchema.parse(old)).toMatchObject({
      sighting: 0,
      coolDown: 0,
      habits: 'own',
      form: 'json-tcp',
      rate_hz: 25,
      dropOuts: 0,
    })
    expect(newSimulationSchema.safeParse({ seed: 1, laps: 3, speedFactor: 61 }).success).toBe(false)
  })
})
