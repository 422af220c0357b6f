import { type Evidenced, evidenceKeys, isEvidenceOf, receiverFaults, type SuggestedCode } from '@ochote/core'
import { z } from 'zod'
import { dayEventSchema } from './day-event.ts'
import { runEventSchema } from './run.ts'

/** Place of a running car. `stampedAt`: when the server had the position (ms since 1970); `time_s`: since the car's first one. */
export const livePositionSchema = z.object({
  carNumber: z.string(),
  runId: z.string().nullable(),
  time_s: z.number(),
  station_m: z.number(),
  offset_m: z.number(),
  speed_mps: z.number(),
  lap: z.number().int(),
  /** Lap time of the car as it drives now: its last lap's, or else the plan's. */
  lapTime_s: z.number(),
  /** Speed of the car's clock, in multiples of real time; 1 for real cars. */
  factor: z.number(),
  receivedAt: z.number(),
  fault: z.enum(receiverFaults).nullable(),
  inPits: z.boolean(),
})
export type LivePosition = z.infer<typeof livePositionSchema>

/** Cars whose position changed since the last frame. */
export const liveFrameSchema = z.object({ sentAt: z.number(), cars: z.array(livePositionSchema) })
export type LiveFrame = z.infer<typeof liveFrameSchema>

const happened = { carNumber: z.string(), runId: z.string().nullable(), lap: z.number().int() }

/** An event on track or in the log. Events are numbered so that a reconnecting screen can ask for what it missed. */
export const liveEventSchema = z.discriminatedUnion('kind', [
  z.object({ ...happened, kind: z.literal('lap'), lapTime_s: z.number().nullable() }),
  /** A corner passed, and what positions suggest of it. */
  z.object({
    ...happened,
    kind: z.literal('passed'),
    cornerId: z.string(),
    at: z.iso.datetime(),
    findings: z.array(
      z
        .object({
          code: z.enum(Object.keys(evidenceKeys) as [SuggestedCode, ...SuggestedCode[]]),
          evidence: z.record(z.string(), z.number()),
        })
        .refine(({ code, evidence }) => isEvidenceOf(code, evidence), 'Evidence is missing for this mistake')
        .transform((found) => found as Evidenced),
    ),
  }),
  z.object({ kind: z.literal('run-event'), event: runEventSchema }),
  z.object({ kind: z.literal('day-event'), event: dayEventSchema }),
  /** Runs were started or ended: read the list again. */
  z.object({ kind: z.literal('runs') }),
  /** A day’s plan was changed: read it again. */
  z.object({ kind: z.literal('day'), dayId: z.string() }),
])
export type LiveEvent = z.infer<typeof liveEventSchema>
export type CornerPass = Extract<LiveEvent, { kind: 'passed' }>

/** One receiver as the gateway sees it. */
export const receiverSchema = z.object({
  port: z.number().int(),
  carNumber: z.string().nullable(),
  via: z.enum(['tcp', 'udp']).nullable(),
  from: z.string().nullable(),
  simulated: z.boolean(),
  factor: z.number(),
  lines: z.number().int(),
  fixes: z.number().int(),
  checksumErrors: z.number().int(),
  unknown: z.number().int(),
  garbage: z.number().int(),
  rate_hz: z.number(),
  clockAhead_s: z.number(),
  lastAt: z.iso.datetime().nullable(),
  fault: z.enum([...receiverFaults, 'unknown-car', 'car-taken', 'no-day']).nullable(),
})
export type Receiver = z.infer<typeof receiverSchema>

/** Which car's receiver sends to which port. */
export const receiverPortSchema = z.object({ port: z.number().int(), carNumber: z.string().max(12).nullable() })

/** The simulated devices that are not loggers. */
export const devicesSchema = z.object({
  version: z.number().int().default(0),
  radio: z.object({ on: z.boolean(), delay_s: z.number().min(0).max(10), answers: z.boolean() }),
  beam: z.object({ on: z.boolean() }),
  weather: z.object({ on: z.boolean(), rain: z.enum(['dry', 'drizzle', 'rain', 'heavy-rain']), air_C: z.number().min(-20).max(50) }),
})
export type Devices = z.infer<typeof devicesSchema>

/** One line of the day's history: what, when by the corrected clock, by whom, and whether it was undone. */
export const historyRowSchema = z.object({
  id: z.string(),
  at: z.iso.datetime(),
  receivedAt: z.iso.datetime(),
  by: z.string().nullable(),
  clockAhead_s: z.number(),
  undone: z.boolean(),
  studentName: z.string().nullable(),
  event: z.union([runEventSchema, dayEventSchema]),
})
export type HistoryRow = z.infer<typeof historyRowSchema>
