import { describe, expect, it } from 'vitest'
import {
  type CarsOfDay,
  carOfRun,
  carOfStudent,
  changedSettings,
  type PlanChoice,
  paceOfDrive,
  sectionsOfStudent,
  settingsOfStudent,
} from './day.ts'

const settings: PlanChoice = {
  circuitId: 'c',
  vehicleId: 'hatchback',
  surface: 'dry',
  pace: 0.75,
  school: 'straight',
  method: 'smoothest',
  schemeId: 'pairs-and-colours',
}
const slot = (id: string, studentId: string, carId?: string) => ({
  id,
  start: '09:00',
  end: '09:20',
  kind: 'run' as const,
  title: '',
  studentId,
  carId,
})
const day: CarsOfDay & { settings: PlanChoice } = {
  settings,
  slots: [slot('s1', 'imke'), slot('s2', 'imke', 'car-2'), slot('s3', 'imke', 'car-1'), slot('s4', 'rashid')],
  cars: [
    { id: 'car-1', number: '1', vehicleId: 'coupe', owner: '' },
    { id: 'car-2', number: '2', vehicleId: 'roadster', owner: '' },
  ],
}

describe('the car of a run', () => {
  it('is the one it was started with, then that of its slot, else none', () => {
    expect(carOfRun({ carId: 'car-1', slotId: 's2' }, day)?.number).toBe('1')
    expect(carOfRun({ carId: null, slotId: 's2' }, day)?.number).toBe('2')
    expect(carOfRun({ carId: null, slotId: 's4' }, day)).toBeUndefined()
    expect(carOfRun({ carId: 'sold', slotId: null }, day)).toBeUndefined()
  })
})

describe('the vehicle of a student', () => {
  it('is that of the first slot with a car, else the day’s own', () => {
    expect(carOfStudent('imke', day)?.id).toBe('car-2')
    expect(settingsOfStudent('imke', day).vehicleId).toBe('roadster')
    expect(settingsOfStudent('rashid', day).vehicleId).toBe('hatchback')
    const groups = [{ studentIds: ['imke'], pace: 0.75 }, { studentIds: ['nobody'] }]
    expect(settingsOfStudent('imke', { ...day, groups })).toMatchObject({ vehicleId: 'roadster', pace: 0.75, school: day.settings.school })
    expect(settingsOfStudent('rashid', { ...day, groups })).toMatchObject({ pace: day.settings.pace })
    expect(carOfStudent(null, day)).toBeUndefined()
  })
})

describe('how a group drives', () => {
  const group = {
    studentIds: ['imke'],
    pace: 0.6,
    laterPaces: [0.75, 0.85],
    method: 'late',
    schemeId: 'numbers',
    vehicleId: 'kart',
    cornerIds: ['T3'],
  } as const

  it('grows from drive to drive, the last pace stays, and the day’s last drive is not faster where the rule says so', () => {
    expect([0, 1, 2, 3].map((k) => paceOfDrive(group, k))).toEqual([0.6, 0.75, 0.85, 0.85])
    expect([0, 1, 2, 3].map((k) => paceOfDrive(group, k, true))).toEqual([0.6, 0.6, 0.75, 0.85])
    expect(paceOfDrive({ studentIds: ['imke'] }, 2)).toBeUndefined()
    const planning = (lastNotFaster: boolean) => ({ rules: { lastNotFaster } })
    const slots = [
      { ...slot('s0', 'imke'), start: '08:30', format: 'sighting' as const },
      { ...slot('s2', 'imke'), start: '11:00' },
      { ...slot('s1', 'imke'), start: '10:00' },
      { ...slot('s3', 'imke'), start: '12:00' },
    ]
    const pace = (slotId: string | null, last: boolean): number =>
      settingsOfStudent('imke', { ...day, slots, groups: [group], planning: planning(last) }, slotId).pace
    expect([null, 's0', 's1', 's2', 's3'].map((id) => pace(id, false))).toEqual([0.6, 0.6, 0.6, 0.75, 0.85])
    expect([null, 's1', 's2', 's3'].map((id) => pace(id, true))).toEqual([0.6, 0.6, 0.75, 0.75])
  })

  it('is its own in line, cones and vehicle; a car of the day comes before its vehicle', () => {
    const groups = [group, { studentIds: ['rashid'], vehicleId: 'kart' }]
    expect(settingsOfStudent('imke', { ...day, groups })).toMatchObject({ method: 'late', schemeId: 'numbers', vehicleId: 'roadster' })
    expect(settingsOfStudent('rashid', { ...day, groups })).toMatchObject({ method: 'smoothest', vehicleId: 'kart', pace: 0.75 })
    expect(sectionsOfStudent('imke', groups)).toEqual(['T3'])
    expect(sectionsOfStudent('rashid', groups)).toEqual([])
  })
})

describe('changed settings', () => {
  it('are named in the order of the bar, none for equal choices', () => {
    expect(changedSettings(settings, { ...settings })).toEqual([])
    expect(changedSettings(settings, { ...settings, pace: 0.6, circuitId: 'd' })).toEqual(['circuitId', 'pace'])
  })
})
