import { type MistakeCode, mistakeCodes, type Seen } from '@ochote/core'
import { z } from 'zod'
import { runSchema } from './run.ts'
import { studentSchema } from './student.ts'

/** One mistake in one corner, seen by a person or shown by a log; `run` counts the student's runs from 1. */
export const seenSchema = z.object({
  cornerId: z.string(),
  circuitId: z.string(),
  code: z.enum(mistakeCodes as [MistakeCode, ...MistakeCode[]]),
  run: z.number().int(),
  runId: z.string(),
  lap: z.number().int(),
  by: z.enum(['hand', 'log']),
  lossTime_s: z.number().optional(),
})

/** A student's whole record, oldest run first. */
export const recordSchema = z.object({
  student: studentSchema,
  runs: z.array(runSchema.extend({ bestLap_s: z.number().nullable() })),
  seen: z.array(seenSchema),
})
export type StudentRecord = z.infer<typeof recordSchema>

/** What a record has seen on one circuit. */
export const seenAt = (record: StudentRecord, circuitId: string | undefined): Seen[] =>
  record.seen
    .filter((s) => s.circuitId === circuitId)
    .map(({ cornerId, code, run, by, lossTime_s }) => ({ cornerId, code, run, by, ...(lossTime_s === undefined ? {} : { lossTime_s }) }))

/** What was seen of all who drove on a day: by hand, and as roots in logs. */
export const groupSchema = z.object({
  drove: z.array(z.string()),
  seen: z.array(z.object({ studentId: z.string(), cornerId: z.string(), code: z.enum(mistakeCodes as [MistakeCode, ...MistakeCode[]]) })),
})
export type Group = z.infer<typeof groupSchema>
