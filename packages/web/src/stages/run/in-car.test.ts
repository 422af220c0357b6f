import { readFileSync } from 'node:fs'
import { buildCircuit, type DayEvent, makePlan, makeVenue, readCircuit, standing, type Vehicle } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import type { CarNow } from '../../data/live/live-store.ts'
import { comingUp, nextPassing } from './comes-up.tsx'
import { flagsFor } from './flags-in-car.tsx'
import { rowMistakes } from './row-debrief.tsx'
import { overtakes } from './who-passed.ts'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'x'))
const vehicle = (JSON.parse(demo('vehicles.json')) as Vehicle[])[0]
const plan = makePlan(makeVenue(circuit), vehicle, { surface: 'dry', pace: 0.6, school: 'straight' })
const lap_s = plan.profile.lapTime_s

let count = 0
const flag = (name: string, cornerId: string | null, up: boolean, runId?: string): DayEvent =>
  ({
    id: `f${count++}`,
    dayId: 'd',
    at: '2027-05-15T10:00:00Z',
    kind: 'flag',
    flag: name,
    cornerId,
    up,
    ...(runId ? { runId } : {}),
  }) as DayEvent
const shown = (events: DayEvent[], runId: string, station_m: number | null) =>
  flagsFor(standing(events), [runId], plan, station_m).map(
    ({ flag: f, ahead_m }) => `${f.flag} ${f.cornerId} ${ahead_m === null ? '' : Math.round(ahead_m)}`,
  )

describe('flags in one car', () => {
  const [first, second] = plan.corners

  it('stand until they are taken down, the next one on the road first', () => {
    const events = [flag('Yellow', second.id, true), flag('Yellow', first.id, true)]
    const before_m = Math.max(0, first.start_m - 100)
    expect(shown(events, 'r', before_m).map((s) => s.split(' ')[1])).toEqual([first.id, second.id])
    expect(shown([...events, flag('Yellow', first.id, false)], 'r', before_m)).toHaveLength(1)
    const undone = [...events, { id: 'u', dayId: 'd', at: '2027-05-15T10:01:00Z', kind: 'undo', undoes: events[0].id } as DayEvent]
    expect(shown(undone, 'r', before_m).map((s) => s.split(' ')[1])).toEqual([first.id])
  })

  it('for everywhere come before all, those for another car not at all', () => {
    const events = [flag('Yellow', first.id, true), flag('Red', null, true), flag('Black', null, true, 'other')]
    expect(shown(events, 'r', 0).map((s) => s.split(' ')[0])).toEqual(['Red', 'Yellow'])
    expect(shown(events, 'other', 0).map((s) => s.split(' ')[0])).toContain('Black')
    expect(shown([flag('Yellow', first.id, true)], 'r', null)).toEqual([`Yellow ${first.id} `])
  })
})

const car = (carNumber: string, runId: string, station_m: number, lapTime_s = lap_s, inPits = false): CarNow =>
  ({ carNumber, runId, station_m, lap: 2, lapTime_s, inPits, speed_mps: 30, arrivedAt: 0 }) as unknown as CarNow
const cars = (...list: CarNow[]) => new Map(list.map((c) => [c.carNumber, c]))

describe('who comes up behind', () => {
  it('is the next car behind, if it is near and not parked', () => {
    const own = car('4', 'r', 1000)
    expect(comingUp(plan, cars(own, car('7', 's', 950, lap_s - 3)), 'r')).toMatchObject({ carNumber: '7', closing: true })
    expect(comingUp(plan, cars(own, car('7', 's', 950)), 'r')?.closing).toBe(false)
    expect(comingUp(plan, cars(own, car('7', 's', 1050)), 'r')).toBeNull()
    expect(comingUp(plan, cars(own, car('7', 's', 400)), 'r')).toBeNull()
    expect(comingUp(plan, cars(own, car('7', 's', 950, lap_s, true)), 'r')).toBeNull()
    expect(comingUp(plan, cars(car('7', 's', 950)), 'r')).toBeNull()
  })

  it('may go by at the next passing place, on its side', () => {
    const place = (from_m: number, side: 'left' | 'right') => ({
      id: String(from_m),
      kind: 'passing' as const,
      name: 'P',
      side,
      from_m,
      to_m: from_m + 100,
    })
    const [a, b] = [plan.corners[0].end_m + 20, plan.corners[4].end_m + 20]
    const of = { ...plan, ground: [place(a, 'left'), place(b, 'right')] }
    expect(nextPassing(of, a - 50)).toMatchObject({ side: 'left', name: plan.corners[0].name })
    expect(nextPassing(of, a + 50)).toMatchObject({ side: 'right', name: plan.corners[4].name })
    expect(nextPassing({ ...plan, ground: [] }, 0)).toBeNull()
  })
})

describe('what a row got wrong', () => {
  it('is led by what most of them did, each pass once', () => {
    const seen = (cornerId: string, code: 'brake-late' | 'apex-missed', lap: number) => ({ cornerId, code, lap })
    const found = rowMistakes([
      { name: 'Bram', seen: [seen('T1', 'brake-late', 1), seen('T1', 'brake-late', 1), seen('T2', 'apex-missed', 2)] },
      { name: 'Yuna', seen: [seen('T1', 'brake-late', 3)] },
      { name: 'Emil', seen: [seen('T2', 'apex-missed', 1), seen('T2', 'apex-missed', 2), seen('T2', 'apex-missed', 3)] },
    ])
    expect(found.map((m) => `${m.code} ${m.who.join('+')} ${m.times}`)).toEqual(['apex-missed Bram+Emil 4', 'brake-late Bram+Yuna 2'])
  })
})

describe('who passed whom', () => {
  const at = (carNumber: string, station_m: number, inPits = false, speed_mps = 30) => ({ carNumber, station_m, inPits, speed_mps })
  const look = (...list: ReturnType<typeof at>[]) => new Map(list.map((c) => [c.carNumber, c]))
  const length_m = plan.circuit.length_m

  it('is seen between two looks, over the line too, by cars that drive near each other', () => {
    const of = (before: ReturnType<typeof look>, now: ReturnType<typeof look>) => overtakes(plan, before, now).map((o) => `${o.by}>${o.of}`)
    expect(of(look(at('4', 100), at('7', 80)), look(at('4', 120), at('7', 130)))).toEqual(['7>4'])
    expect(of(look(at('4', length_m - 5), at('7', length_m - 20)), look(at('4', 5), at('7', 15)))).toEqual(['7>4'])
    expect(of(look(at('4', 100), at('7', 80)), look(at('4', 120), at('7', 100)))).toEqual([])
    expect(of(look(at('4', 100), at('7', 80)), look(at('4', 100, false, 0), at('7', 130)))).toEqual([])
    expect(of(look(at('4', 100, true), at('7', 80)), look(at('4', 110, true), at('7', 130)))).toEqual([])
    // On the other side of the lap nobody passes anybody.
    expect(of(look(at('4', 100), at('7', 100 + length_m / 2 - 10)), look(at('4', 100), at('7', 100 + length_m / 2 + 10)))).toEqual([])
  })
})
