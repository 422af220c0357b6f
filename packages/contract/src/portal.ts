import { briefingParts, type QuizAnswer, type QuizQuestion, slotKinds } from '@ochote/core'
import { z } from 'zod'
import { storedCircuitSchema } from './circuit.ts'
import { flagSchema } from './day.ts'
import { debriefSchema, importId, traceSchema } from './debrief.ts'
import { runEventSchema, runSchema } from './run.ts'
import { coneSchemeSchema } from './school-settings.ts'
import { profileSchema, studentSchema } from './student.ts'
import { vehicleSchema } from './vehicle.ts'

/**
 * A link by which a student reads and answers without signing in. It ends by itself, and can be withdrawn. `token`: null where it has
 * ended, or was given by another machine; then it can only be given anew.
 */
export const studentLinkSchema = z.object({
  token: z.string().nullable(),
  dayId: z.string(),
  studentId: z.string(),
  createdAt: z.iso.datetime(),
  expiresAt: z.iso.datetime(),
  usedAt: z.iso.datetime().nullable(),
})
export type StudentLink = z.infer<typeof studentLinkSchema>

const part = z.enum(briefingParts)

/** One of a student's own times. */
const ownTimeSchema = z.object({
  start: z.string(),
  end: z.string(),
  kind: z.enum(slotKinds),
  title: z.string(),
  car: z.string(),
  instructor: z.string(),
})
export type OwnTime = z.infer<typeof ownTimeSchema>

/** All that a student's link shows. */
export const portalSchema = z.object({
  student: studentSchema.omit({ archivedAt: true }),
  date: z.string(),
  title: z.string(),
  venue: z.string(),
  corners: z.array(z.object({ id: z.string(), name: z.string() })),
  scheme: coneSchemeSchema,
  vehicleName: z.string(),
  /** Own times of the day, in order; `kind` is that of the run list. */
  times: z.array(ownTimeSchema),
  /** What the last announcement changed for this student. */
  changed: z.object({ at: z.iso.datetime(), gone: z.array(ownTimeSchema), added: z.array(ownTimeSchema) }).nullable(),
  /** Names of the corners that their group works on. */
  sections: z.array(z.string()),
  /** Lines of each part as the school entered them; the product's own words come from the page. */
  parts: z.record(part, z.array(z.string())),
  flags: z.array(flagSchema),
  /** Cautions of the school's own, beside the product's. */
  cautions: z.array(z.string()),
  acknowledged: z.partialRecord(part, z.string()),
  radioHeard: z.string().nullable(),
  answered: z.object({ right: z.number().int(), asked: z.number().int() }),
  /** Own drives with a log, the newest first; `words`: what the instructor wrote to them; `sheet`: its link, where it is out. */
  drives: z.array(
    z.object({
      runId: z.string(),
      date: z.string(),
      submitted: z.boolean(),
      laps: z.number().int(),
      best_s: z.number().nullable(),
      words: z.number().int(),
      sheet: z.string().nullable(),
    }),
  ),
})
export type Portal = z.infer<typeof portalSchema>

/** One own drive with all that it takes to look back on it, by the student's link. */
export const portalRunSchema = z.object({
  run: runSchema,
  circuit: storedCircuitSchema,
  vehicle: vehicleSchema,
  debrief: debriefSchema,
  traces: z.array(traceSchema),
  events: z.array(runEventSchema),
  /** True while an instructor has still to look at a log that was sent in: findings are left out until then. */
  toBeLookedAt: z.boolean().default(false),
})
export type PortalRun = z.infer<typeof portalRunSchema>

/** A log that a student sends in; the id is made by the client, so that a resend is one drive. */
export const sendLogQuery = z.object({
  id: z.uuid(),
  name: z.string().max(120).default('log'),
  date: z.iso.date(),
  reading: importId.optional(),
})

/** Fields that a student may change by the link. */
/** What a student changes of their own profile, and the version that it was made from. */
export const portalProfileSchema = z.object({
  version: z.number().int().optional(),
  profile: profileSchema,
  talk: studentSchema.shape.talk,
  units: studentSchema.shape.units,
})

/** Acknowledging one part, or answering the radio check; the id is made by the client. */
export const portalAcknowledgeSchema = z.object({ id: z.uuid(), part: z.union([part, z.literal('radio')]) })

const numbers = z.array(z.number())
const question = z
  .looseObject({
    id: z.string(),
    topic: z.string(),
    form: z.enum(['choose', 'order', 'place']),
    choices: z.array(z.looseObject({ kind: z.string() })),
    picture: z.object({ left: numbers, right: numbers, travel: numbers }).nullable(),
  })
  .transform((q) => q as unknown as QuizQuestion)

/** Some questions to answer now; `seed` comes back with each answer. */
export const quizSchema = z.object({ seed: z.number().int(), questions: z.array(question) })
export type Quiz = z.infer<typeof quizSchema>

/** An answer on its way in. */
export const quizAnswerSchema = z.object({
  id: z.uuid(),
  seed: z.number().int(),
  questionId: z.string().max(80),
  answer: z.discriminatedUnion('form', [
    z.object({ form: z.literal('choose'), choice: z.number().int().min(0).max(9) }),
    z.object({ form: z.literal('order'), order: z.array(z.number().int().min(0).max(9)).max(10) }),
    z.object({ form: z.literal('place'), x_m: z.number(), y_m: z.number() }),
  ]) satisfies z.ZodType<QuizAnswer>,
})

/** The judgement of an answer, with the right one. */
export const quizJudgementSchema = z.object({
  right: z.boolean(),
  off_m: z.number().nullable(),
  choice: z.number().int().nullable(),
  order: z.array(z.number().int()).nullable(),
  place: z.object({ x_m: z.number(), y_m: z.number() }).nullable(),
})
export type QuizJudgement = z.infer<typeof quizJudgementSchema>
