import { describe, expect, it } from 'vitest'
import type { PlanChoice } from './day.ts'
import { servedByGroups } from './served-groups.ts'

const settings: PlanChoice = {
  circuitId: 'c',
  vehicleId: 'hatchback',
  surface: 'dry',
  pace: 0.6,
  school: 'straight',
  method: 'smoothest',
  schemeId: 's',
}
const slot = (studentId: string, carId: string) => ({
  id: studentId,
  start: '10:00',
  end: '10:20',
  kind: 'run' as const,
  title: '',
  studentId,
  carId,
})
const day = {
  settings,
  cars: [
    { id: 'one', number: '1', vehicleId: 'hatchback', owner: '' },
    { id: 'two', number: '2', vehicleId: 'coupe', owner: '' },
  ],
  slots: [slot('imke', 'one'), slot('rashid', 'one'), slot('lotte', 'two'), slot('hal', 'two')],
  groups: [
    { studentIds: ['imke', 'rashid'] },
    { studentIds: ['lotte', 'hal'], pace: 0.75, laterPaces: [0.85, 0.75], method: 'late' as const },
  ],
}
const students = [
  { id: 'imke', level: 'first-day' as const },
  { id: 'rashid', level: 'building' as const },
  { id: 'lotte', level: 'steady' as const },
  { id: 'hal', level: 'building' as const },
  { id: 'nobody', level: 'steady' as const },
]

describe('for whom the cones of a day stand', () => {
  it('are its groups: each vehicle with its least experienced driver and its highest pace', () => {
    expect(servedByGroups(day, students, 'first-day')).toEqual({
      served: [{ vehicleId: 'coupe', level: 'building', pace: 0.85 }],
      lines: ['late'],
    })
  })

  it('are also those whom the plan’s own level does not cover', () => {
    // Cones for the level “steady” stand too late for somebody on a first day in the same car.
    expect(servedByGroups(day, students, 'steady').served).toContainEqual({ vehicleId: 'hatchback', level: 'first-day', pace: 0.6 })
    expect(servedByGroups({ ...day, groups: [] }, students, 'first-day')).toEqual({ served: [], lines: [] })
  })
})
