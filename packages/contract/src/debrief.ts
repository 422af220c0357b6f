import { type LogCode, logCodes } from '@ochote/core'
import { z } from 'zod'

/** A complete lap of a run's log. */
export const lapSchema = z.object({ lap: z.number().int(), start_s: z.number(), time_s: z.number() })

/** A mistake with evidence from a log. */
export const findingSchema = z.object({
  lap: z.number().int(),
  cornerId: z.string(),
  station_m: z.number(),
  code: z.enum(logCodes as unknown as [LogCode, ...LogCode[]]),
  root: z.boolean(),
  because: z.string().nullable(),
  lossTime_s: z.number(),
  evidence: z.record(z.string(), z.number()),
})
export type StoredFinding = z.infer<typeof findingSchema>

/** What is known of a run's log. */
export const debriefSchema = z.object({
  runId: z.string(),
  source: z.string(),
  rows: z.number().int(),
  laps: z.array(lapSchema),
  skipped: z.array(z.object({ start_s: z.number(), gap_s: z.number(), after_s: z.number() })),
  findings: z.array(findingSchema),
})
export type Debrief = z.infer<typeof debriefSchema>

/** One lap at the circuit's stations, in columns. */
export const traceSchema = z.object({
  lap: z.number().int(),
  lapTime_s: z.number(),
  time_s: z.array(z.number()),
  speed_mps: z.array(z.number()),
  offset_m: z.array(z.number()),
  brake: z.array(z.number()),
  throttle: z.array(z.number()),
})
export type WireTrace = z.infer<typeof traceSchema>
