import { describe, expect, it } from 'vitest'
import { type CarsOfDay, carOfRun, carOfStudent, changedSettings, type PlanChoice, settingsOfStudent } from './day.ts'

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

describe('changed settings', () => {
  it('are named in the order of the bar, none for equal choices', () => {
    expect(changedSettings(settings, { ...settings })).toEqual([])
    expect(changedSettings(settings, { ...settings, pace: 0.6, circuitId: 'd' })).toEqual(['circuitId', 'pace'])
  })
})
