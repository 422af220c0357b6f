import { type MistakeCode, mistakeCodes } from '@ochote/core'
import { z } from 'zod'
import { planSettingsSchema } from './plan-settings.ts'

/** How the stand-in for the logger drives: seed, laps and how many times faster than life. */
export const simulationSchema = z.object({
  seed: z
    .number()
    .int()
    .min(0)
    .max(2 ** 31),
  laps: z.number().int().min(1).max(20),
  speedFactor: z.number().min(1).max(60),
  startedAt: z.iso.datetime(),
})
export type Simulation = z.infer<typeof simulationSchema>

/** One student on track once. */
export const runSchema = z.object({
  id: z.string(),
  dayId: z.string(),
  slotId: z.string().nullable(),
  studentId: z.string(),
  studentName: z.string(),
  instructorId: z.string().nullable(),
  settings: planSettingsSchema,
  startedAt: z.iso.datetime(),
  endedAt: z.iso.datetime().nullable(),
  simulation: simulationSchema.nullable(),
  hasLog: z.boolean(),
  date: z.string(),
})
export type Run = z.infer<typeof runSchema>

/** Starting a run; the id is made by the client, so that a resend starts no second run. */
export const newRunSchema = z.object({
  id: z.uuid(),
  dayId: z.string(),
  slotId: z.string().nullable(),
  studentId: z.string(),
  settings: planSettingsSchema,
  startedAt: z.iso.datetime(),
})

const code = z.enum(mistakeCodes as [MistakeCode, ...MistakeCode[]])
const common = { id: z.uuid(), runId: z.string(), at: z.iso.datetime() }

/** How a part of the car was: nothing to say, keep an eye on it, or nobody drives it before it was looked at. */
const verdicts = ['good', 'watch', 'stop'] as const
export type Verdict = (typeof verdicts)[number]
const verdict = z.enum(verdicts)

/** What happens in a run, appended and never changed; an undo is an event too. */
export const runEventSchema = z.discriminatedUnion('kind', [
  z.object({ ...common, kind: z.literal('observation'), cornerId: z.string(), code, lap: z.number().int().min(0) }),
  z.object({ ...common, kind: z.literal('undo'), undoes: z.uuid() }),
  z.object({ ...common, kind: z.literal('ended') }),
  /** Looked over before rolling; `open`: what was not well. */
  z.object({ ...common, kind: z.literal('checked'), open: z.array(z.string().max(80)).max(20) }),
  /** How the car was after the run, for whoever takes it next. */
  z.object({ ...common, kind: z.literal('car'), carId: z.string().max(60), brakes: verdict, tyres: verdict, other: verdict }),
])
export type RunEvent = z.infer<typeof runEventSchema>

/** A mistake that was logged by hand. */
export type Observation = Extract<RunEvent, { kind: 'observation' }>

/** The observations that stand: those that no undo took back, in the order given. */
export const standingObservations = (events: readonly RunEvent[]): Observation[] => {
  const undone = new Set(events.flatMap((e) => (e.kind === 'undo' ? [e.undoes] : [])))
  return events.filter((e) => e.kind === 'observation').filter((e) => !undone.has(e.id))
}

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

/** A batch of events; those already known are not stored twice. */
export const runEventBatchSchema = z.object({ events: z.array(runEventSchema).min(1).max(200) })
/** Which ids are safe in the database now. */
export const acknowledgedSchema = z.object({ stored: z.array(z.uuid()) })

/** A position of a running car as it reaches the screens. `lap`: 0 on the way to the line, then from 1. */
export const liveFixSchema = z.object({
  time_s: z.number(),
  station_m: z.number(),
  offset_m: z.number(),
  speed_mps: z.number(),
  lap: z.number().int(),
  finished: z.boolean(),
})
export type LiveFix = z.infer<typeof liveFixSchema>
