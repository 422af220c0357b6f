import {
  accountWords,
  intensities,
  lapKinds,
  type MistakeCode,
  mistakeCodes,
  PACE_CEILING,
  type RunEvent,
  type RunProgramme,
  runModes,
  setAsideReasons,
  verdicts,
} from '@ochote/core'
import { z } from 'zod'
import { heldAgainstSchema } from './debrief.ts'
import { planSettingsSchema } from './plan-settings.ts'

/** The laps of a run, between the out lap and the in lap. */
export const programmeSchema = z.object({
  sighting: z.number().int().min(0).max(3),
  warmUp: z.number().int().min(0).max(3).optional(),
  coached: z.number().int().min(0).max(30),
  timed: z.number().int().min(0).max(30).optional(),
  coolDown: z.number().int().min(0).max(1),
  slowCap_mps: z.number().min(5).max(100).optional(),
  steps: z
    .array(z.object({ pace: z.number().min(0.2).max(PACE_CEILING).nullable(), talk: z.enum(intensities), gears: z.boolean().optional() }))
    .max(60)
    .optional(),
}) satisfies z.ZodType<RunProgramme>

/** Habits of simulated students: their own, none, or more and bigger ones. */
export const simulatedHabits = ['own', 'none', 'wild'] as const
/** Form in which the simulated logger sends: JSON lines or NMEA sentences, by TCP or UDP. */
export const receiverForms = ['json-tcp', 'nmea-tcp', 'nmea-udp'] as const

/** Settings of the simulated logger: seed, laps, and its speed in multiples of real time. */
export const simulationSchema = z.object({
  seed: z
    .number()
    .int()
    .min(0)
    .max(2 ** 31),
  laps: z.number().int().min(1).max(30),
  speedFactor: z.number().min(1).max(60),
  startedAt: z.iso.datetime(),
  sighting: z.number().int().min(0).max(3).default(0),
  coolDown: z.number().int().min(0).max(1).default(0),
  habits: z.enum(simulatedHabits).default('own'),
  form: z.enum(receiverForms).default('json-tcp'),
  rate_hz: z.number().min(1).max(25).default(25),
  noise_m: z.number().min(0).max(2).default(0.05),
  dropOuts: z.number().min(0).max(5).default(0),
})
export type Simulation = z.infer<typeof simulationSchema>
/** A request for a simulation: everything but the course of the laps is optional. */
export const newSimulationSchema = simulationSchema.omit({ startedAt: true }).extend({
  /** Delay of the start (s of the drive's own time). */
  delay_s: z.number().min(0).max(600).default(0),
})

/** One student on track once. */
export const runSchema = z.object({
  id: z.string(),
  dayId: z.string(),
  slotId: z.string().nullable(),
  studentId: z.string(),
  studentName: z.string(),
  instructorId: z.string().nullable(),
  carId: z.string().nullable(),
  settings: planSettingsSchema,
  startedAt: z.iso.datetime(),
  endedAt: z.iso.datetime().nullable(),
  simulation: simulationSchema.nullable(),
  hasLog: z.boolean(),
  /** What its log is held against. */
  heldAgainst: heldAgainstSchema.default({ kind: 'plan' }),
  /** A log that the student sent in from elsewhere, to be looked at. */
  submitted: z.boolean().default(false),
  /** Driven by simulated devices in a school of its own: in no record, on no sheet, in no group. */
  practice: z.boolean().default(false),
  date: z.string(),
})
export type Run = z.infer<typeof runSchema>

/** Starting a run; the id is made by the client, so that a resend starts no second run. */
export const newRunSchema = z.object({
  id: z.uuid(),
  dayId: z.string(),
  slotId: z.string().nullable(),
  studentId: z.string(),
  carId: z.string().nullable().default(null),
  settings: planSettingsSchema,
  startedAt: z.iso.datetime(),
})
/** A run to be started. */
export type NewRun = z.infer<typeof newRunSchema>

const code = z.enum(mistakeCodes as [MistakeCode, ...MistakeCode[]])
const common = { id: z.uuid(), runId: z.string(), at: z.iso.datetime() }

const verdict = z.enum(verdicts)

/** The screen it was logged on; absent in events from before there was a choice. */
const via = z.enum(runModes).optional()
const lap = z.number().int().min(0)

const passesOfCorners = z.array(z.object({ lap, cornerId: z.string().max(80) })).max(20)

/** Events of a run, appended and never changed; an undo is an event too. */
export const runEventSchema = z.discriminatedUnion('kind', [
  /** `shown`: positions had suggested it, and a person confirmed. */
  z.object({
    ...common,
    kind: z.literal('observation'),
    cornerId: z.string(),
    code,
    lap,
    via,
    shown: z.boolean().optional(),
  }),
  z.object({ ...common, kind: z.literal('held-well'), cornerId: z.string(), lap, via }),
  z.object({ ...common, kind: z.literal('undo'), undoes: z.uuid() }),
  z.object({ ...common, kind: z.literal('sent-out'), program: programmeSchema }),
  /** Called in by the pit wall; the instructor tells the driver. */
  z.object({ ...common, kind: z.literal('called-in') }),
  z.object({ ...common, kind: z.literal('ended') }),
  /** `only`: this lap and none after it, as when it is named in the debrief. */
  z.object({ ...common, kind: z.literal('lap-kind'), lap, lapKind: z.enum(lapKinds), only: z.boolean().optional() }),
  /** A lap that is not to be judged, and why; null: it counts again. */
  z.object({ ...common, kind: z.literal('set-aside'), lap, reason: z.enum(setAsideReasons).nullable() }),
  /** Passes of corners that a flag or a stop spoilt. */
  z.object({ ...common, kind: z.literal('passes-aside'), why: z.enum(['flag', 'stop']), passes: passesOfCorners }),
  z.object({ ...common, kind: z.literal('intensity'), intensity: z.enum(intensities), lap: lap.optional() }),
  /** From a lap on the programme goes on at a step. */
  z.object({ ...common, kind: z.literal('step'), lap, step: lap }),
  z.object({ ...common, kind: z.literal('pace'), lap, pace: z.number().min(0.2).max(PACE_CEILING), why: z.string().max(120) }),
  /** Passed a car, or let somebody by. */
  z.object({
    ...common,
    kind: z.literal('traffic'),
    lap,
    way: z.enum(['went-by', 'let-by']),
    cornerId: z.string().nullable(),
    passes: passesOfCorners.optional(),
  }),
  /** Looked over before rolling; `open`: what was not well. */
  z.object({ ...common, kind: z.literal('checked'), open: z.array(z.string().max(80)).max(20) }),
  /** The student's own account, before anybody shows anything. */
  z.object({
    ...common,
    kind: z.literal('account'),
    best: z.string().max(80).nullable(),
    worst: z.string().max(80).nullable(),
    word: z.enum(accountWords),
  }),
  /** A correction as it was said after the run, in these words; its outcome shows in the passes that follow. */
  z.object({ ...common, kind: z.literal('said'), cornerId: z.string(), code, words: z.string().trim().min(1).max(200) }),
  /** An instructor has looked at a log that a student sent in: the student may read what was found. */
  z.object({ ...common, kind: z.literal('released') }),
  /** The driver of a lap: an instructor's lap is a reference, not the student's. */
  z.object({ ...common, kind: z.literal('lap-driver'), lap, driver: z.enum(['student', 'instructor']) }),
  /** A word pinned to a place of the road, to one lap or to all; `to_m` makes it an arrow along the road. */
  z.object({
    ...common,
    kind: z.literal('note'),
    station_m: z.number().min(0),
    to_m: z.number().min(0).nullable(),
    lap: lap.nullable(),
    text: z.string().trim().min(1).max(300),
    /** A still of a video with what was drawn on it. */
    pictureId: z.uuid().optional(),
  }),
  /** Condition of the car after the run, for whoever takes it next. */
  z.object({ ...common, kind: z.literal('car'), carId: z.string().max(60), brakes: verdict, tyres: verdict, other: verdict }),
]) satisfies z.ZodType<RunEvent>

/** The last word on a car, and from whose run. */
export const carConditionSchema = z.object({
  carId: z.string(),
  runId: z.string(),
  at: z.iso.datetime(),
  brakes: verdict,
  tyres: verdict,
  other: verdict,
})
export type CarCondition = z.infer<typeof carConditionSchema>

/** The clock of the device as it sends, so that a wrong one can be corrected. */
const deviceNow = z.iso.datetime().optional()
/** A batch of events; those already known are not stored twice. */
export const runEventBatchSchema = z.object({ events: z.array(runEventSchema).min(1).max(200), deviceNow })
/** Events that can never be stored, each with a reason; they stay on the device. */
export const refusedSchema = z.object({ id: z.uuid(), title: z.string(), remedy: z.string() })
export type Refused = z.infer<typeof refusedSchema>
/** Which ids are safe in the database now, which are refused for good, and how far the device's clock is ahead (s). */
export const acknowledgedSchema = z.object({ stored: z.array(z.uuid()), refused: z.array(refusedSchema), clockAhead_s: z.number() })
export type Acknowledged = z.infer<typeof acknowledgedSchema>
