import {
  type IncidentKind,
  incidentActions,
  incidentKinds,
  type MistakeCode,
  mistakeCodes,
  type Skill,
  type StudentEvent,
  skills,
} from '@ochote/core'
import { z } from 'zod'
import { levelSchema } from './student.ts'

const common = { id: z.uuid(), studentId: z.string().min(1).max(80), at: z.iso.datetime() }
const code = z.enum(mistakeCodes as [MistakeCode, ...MistakeCode[]])
const skill = z.enum(skills as unknown as [Skill, ...Skill[]])
const note = z.string().trim().max(300)

/** Decisions about a student between runs, appended and never changed. */
export const studentEventSchema = z.discriminatedUnion('kind', [
  /** A person has seen the skill too; `shows` is what the record said at that moment. */
  z.object({ ...common, kind: z.literal('skill-confirmed'), skill, shows: note }),
  z.object({ ...common, kind: z.literal('skill-withdrawn'), skill, why: note }),
  z.object({ ...common, kind: z.literal('level-set'), level: levelSchema, why: note }),
  /** Work on this next, whatever the record says; an empty corner goes back to the record's choice. */
  z.object({ ...common, kind: z.literal('focus-set'), focus: z.object({ cornerId: z.string(), code }).nullable(), note }),
  /** The hand-over as a person wrote it; null goes back to the one made from the record. */
  z.object({ ...common, kind: z.literal('hand-over'), text: z.string().trim().max(2400).nullable() }),
  /** True if this student's laps may be shown to others as a reference. */
  z.object({ ...common, kind: z.literal('laps-shared'), agreed: z.boolean() }),
]) satisfies z.ZodType<StudentEvent>

/** An event of a student with who said it. */
export const studentDecisionSchema = z.object({ by: z.string().nullable(), event: studentEventSchema })
export type StudentDecision = z.infer<typeof studentDecisionSchema>

/** A student in a list: when they drove last, and what they work on where somebody has set it. */
export const studentLineSchema = z.object({
  studentId: z.string(),
  runs: z.number().int(),
  lastDay: z.string().nullable(),
  lastRunId: z.string().nullable(),
  focus: z.object({ cornerId: z.string(), code }).nullable(),
})
export type StudentLine = z.infer<typeof studentLineSchema>

/** A student in an incident. */
export const incidentOfStudentSchema = z.object({
  date: z.string(),
  what: z.enum(incidentKinds as [IncidentKind, ...IncidentKind[]]),
  cornerId: z.string().nullable(),
  action: z.enum(incidentActions),
})
