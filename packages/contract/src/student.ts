import { intensities } from '@ochote/core'
import { z } from 'zod'

/** How far a student has come; the school's three groups. */
export const levelSchema = z.enum(['first day', 'building', 'steady'])

/** A student: only what the day needs. */
export const studentSchema = z.object({
  id: z.string(),
  name: z.string(),
  level: levelSchema,
  talk: z.enum(intensities),
  units: z.enum(['metric', 'imperial']),
})
export type Student = z.infer<typeof studentSchema>

/** A new student; the id is made by the client. */
export const newStudentSchema = studentSchema.extend({ id: z.uuid(), name: z.string().trim().min(2, 'At least 2 characters').max(60) })
