import { type Gearbox, gearboxes, type SchoolCar } from '@ochote/core'
import { z } from 'zod'
import { carConditionSchema } from './run.ts'
import { levelSchema } from './student.ts'

const id = z.string().min(1).max(60)

/** A car that the school or a student brings, whatever day it drives on. */
export const schoolCarSchema = z.object({
  id,
  number: z.string().trim().min(1, 'Give the car a number').max(6),
  vehicleId: id,
  /** Whose it is where it is not the school’s. */
  studentId: z.string().max(80).nullable().default(null),
  gearbox: z.enum(gearboxes satisfies readonly Gearbox[]).default('manual'),
  /** Who may drive it: levels and single students; both empty: everybody. */
  mayDrive: z
    .object({ levels: z.array(levelSchema).max(10).default([]), studentIds: z.array(z.string().max(80)).max(500).default([]) })
    .prefault({}),
  /** Driving aids, how they are set on track, and what brings them back. */
  aids: z
    .array(z.object({ name: z.string().trim().min(1).max(40), set: z.string().max(60), resets: z.string().max(80) }))
    .max(12)
    .default([]),
  note: z.string().max(300).default(''),
}) satisfies z.ZodType<SchoolCar>
/** A stored car; a write names the version it was made from. */
export const storedCarSchema = schoolCarSchema.extend({
  version: z.number().int(),
  archivedAt: z.iso.datetime().nullable(),
  /** The last word on it. */
  condition: carConditionSchema.nullable(),
})
export type StoredCar = z.infer<typeof storedCarSchema>
/** A car as it is put: version 0 for one that is new. */
export const putCarSchema = schoolCarSchema
  .omit({ id: true })
  .extend({ version: z.number().int().min(0), archived: z.boolean().default(false) })

/** What was said of a car after one run. */
export const carHistorySchema = z.array(carConditionSchema.extend({ date: z.string(), studentName: z.string(), by: z.string().nullable() }))
