import {
  type DrillResult,
  drillKinds,
  drillResults,
  type MistakeCode,
  mistakeCodes,
  type PassKnown,
  type Said,
  type Seen,
} from '@ochote/core'
import { z } from 'zod'
import { passOffSchema } from './debrief.ts'
import { recallRoundSchema } from './recall.ts'
import { runSchema } from './run.ts'
import { studentSchema } from './student.ts'
import { incidentOfStudentSchema, studentDecisionSchema } from './student-event.ts'

const code = z.enum(mistakeCodes as [MistakeCode, ...MistakeCode[]])
const place = { cornerId: z.string(), circuitId: z.string(), run: z.number().int(), runId: z.string() }
const lap = z.number().int()

/** One mistake in one corner, seen by a person, shown by a log, or both; `run` counts the student's runs from 1. */
export const seenSchema = z.object({ ...place, code, lap, by: z.enum(['hand', 'log', 'both']), worth_s: z.number().optional() })

/** One pass of a corner as the record knows it. */
export const passKnownSchema = z.object({
  ...place,
  lap,
  date: z.string(),
  pace: z.number(),
  watched: z.enum(['log', 'seat', 'both']),
  codes: z.array(code),
  off: passOffSchema.nullable(),
})

/** A correction as it was said: in the car after a pass, or in the debrief (`lap` null). */
export const saidSchema = z.object({ ...place, code, lap: lap.nullable(), words: z.string() })

/** An attempt on the pad, with the sentence that went with it. */
export const padAttemptSchema = z.object({
  date: z.string(),
  drill: z.enum(drillKinds),
  result: z.enum(Object.values(drillResults).flat() as [DrillResult, ...DrillResult[]]),
  said: z.string().nullable(),
})

/** A student's whole record, oldest run first; `paces`: steps taken during a run, in order. */
export const recordSchema = z.object({
  student: studentSchema,
  runs: z.array(runSchema.extend({ bestLap_s: z.number().nullable(), laps: z.number().int(), paces: z.array(z.number()).default([]) })),
  seen: z.array(seenSchema),
  passes: z.array(passKnownSchema),
  said: z.array(saidSchema),
  incidents: z.array(incidentOfStudentSchema),
  decisions: z.array(studentDecisionSchema),
  /** Attempts on the pad, oldest first. */
  pad: z.array(padAttemptSchema).default([]),
  /** Rounds driven from memory, oldest first, each with the circuit of its day. */
  recall: z.array(recallRoundSchema.extend({ circuitId: z.string() })).default([]),
})
export type StudentRecord = z.infer<typeof recordSchema>

/** A student's record on one circuit. */
export const seenAt = (record: Pick<StudentRecord, 'seen'>, circuitId: string | undefined): Seen[] =>
  record.seen
    .filter((s) => s.circuitId === circuitId)
    .map(({ cornerId, code, run, by, worth_s }) => ({ cornerId, code, run, by, ...(worth_s === undefined ? {} : { worth_s }) }))

/** Passes and corrections of a record on one circuit. */
export const drivenAt = (
  record: Pick<StudentRecord, 'passes' | 'said'>,
  circuitId: string | undefined,
): { passes: PassKnown[]; said: Said[] } => ({
  passes: record.passes.filter((p) => p.circuitId === circuitId),
  said: record.said.filter((s) => s.circuitId === circuitId),
})

/** Mistakes seen of all who drove on a day, and what is left of students erased since: counts without names. */
export const groupSchema = z.object({
  drove: z.array(z.string()),
  formerDrove: z.number().int(),
  seen: z.array(z.object({ studentId: z.string(), cornerId: z.string(), code })),
  former: z.array(z.object({ cornerId: z.string(), code, students: z.number().int() })),
  /** `turnIn_m`: how much later than its reference a pass turned in (m, negative: earlier); null where no log told it. */
  passes: z.array(
    z.object({
      at: z.iso.datetime(),
      studentId: z.string(),
      cornerId: z.string(),
      codes: z.array(code),
      turnIn_m: z.number().nullable(),
    }),
  ),
  /** Results of each run that has a log: the student's own laps, and the most frequent root. */
  runs: z.array(
    z.object({
      runId: z.string(),
      studentId: z.string(),
      laps: z.number().int(),
      best_s: z.number().nullable(),
      /** The best lap, where the student agreed that others may see it. */
      sharedLap: z.number().int().nullable(),
      most: z.object({ cornerId: z.string(), code, times: z.number().int() }).nullable(),
    }),
  ),
})
export type Group = z.infer<typeof groupSchema>
