import { describe, expect, it } from 'vitest'
import { checkDay, clockOf, minutesOf } from './check-day.ts'
import type { Slot } from './day.ts'
import { carForDay, mayDrive, type SchoolCar } from './school-car.ts'

const run = (id: string, start: string, end: string, change: Partial<Slot> = {}): Slot => ({
  id,
  start,
  end,
  kind: 'run',
  title: 'Ride-along',
  studentId: `student-${id}`,
  instructorId: `instructor-${id}`,
  carId: `car-${id}`,
  ...change,
})
const car = (change: Partial<SchoolCar> = {}): SchoolCar => ({
  id: 'car-a',
  number: '7',
  vehicleId: 'roadster',
  studentId: null,
  gearbox: 'manual',
  mayDrive: { levels: [], studentIds: [] },
  aids: [],
  note: '',
  ...change,
})
const check = (slots: Slot[], change: Partial<Parameters<typeof checkDay>[0]> = {}) =>
  checkDay({ slots, students: [], cars: [], grounded: new Set(), ...change })

describe('a session that several do together', () => {
  it('takes its instructor once', () => {
    const pad = (studentId: string, start: string): Slot => ({
      id: `${start} ${studentId}`,
      start,
      end: '11:00',
      kind: 'pad',
      title: 'Braking',
      studentId,
      instructorId: 'teo',
      format: 'pad',
    })
    const problems = (slots: Slot[]) => checkDay({ slots, students: [], cars: [], grounded: new Set() }).map((p) => p.kind)
    expect(problems([pad('a', '10:00'), pad('b', '10:00')])).toEqual([])
    expect(problems([pad('a', '10:00'), pad('b', '10:30')])).toEqual(['instructor-twice'])
    const drive = (studentId: string, carId: string, format: 'lead-follow' | 'ride-along' | 'sighting'): Slot => ({
      ...pad(studentId, '10:00'),
      kind: 'run',
      carId,
      format,
    })
    // A row has one leader and a car for each; passengers share one; nobody shares a ride-along.
    expect(problems([drive('a', '1', 'lead-follow'), drive('b', '2', 'lead-follow')])).toEqual([])
    expect(problems([drive('a', '1', 'lead-follow'), drive('b', '1', 'lead-follow')])).toEqual(['car-twice'])
    expect(problems([drive('a', '1', 'sighting'), drive('b', '1', 'sighting')])).toEqual([])
    expect(problems([drive('a', '1', 'ride-along'), drive('b', '2', 'ride-along')])).toEqual(['instructor-twice'])
    expect(problems([drive('a', '1', 'lead-follow'), drive('a', '2', 'lead-follow')])).toEqual(['student-twice'])
  })
})

describe('a run list', () => {
  it('has nothing wrong where everyone is in one place at a time', () => {
    expect(check([run('a', '09:00', '09:20'), run('b', '09:00', '09:20'), run('c', '09:20', '09:40', { carId: 'car-a' })])).toEqual([])
  })

  it('tells a slot that ends before it starts', () => {
    expect(check([run('a', '11:00', '09:55')])).toEqual([{ kind: 'ends-before-start', slotId: 'a' }])
  })

  it('tells a car, a student and an instructor that are needed twice, against each other slot', () => {
    const found = check([
      run('a', '09:00', '09:20'),
      run('b', '09:10', '09:30', { carId: 'car-a', instructorId: 'instructor-a' }),
      run('c', '09:19', '09:40', { studentId: 'student-a' }),
    ])
    expect(found).toEqual([
      { kind: 'car-twice', slotId: 'b', with: 'a' },
      { kind: 'instructor-twice', slotId: 'b', with: 'a' },
      { kind: 'student-twice', slotId: 'c', with: 'a' },
    ])
  })

  it('agrees with a comparison of all pairs on a crowded list', () => {
    const slots = Array.from({ length: 60 }, (_, k) =>
      run(String(k), clockOf(540 + ((k * 37) % 200)), clockOf(560 + ((k * 37) % 200)), {
        carId: `car-${k % 7}`,
        instructorId: undefined,
        studentId: `student-${k % 23}`,
      }),
    )
    let pairs = 0
    for (let i = 0; i < slots.length; i++)
      for (let k = i + 1; k < slots.length; k++) {
        const together = minutesOf(slots[i].start) < minutesOf(slots[k].end) && minutesOf(slots[k].start) < minutesOf(slots[i].end)
        if (together && slots[i].carId === slots[k].carId) pairs++
        if (together && slots[i].studentId === slots[k].studentId) pairs++
      }
    expect(pairs).toBeGreaterThan(0)
    expect(check(slots).filter((p) => p.kind.endsWith('-twice'))).toHaveLength(pairs)
  })

  it('tells runs without a student or a car, drivers who may not, and cars that nobody should drive', () => {
    const students = [{ id: 'student-a', level: 'first-day' as const }]
    const cars = [car({ mayDrive: { levels: ['steady'], studentIds: [] } })]
    const found = check([run('a', '09:00', '09:20'), run('b', '10:00', '10:20', { studentId: undefined, carId: undefined })], {
      students,
      cars,
      grounded: new Set(['car-a']),
    })
    expect(found.map((p) => `${p.slotId} ${p.kind}`)).toEqual(['a may-not-drive', 'a grounded', 'b no-student', 'b no-car'])
    expect(check([run('a', '12:00', '13:00', { kind: 'break', studentId: undefined, carId: undefined })])).toEqual([])
  })
})

describe('who may drive a car', () => {
  const imke = { id: 'imke', level: 'building' as const }
  it('is everybody for a car of the school, its owner alone for a student’s, and whom it was opened to', () => {
    expect(mayDrive(car(), imke)).toBe(true)
    expect(mayDrive(car({ studentId: 'imke' }), imke)).toBe(true)
    expect(mayDrive(car({ studentId: 'rashid' }), imke)).toBe(false)
    expect(mayDrive(car({ studentId: 'rashid', mayDrive: { levels: [], studentIds: ['imke'] } }), imke)).toBe(true)
    expect(mayDrive(car({ mayDrive: { levels: [], studentIds: ['rashid'] } }), imke)).toBe(false)
    expect(mayDrive(car({ mayDrive: { levels: ['building'], studentIds: [] } }), imke)).toBe(true)
    expect(carForDay(car(), 'Imke')).toEqual({ id: 'car-a', number: '7', vehicleId: 'roadster', owner: 'Imke' })
  })
})

describe('times of day', () => {
  it('go to minutes and back, and stay within the day', () => {
    for (const clock of ['00:00', '09:05', '23:59']) expect(clockOf(minutesOf(clock))).toBe(clock)
    expect(clockOf(25 * 60)).toBe('23:59')
  })
})
