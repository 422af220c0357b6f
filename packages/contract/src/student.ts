import { intensities, languages, levels, type Student, type StudentProfile } from '@ochote/core'
import { z } from 'zod'

/** How far a student has come; the school's three groups. */
export const levelSchema = z.enum(levels)

/** What students say about themselves, as far as they want to. */
export const profileSchema = z.object({
  experience: z.string().max(300).default(''),
  car: z.string().max(80).default(''),
  goals: z.string().max(300).default(''),
  /** Corners that feel wrong. */
  worries: z.array(z.string().max(20)).max(40).default([]),
  /** Language of calls and hand-outs; English where nobody said. */
  language: z.enum(languages).nullable().default(null),
}) satisfies z.ZodType<StudentProfile>

const versionField = { version: z.number().int().default(1) }

/** A student: only what the day needs. `archivedAt`: left out of the lists one chooses from; nothing of the record is lost. */
export const studentSchema = z.object({
  id: z.string(),
  name: z.string(),
  level: levelSchema,
  talk: z.enum(intensities),
  units: z.enum(['metric', 'imperial']),
  profile: profileSchema.prefault({}),
  ...versionField,
  archivedAt: z.iso.datetime().nullable().default(null),
}) satisfies z.ZodType<Student>
export type StoredStudent = z.infer<typeof studentSchema>

/** A new student; the id is made by the client. */
export const newStudentSchema = studentSchema
  .omit({ version: true, archivedAt: true })
  .extend({ id: z.uuid(), name: z.string().trim().min(2, 'At least 2 characters').max(60) })
export type NewStudent = z.input<typeof newStudentSchema>

/** Several new students at once, as a list that was pasted gives them. */
export const newStudentsSchema = z.object({ students: z.array(newStudentSchema).min(1).max(500) })

/** A student as changed, and the version that the change was made from. */
export const changedStudentSchema = newStudentSchema.omit({ id: true }).extend({ version: z.number().int() })
