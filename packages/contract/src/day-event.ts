import {
  briefingParts,
  coneStates,
  type DayEvent,
  type DrillResult,
  drillKinds,
  drillResults,
  type IncidentKind,
  incidentActions,
  incidentKinds,
  type MistakeCode,
  mistakeCodes,
  rainKinds,
  type Surface,
  surfaces,
} from '@ochote/core'
import { z } from 'zod'
import { recalledSchema } from './recall.ts'

const common = { id: z.uuid(), dayId: z.string().min(1).max(80), at: z.iso.datetime() }

/** Events of a day beside its runs, appended and never changed; an undo is an event too. */
export const dayEventSchema = z.discriminatedUnion('kind', [
  z.object({
    ...common,
    kind: z.literal('cone-report'),
    coneId: z.string().max(80),
    state: z.enum(coneStates),
    error_m: z.number().nullable(),
  }),
  z.object({ ...common, kind: z.literal('acknowledged'), studentId: z.string(), part: z.enum(briefingParts) }),
  z.object({ ...common, kind: z.literal('radio-heard'), studentId: z.string() }),
  z.object({
    ...common,
    kind: z.literal('quiz-answer'),
    studentId: z.string(),
    questionId: z.string().max(80),
    cornerId: z.string().nullable(),
    right: z.boolean(),
  }),
  /** A round driven from memory. */
  z.object({ ...common, kind: z.literal('recalled'), studentId: z.string(), ...recalledSchema.shape }),
  /** How many held up a hand when asked whether they want to work on a corner. */
  z.object({ ...common, kind: z.literal('hands'), cornerId: z.string().max(80), hands: z.number().int().min(0).max(200) }),
  z.object({ ...common, kind: z.literal('undo'), undoes: z.uuid() }),
  /** A flag shown or withdrawn, at a corner or everywhere. */
  z.object({
    ...common,
    kind: z.literal('flag'),
    flag: z.string().max(40),
    cornerId: z.string().nullable(),
    up: z.boolean(),
    runId: z.string().nullable().optional(),
  }),
  /** All runs are stopped until somebody decides. */
  z.object({ ...common, kind: z.literal('stop'), why: z.string().max(200) }),
  z.object({ ...common, kind: z.literal('restart'), stopId: z.uuid(), decision: z.enum(['go-on', 'all-in']) }),
  z.object({
    ...common,
    kind: z.literal('incident'),
    what: z.enum(incidentKinds as [IncidentKind, ...IncidentKind[]]),
    cornerId: z.string().nullable(),
    runId: z.string().nullable(),
    carNumber: z.string().max(12).nullable(),
    action: z.enum(incidentActions),
  }),
  /** An order of release: one run per interval, from a moment on. */
  z.object({
    ...common,
    kind: z.literal('release'),
    runIds: z.array(z.string()).min(1).max(30),
    interval_s: z.number().min(1).max(600),
    firstAt: z.iso.datetime(),
    laps: z.number().int().min(1).max(30).optional(),
    timed: z.boolean().optional(),
    simulated: z.boolean().optional(),
  }),
  /** The row behind the leader from a lap on, the one directly behind first. */
  z.object({
    ...common,
    kind: z.literal('row'),
    runIds: z.array(z.string()).min(2).max(6),
    lap: z.number().int().min(1),
    leader: z.string().max(12).optional(),
  }),
  z.object({ ...common, kind: z.literal('radio'), to: z.array(z.string()).max(30), text: z.string().min(1).max(160) }),
  z.object({ ...common, kind: z.literal('radio-answer'), radioId: z.uuid(), runId: z.string() }),
  z.object({
    ...common,
    kind: z.literal('drill'),
    studentId: z.string(),
    drill: z.enum(drillKinds),
    surface: z.enum(Object.keys(surfaces) as [Surface, ...Surface[]]),
    result: z.enum(Object.values(drillResults).flat() as [DrillResult, ...DrillResult[]]),
    exerciseId: z.string().max(60).optional(),
  }),
  /** The one sentence that went with an attempt. */
  z.object({ ...common, kind: z.literal('drill-said'), studentId: z.string(), drillId: z.uuid(), sentence: z.string().max(120) }),
  /** A car that no run is known for, seen at a corner. */
  z.object({
    ...common,
    kind: z.literal('car-seen'),
    carNumber: z.string().min(1).max(12),
    cornerId: z.string(),
    code: z.enum(mistakeCodes as [MistakeCode, ...MistakeCode[]]).nullable(),
  }),
  /** A report of the weather station. */
  z.object({
    ...common,
    kind: z.literal('weather'),
    rain: z.enum(rainKinds),
    air_C: z.number(),
    simulated: z.boolean(),
  }),
  /** A change for everybody because most got something wrong: a cone, a call, the briefing. */
  z.object({
    ...common,
    kind: z.literal('teaching-changed'),
    cornerId: z.string(),
    code: z.enum(mistakeCodes as [MistakeCode, ...MistakeCode[]]),
    what: z.string().trim().min(1).max(200),
  }),
  /** A car through the timing beam at the line. */
  z.object({ ...common, kind: z.literal('beam'), carNumber: z.string().max(12), lapTime_s: z.number().nullable(), simulated: z.boolean() }),
]) satisfies z.ZodType<DayEvent>

/** A batch of events; those already known are not stored twice. */
export const dayEventBatchSchema = z.object({ events: z.array(dayEventSchema).min(1).max(200), deviceNow: z.iso.datetime().optional() })
