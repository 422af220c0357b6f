import {
  brakingSchools,
  channelNames,
  type Evidenced,
  isEvidenceOf,
  type LogCode,
  lineMethods,
  logCodes,
  logForms,
  type ReferenceTold,
  referenceReasons,
  type Surface,
  surfaces,
} from '@ochote/core'
import { z } from 'zod'
import { logMappingSchema } from './log.ts'
import { ownThresholdsSchema } from './school-settings.ts'

/** A complete lap of a run's log; `gap_s`: its longest data gap. */
export const lapSchema = z.object({ lap: z.number().int(), start_s: z.number(), time_s: z.number(), gap_s: z.number().default(0) })

const code = z.enum(logCodes as unknown as [LogCode, ...LogCode[]])

/** A mistake with evidence from a log, and the stretch of road that shows it. */
const plainFindingSchema = z.object({
  lap: z.number().int(),
  cornerId: z.string(),
  station_m: z.number(),
  from_m: z.number(),
  to_m: z.number(),
  code,
  root: z.boolean(),
  because: z.string().nullable(),
  lossTime_s: z.number(),
  certainty: z.number(),
  evidence: z.record(z.string(), z.number()),
})
export type StoredFinding = Omit<z.infer<typeof plainFindingSchema>, 'code' | 'evidence'> & Evidenced<LogCode>
/** The same, with all the evidence that its code needs. */
export const findingSchema = plainFindingSchema
  .refine(({ code, evidence }) => isEvidenceOf(code, evidence), 'Evidence is missing for this mistake')
  .transform((finding) => finding as StoredFinding)

/** What a log is to be held against: the plan of its run, a lap of the log or of another run, its quickest one, or whatever explains it best. */
export const heldAgainstSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('plan') }),
  z.object({ kind: z.literal('lap'), lap: z.number().int().min(1) }),
  z.object({ kind: z.literal('run'), runId: z.string(), lap: z.number().int().min(1) }),
  z.object({ kind: z.literal('best') }),
  z.object({ kind: z.literal('auto') }),
])
export type HeldAgainstWish = z.infer<typeof heldAgainstSchema>

const referenceToldSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('plan'),
    school: z.enum(brakingSchools),
    method: z.enum(lineMethods),
    pace: z.number(),
    surface: z.enum(Object.keys(surfaces) as [Surface, ...Surface[]]),
  }),
  z.object({ kind: z.literal('lap'), lap: z.number().int() }),
  z.object({ kind: z.literal('drive'), lap: z.number().int(), runId: z.string().optional() }),
]) satisfies z.ZodType<ReferenceTold>

const place = z.number().nullable()
/** A pass against its reference, mark by mark. */
export const passOffSchema = z.object({ brake_m: place, turnIn_m: place, apexInner_m: z.number(), slowest_mps: z.number() })
/** Marks and phases of one pass. */
export const passSchema = z.object({
  lap: z.number().int(),
  cornerId: z.string(),
  brake_m: place,
  release_m: place,
  turnIn_m: place,
  apex_m: z.number(),
  exit_m: place,
  throttle_m: place,
  slowest_mps: z.number(),
  shape: z
    .object({
      slowest_m: z.number(),
      apexInner_m: z.number(),
      exitOuter_m: place,
      radius_m: z.number(),
      shifts: z.array(z.object({ station_m: z.number(), to: z.number().int() })),
    })
    .nullable()
    .optional(),
  off: passOffSchema.nullable().default(null),
  phases_s: z.tuple([z.number(), z.number(), z.number(), z.number()]),
})

/** Review of a log beside laps and findings; empty for logs stored before reviews existed. */
export const reviewSchema = z.object({
  passes: z.array(passSchema).default([]),
  theoreticalBest: z
    .object({
      ideal_s: z.number(),
      best_s: z.number(),
      pieces: z.array(z.object({ lap: z.number().int(), from_m: z.number(), to_m: z.number(), time_s: z.number() })),
    })
    .nullable()
    .default(null),
  /** Highest speed and hardest braking of each lap; absent for logs judged before they were kept. */
  lapUse: z
    .array(
      z.object({
        lap: z.number().int(),
        top_mps: z.number(),
        topAt_m: z.number(),
        brake_g: z.number(),
        brakeAt_m: z.number(),
        braked_s: z.number(),
      }),
    )
    .default([]),
  undecidableCodes: z.array(code).default([]),
  undecidable: z
    .array(z.object({ lap: z.number().int(), cornerId: z.string(), codes: z.union([z.literal('all'), z.array(code)]) }))
    .default([]),
  quality: z
    .object({
      rate_hz: z.number(),
      noise_m: z.number(),
      drift_m: z.number(),
      pedals: z.boolean(),
      steering: z.boolean(),
      /** False where only the distance driven is known, not the place across the road. */
      positions: z.boolean().default(true),
      /** What demands were read off where pedals are missing; how an accelerometer sits in the car. */
      source: z.enum(['pedals', 'accelerations', 'speed']).optional(),
      mounting: z.object({ turned_deg: z.number(), scale: z.number(), offset_g: z.number() }).optional(),
    })
    .nullable()
    .default(null),
  /** What it was held against and why; `instead`: what explains a drive better that differs throughout. Null for logs judged before it was kept. */
  reference: z
    .object({ told: referenceToldSchema, why: z.enum(referenceReasons), instead: referenceToldSchema.nullable() })
    .nullable()
    .default(null),
  /** The last row of the file, where it was left out because it ends in the middle. */
  cutRow: z.number().int().optional(),
  /** The school's own thresholds that it was judged by. */
  thresholds: ownThresholdsSchema.default({}),
})
export type Review = z.infer<typeof reviewSchema>

/** Why a lap was left out. */
export const skippedSchema = z.object({
  lap: z.number().int().default(0),
  start_s: z.number(),
  gap_s: z.number(),
  after_s: z.number(),
  reason: z.enum(['silent', 'stop', 'elsewhere']).default('silent'),
})
export type SkippedLapTold = z.infer<typeof skippedSchema>

/** A run's log with its laps and findings. */
export const debriefSchema = z.object({
  runId: z.string(),
  source: z.string(),
  rows: z.number().int(),
  laps: z.array(lapSchema),
  skipped: z.array(skippedSchema),
  findings: z.array(findingSchema),
  review: reviewSchema,
})
export type Debrief = z.infer<typeof debriefSchema>

/** Logs that are judged anew in the background, by newer rules or because other laps count. */
export const judgingAnewSchema = z.object({ done: z.number().int(), total: z.number().int(), failed: z.number().int() })
export type JudgingAnew = z.infer<typeof judgingAnewSchema>

const column = z.array(z.number())
/** One lap at the circuit's stations, in columns; `kappa_1pm` is the curvature of the path, `wheel_1pm` the one that the wheel asks for. */
export const traceSchema = z.object({
  lap: z.number().int(),
  lapTime_s: z.number(),
  time_s: column,
  speed_mps: column,
  offset_m: column,
  brake: column,
  throttle: column,
  kappa_1pm: column.default([]),
  wheel_1pm: column.default([]),
  gear: column.default([]),
})
export type WireTrace = z.infer<typeof traceSchema>

/** A lap of another run of the same circuit that may be looked at beside one's own. */
export const referenceLapSchema = z.object({
  runId: z.string(),
  lap: z.number().int(),
  time_s: z.number(),
  date: z.string(),
  vehicleId: z.string(),
  kind: z.enum(['own', 'instructor', 'other']),
  studentName: z.string(),
})
export type ReferenceLap = z.infer<typeof referenceLapSchema>

/**
 * Preview of a log file: its columns with a few values, and the channel guessed for each; `remembered`: the choice made last
 * time for such a file.
 */
export const logPreviewSchema = z.object({
  form: z.enum(logForms),
  rows: z.number().int(),
  columns: z.array(z.object({ name: z.string(), sample: z.array(z.number().nullable()) })),
  guess: z.array(
    z.object({ channel: z.enum(channelNames), column: z.string(), unit: z.string(), sure: z.number(), speaksFor: z.string().nullable() }),
  ),
  remembered: logMappingSchema.nullable(),
  signature: z.string(),
})
export type LogPreview = z.infer<typeof logPreviewSchema>

/**
 * A run with a log in one line: complete laps, the quickest (s), the mistake that cost most time over all laps (null: none found),
 * and when its sheet was first printed or its link given out (null: not yet).
 */
export const debriefLineSchema = z.object({
  runId: z.string(),
  laps: z.number(),
  best_s: z.number().nullable(),
  costliest: plainFindingSchema.pick({ cornerId: true, code: true }).nullable(),
  /** The mistake found most often, and how often; only roots count. */
  mostFrequent: plainFindingSchema.pick({ cornerId: true, code: true }).extend({ times: z.number().int() }).nullable(),
  /** Something was said, noted or released in its debrief. */
  lookedAt: z.boolean(),
  sheetGivenAt: z.iso.datetime().nullable(),
})
export type DebriefLine = z.infer<typeof debriefLineSchema>

/** Progress of the server's work on an uploaded log, and the share that is done (0 … 1). */
export const importProgressSchema = z.object({ step: z.enum(['reading', 'matching', 'judging', 'storing']), share: z.number() })
export type ImportProgress = z.infer<typeof importProgressSchema>

/** An id that a sender makes up, to ask by it how far its log is. */
export const importId = z.uuid()

/** An upload of a log to a run. `mapping`: JSON, where a person decided; `add`: joined to the log that is there. */
export const uploadLogQuery = z.object({
  mapping: z
    .string()
    .max(4000)
    .transform((text, context) => {
      try {
        return logMappingSchema.parse(JSON.parse(text))
      } catch {
        context.addIssue({ code: 'custom', message: 'not a mapping' })
        return z.NEVER
      }
    })
    .optional(),
  name: z.string().max(120).optional(),
  add: z.stringbool().optional(),
  reading: importId.optional(),
})
