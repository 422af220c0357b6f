import { axles, drillKinds, type Pad, type Surface, surfaces, usualPad } from '@ochote/core'
import { z } from 'zod'

const metres = (max: number) => z.number().min(0).max(max)

const exerciseSchema = z.object({
  id: z.string().min(1).max(60),
  kind: z.enum(drillKinds),
  name: z.string().trim().min(1, 'Give the exercise a name').max(60),
  x_m: z.number().min(-1000).max(1000),
  y_m: z.number().min(-1000).max(1000),
  turn_deg: z.number().min(-360).max(360),
  sizes: z.object({
    radius_m: z.number().min(5).max(80),
    spacing_m: z.number().min(6).max(60),
    amplitude_m: z.number().min(0.5).max(6),
    entry_mps: z.number().min(3).max(45),
  }),
  surface: z.enum(Object.keys(surfaces) as [Surface, ...Surface[]]),
  axle: z.enum(axles).optional(),
  axleShare: z.number().min(0.1).max(1).optional(),
  sentences: z.array(z.string().max(120)).max(3).optional(),
})

/** A pad with its exercises, as a day keeps it. */
export const padSchema = z.object({
  length_m: metres(600).default(usualPad.length_m),
  width_m: metres(400).default(usualPad.width_m),
  exercises: z.array(exerciseSchema).max(12).default([]),
  place: z
    .object({ lat_deg: z.number().min(-90).max(90), lon_deg: z.number().min(-180).max(180), bearing_deg: z.number().min(0).max(360) })
    .nullish(),
}) satisfies z.ZodType<Pad>
