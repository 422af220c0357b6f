import { type Cone, recallActions, recallModes } from '@ochote/core'
import { z } from 'zod'
import { storedCircuitSchema } from './circuit.ts'
import { planSettingsSchema } from './plan-settings.ts'
import { vehicleSchema } from './vehicle.ts'

/** What a round driven from memory came to; seconds and metres late, null where nothing was tapped. */
export const recalledSchema = z.object({
  mode: z.enum(recallModes),
  marks: z
    .array(
      z.object({
        cornerId: z.string().max(20),
        action: z.enum(recallActions),
        off_s: z.number().min(-600).max(600).nullable(),
        off_m: z.number().min(-30_000).max(30_000).nullable(),
      }),
    )
    .min(1)
    .max(300),
  lap_s: z.number().positive().max(3600).nullable(),
})

/** A round as it is kept. */
export const recallRoundSchema = recalledSchema.extend({ id: z.uuid(), at: z.iso.datetime() })

const cone = z.looseObject({ id: z.string(), cornerId: z.string(), kind: z.string() }).transform((one) => one as unknown as Cone)

/** All that it takes to drive the lap from memory, without the server once it is here. */
export const recallTaskSchema = z.object({
  circuit: storedCircuitSchema,
  vehicle: vehicleSchema,
  settings: planSettingsSchema,
  cones: z.array(cone),
  rounds: z.array(recallRoundSchema),
})
export type RecallTask = z.infer<typeof recallTaskSchema>

/** Rounds on their way in, each with the moment by the phone’s clock, which says what time it has. */
export const recallSentSchema = z.object({
  events: z.array(recallRoundSchema).min(1).max(50),
  deviceNow: z.iso.datetime().optional(),
})
