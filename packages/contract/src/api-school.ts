import { z } from 'zod'
import { accountSchema, changedAccountSchema, newAccountSchema } from './account.ts'
import { carHistorySchema, putCarSchema, storedCarSchema } from './car.ts'
import { circuitPreviewSchema, circuitSummarySchema, readCircuitQuery } from './circuit.ts'
import { daySummarySchema } from './day.ts'
import { endpoint } from './endpoint.ts'
import { newStudentsSchema, studentSchema } from './student.ts'
import { studentLineSchema } from './student-event.ts'
import { putVenueSchema, storedVenueSchema } from './venue.ts'

const id = z.string().min(1).max(80)
const archived = z.object({ archived: z.boolean(), version: z.number().int().optional() })

/** Calls by which a school is kept from day to day: people, cars, circuits and their venues, days. */
export const schoolApi = {
  accounts: endpoint({
    id: 'accounts',
    method: 'get',
    path: '/api/accounts',
    summary: 'Lead and instructors',
    response: z.array(accountSchema),
  }),
  addAccount: endpoint({
    id: 'addAccount',
    method: 'post',
    path: '/api/accounts',
    summary: 'Add an instructor or a lead',
    body: newAccountSchema,
    response: accountSchema,
  }),
  changeAccount: endpoint({
    id: 'changeAccount',
    method: 'put',
    path: '/api/accounts/:accountId',
    summary: 'Change an account, set a new password, or close it; refused when made from an older version',
    params: z.object({ accountId: id }),
    body: changedAccountSchema,
    response: accountSchema,
  }),
  addStudents: endpoint({
    id: 'addStudents',
    method: 'post',
    path: '/api/students/several',
    summary: 'Add several students; those already known by their id are left as they are',
    body: newStudentsSchema,
    response: z.array(studentSchema),
  }),
  studentLines: endpoint({
    id: 'studentLines',
    method: 'get',
    path: '/api/students/lines',
    summary: 'All students, each in one line: drives, last day, focus',
    response: z.array(studentLineSchema),
  }),
  archiveStudent: endpoint({
    id: 'archiveStudent',
    method: 'put',
    path: '/api/students/:studentId/archived',
    summary: 'Take a student out of the lists one chooses from, or back into them',
    params: z.object({ studentId: id }),
    body: archived,
    response: studentSchema,
  }),
  mergeStudents: endpoint({
    id: 'mergeStudents',
    method: 'post',
    path: '/api/students/:studentId/merge',
    summary: 'A student who was entered twice: everything of the other one becomes this one’s, and the other is gone',
    params: z.object({ studentId: id }),
    body: z.object({ otherId: id }),
    response: z.array(studentSchema),
  }),
  cars: endpoint({
    id: 'cars',
    method: 'get',
    path: '/api/cars',
    summary: 'All cars of school and students, with the last word on each',
    response: z.array(storedCarSchema),
  }),
  putCar: endpoint({
    id: 'putCar',
    method: 'put',
    path: '/api/cars/:carId',
    summary: 'Add or change a car; refused when made from an older version',
    params: z.object({ carId: id }),
    body: putCarSchema,
    response: storedCarSchema,
  }),
  removeCar: endpoint({
    id: 'removeCar',
    method: 'delete',
    path: '/api/cars/:carId',
    summary: 'Take away a car that was never driven',
    params: z.object({ carId: id }),
    response: z.array(storedCarSchema),
  }),
  carHistory: endpoint({
    id: 'carHistory',
    method: 'get',
    path: '/api/cars/:carId/history',
    summary: 'What was said of a car after its runs, newest first',
    params: z.object({ carId: id }),
    response: carHistorySchema,
  }),
  lookAtCircuit: endpoint({
    id: 'lookAtCircuit',
    method: 'post',
    path: '/api/circuits/look',
    summary: 'Read a circuit from a file without keeping it: its road, its corners, and what is doubtful',
    query: readCircuitQuery,
    upload: true,
    file: 'circuit',
    response: circuitPreviewSchema,
  }),
  archiveCircuit: endpoint({
    id: 'archiveCircuit',
    method: 'put',
    path: '/api/circuits/:circuitId/archived',
    summary: 'Take a circuit out of the lists one chooses from, or back into them',
    params: z.object({ circuitId: id }),
    body: archived,
    response: z.array(circuitSummarySchema),
  }),
  nameCircuit: endpoint({
    id: 'nameCircuit',
    method: 'put',
    path: '/api/circuits/:circuitId/name',
    summary: 'Name a circuit, and say of which venue it is a layout',
    params: z.object({ circuitId: id }),
    body: z.object({
      name: z.string().trim().min(1, 'Give the circuit a name').max(80),
      venueId: id.nullable(),
      version: z.number().int(),
    }),
    response: z.array(circuitSummarySchema),
  }),
  removeCircuit: endpoint({
    id: 'removeCircuit',
    method: 'delete',
    path: '/api/circuits/:circuitId',
    summary: 'Delete a circuit that no day and no run uses',
    params: z.object({ circuitId: id }),
    response: z.array(circuitSummarySchema),
  }),
  venues: endpoint({
    id: 'venues',
    method: 'get',
    path: '/api/venues',
    summary: 'All venues',
    response: z.array(storedVenueSchema),
  }),
  putVenue: endpoint({
    id: 'putVenue',
    method: 'put',
    path: '/api/venues/:venueId',
    summary: 'Add or change a venue; refused when made from an older version',
    params: z.object({ venueId: id }),
    body: putVenueSchema,
    response: storedVenueSchema,
  }),
  removeVenue: endpoint({
    id: 'removeVenue',
    method: 'delete',
    path: '/api/venues/:venueId',
    summary: 'Take away a venue; its layouts stay',
    params: z.object({ venueId: id }),
    response: z.array(storedVenueSchema),
  }),
  exportSchool: endpoint({
    id: 'exportSchool',
    method: 'get',
    path: '/api/school/archive',
    summary: 'The whole school as one file (lines of JSON, packed): people with their passwords’ hashes, circuits, days, runs, logs',
    response: z.unknown(),
    stream: true,
  }),
  importSchool: endpoint({
    id: 'importSchool',
    method: 'put',
    path: '/api/school/archive',
    summary: 'Read an archive into an empty school, all of it or nothing',
    upload: true,
    file: 'school',
    response: z.object({ rows: z.number().int() }),
  }),
  removeDay: endpoint({
    id: 'removeDay',
    method: 'delete',
    path: '/api/days/:dayId',
    summary: 'Delete a day on which nothing was driven',
    params: z.object({ dayId: id }),
    response: z.array(daySummarySchema),
  }),
} as const
