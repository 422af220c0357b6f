import { z } from 'zod'
import { firstAccountSchema, sessionSchema, signInSchema } from './account.ts'
import { liveApi } from './api-live.ts'
import { preparationApi } from './api-preparation.ts'
import { reviewApi } from './api-review.ts'
import { schoolApi } from './api-school.ts'
import { trustApi } from './api-trust.ts'
import {
  circuitNotesSchema,
  circuitRevisionSchema,
  circuitSummarySchema,
  importedCircuitSchema,
  readCircuitQuery,
  storedCircuitSchema,
} from './circuit.ts'
import { dayPlanSchema, daySchema, daySummarySchema, newDaySchema } from './day.ts'
import { dayFileSchema } from './day-file.ts'
import { endpoint } from './endpoint.ts'
import { healthSchema, networkSchema, serverStateSchema } from './health.ts'
import { recordSchema } from './record.ts'
import { acknowledgedSchema, newRunSchema, newSimulationSchema, runEventBatchSchema, runEventSchema, runSchema } from './run.ts'
import { newStudentSchema, studentSchema } from './student.ts'
import { storedVehicleSchema } from './vehicle.ts'

const byId = (name: string) => z.object({ [name]: z.string().min(1).max(80) })
const circuitId = z.object({ circuitId: z.string().min(1).max(80) })
const runId = z.object({ runId: z.string().min(1).max(80) })

/** Every call of the API. */
export const api = {
  health: endpoint({
    id: 'health',
    method: 'get',
    path: '/api/health',
    summary: 'Whether the server runs',
    response: healthSchema,
  }),

  serverState: endpoint({
    id: 'serverState',
    method: 'get',
    path: '/api/state',
    summary: 'Whether the server can store what it is sent',
    response: serverStateSchema,
  }),

  network: endpoint({
    id: 'network',
    method: 'get',
    path: '/api/network',
    summary: 'Addresses at which phones and tablets reach the server',
    response: networkSchema,
  }),

  session: endpoint({
    id: 'session',
    method: 'get',
    path: '/api/session',
    summary: 'Who is signed in',
    response: sessionSchema,
  }),
  signIn: endpoint({
    id: 'signIn',
    method: 'post',
    path: '/api/session',
    summary: 'Sign in',
    body: signInSchema,
    response: sessionSchema,
  }),
  signOut: endpoint({
    id: 'signOut',
    method: 'delete',
    path: '/api/session',
    summary: 'Sign out',
    response: sessionSchema,
  }),
  signInDemo: endpoint({
    id: 'signInDemo',
    method: 'post',
    path: '/api/session/demo',
    summary: 'Sign in as the demo’s lead; exists in the demo only',
    response: sessionSchema,
  }),
  firstAccount: endpoint({
    id: 'firstAccount',
    method: 'post',
    path: '/api/accounts/first',
    summary: 'Create the lead’s account, once',
    body: firstAccountSchema,
    response: sessionSchema,
  }),
  circuits: endpoint({
    id: 'circuits',
    method: 'get',
    path: '/api/circuits',
    summary: 'All circuits',
    response: z.array(circuitSummarySchema),
  }),
  circuit: endpoint({
    id: 'circuit',
    method: 'get',
    path: '/api/circuits/:circuitId',
    summary: 'One circuit with its survey',
    params: circuitId,
    response: storedCircuitSchema,
  }),
  importCircuit: endpoint({
    id: 'importCircuit',
    method: 'post',
    path: '/api/circuits',
    summary:
      'Keep the circuit of a file: a survey (CSV, GeoJSON, GPX, KML) or driven laps; “keeps” carries the notes of another circuit over',
    query: readCircuitQuery.extend({ id: z.uuid().optional(), keeps: z.string().max(80).optional() }),
    upload: true,
    file: 'circuit',
    response: importedCircuitSchema,
  }),
  reviseCircuit: endpoint({
    id: 'reviseCircuit',
    method: 'post',
    path: '/api/circuits/:circuitId/revised',
    summary: 'A circuit with another start line, width or north, which takes the place of the one before; notes are carried over',
    params: circuitId,
    body: circuitRevisionSchema,
    response: circuitSummarySchema,
  }),
  saveNotes: endpoint({
    id: 'saveNotes',
    method: 'put',
    path: '/api/circuits/:circuitId/notes',
    summary: 'Names, changes of corners and ground of a circuit; refused when made from an older version',
    params: circuitId,
    body: z.object({ version: z.number().int(), notes: circuitNotesSchema }),
    response: storedCircuitSchema,
  }),

  vehicles: endpoint({
    id: 'vehicles',
    method: 'get',
    path: '/api/vehicles',
    summary: 'All vehicles',
    response: z.array(storedVehicleSchema),
  }),
  importVehicles: endpoint({
    id: 'importVehicles',
    method: 'post',
    path: '/api/vehicles',
    summary: 'Import a vehicle file (JSON); one that is here and differs is replaced only over the version that is named',
    /** “id:version” of each vehicle that may be replaced, with commas. */
    query: z.object({ replacing: z.string().max(4000).optional() }),
    upload: true,
    file: 'vehicles',
    response: z.array(storedVehicleSchema),
  }),

  putVehicle: endpoint({
    id: 'putVehicle',
    method: 'put',
    path: '/api/vehicles/:vehicleId',
    summary: 'Add or change a vehicle; refused when made from an older version',
    params: z.object({ vehicleId: z.string().min(1).max(60) }),
    body: storedVehicleSchema,
    response: storedVehicleSchema,
  }),

  removeVehicle: endpoint({
    id: 'removeVehicle',
    method: 'delete',
    path: '/api/vehicles/:vehicleId',
    summary: 'Take away a vehicle that no day and no run uses',
    params: z.object({ vehicleId: z.string().min(1).max(60) }),
    response: z.array(storedVehicleSchema),
  }),

  students: endpoint({
    id: 'students',
    method: 'get',
    path: '/api/students',
    summary: 'All students',
    response: z.array(studentSchema),
  }),
  addStudent: endpoint({
    id: 'addStudent',
    method: 'post',
    path: '/api/students',
    summary: 'Add a student',
    body: newStudentSchema,
    response: studentSchema,
  }),
  record: endpoint({
    id: 'record',
    method: 'get',
    path: '/api/students/:studentId/record',
    summary: 'A student’s record',
    params: byId('studentId'),
    response: recordSchema,
  }),

  days: endpoint({
    id: 'days',
    method: 'get',
    path: '/api/days',
    summary: 'All days, newest first',
    response: z.array(daySummarySchema),
  }),
  day: endpoint({
    id: 'day',
    method: 'get',
    path: '/api/days/:dayId',
    summary: 'One day',
    params: byId('dayId'),
    response: daySchema,
  }),
  dayFile: endpoint({
    id: 'dayFile',
    method: 'get',
    path: '/api/days/:dayId/file',
    summary: 'A day with everything its cones are computed from, as one file for the command line',
    params: byId('dayId'),
    response: dayFileSchema,
  }),
  addDay: endpoint({
    id: 'addDay',
    method: 'post',
    path: '/api/days',
    summary: 'Add a day',
    body: newDaySchema,
    response: daySchema,
  }),
  changeDay: endpoint({
    id: 'changeDay',
    method: 'put',
    path: '/api/days/:dayId',
    summary: 'Change a day; refused when somebody changed it since that version',
    params: byId('dayId'),
    body: z.object({ version: z.number().int(), plan: dayPlanSchema }),
    response: daySchema,
  }),

  runs: endpoint({
    id: 'runs',
    method: 'get',
    path: '/api/runs',
    summary: 'Runs, newest first',
    query: z.object({ dayId: z.string().optional(), studentId: z.string().optional() }),
    response: z.array(runSchema),
  }),
  run: endpoint({
    id: 'run',
    method: 'get',
    path: '/api/runs/:runId',
    summary: 'One run',
    params: runId,
    response: runSchema,
  }),
  startRun: endpoint({
    id: 'startRun',
    method: 'post',
    path: '/api/runs',
    summary: 'Start a run',
    body: newRunSchema,
    response: runSchema,
  }),
  simulateLogger: endpoint({
    id: 'simulateLogger',
    method: 'post',
    path: '/api/runs/:runId/simulated-logger',
    summary: 'Start the simulated logger of a run',
    params: runId,
    body: newSimulationSchema,
    response: runSchema,
  }),
  stopLogger: endpoint({
    id: 'stopLogger',
    method: 'delete',
    path: '/api/runs/:runId/simulated-logger',
    summary: 'Stop the simulated logger of a run, as if it had lost its power',
    params: runId,
    response: runSchema,
  }),
  endRun: endpoint({
    id: 'endRun',
    method: 'post',
    path: '/api/runs/:runId/end',
    summary: 'End a run and keep its log',
    params: runId,
    response: runSchema,
  }),
  runEvents: endpoint({
    id: 'runEvents',
    method: 'get',
    path: '/api/runs/:runId/events',
    summary: 'Events of a run in order',
    params: runId,
    response: z.array(runEventSchema),
  }),
  addEvents: endpoint({
    id: 'addEvents',
    method: 'post',
    path: '/api/events',
    summary: 'Append events; a resend never doubles',
    body: runEventBatchSchema,
    response: acknowledgedSchema,
  }),

  ...liveApi,
  ...preparationApi,
  ...reviewApi,
  ...schoolApi,
  ...trustApi,
} as const
