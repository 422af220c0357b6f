import { drillKinds, languages } from '@ochote/core'
import { z } from 'zod'

/** A link to a student's sheet of one run; null where none is out. */
export const sheetLinkSchema = z.object({ token: z.string().nullable() })

const flat = z.array(z.number())
/** A corner from above, in metres: pairs of x and y; `driven` is the student's own lap. */
export const cornerDrawingSchema = z.object({ left: flat, right: flat, planned: flat, driven: flat, shown: flat })
export type CornerDrawing = z.infer<typeof cornerDrawingSchema>

/**
 * One finding in the student's words, language and units. `name`: the mistake; `shows`: the act with its size, empty where the
 * instructor saw it from the seat (then without a drawing).
 */
export const sheetItemSchema = z.object({
  cornerId: z.string(),
  cornerName: z.string(),
  name: z.string(),
  lap: z.number().int(),
  laps: z.number().int(),
  of: z.number().int(),
  say: z.string(),
  cue: z.string(),
  next: z.string(),
  shows: z.string(),
  drawing: cornerDrawingSchema.nullable(),
})
export type SheetItem = z.infer<typeof sheetItemSchema>

/** A student's sheet: what held, three findings, what next, and the trend over the runs. */
export const sheetSchema = z.object({
  studentName: z.string(),
  language: z.enum(languages),
  date: z.string(),
  circuitName: z.string(),
  vehicleName: z.string(),
  simulated: z.boolean(),
  laps: z.number().int(),
  best_s: z.number().nullable(),
  held: z.array(z.object({ cornerName: z.string(), say: z.string() })),
  items: z.array(sheetItemSchema),
  /** Pictures that the instructor kept of this run, each with a word: JPEG in base 64. */
  pictures: z.array(z.object({ text: z.string(), jpeg: z.string() })).default([]),
  /** What was done on the pad that day: attempts, those on target, and what was said last. */
  pad: z
    .array(z.object({ drill: z.enum(drillKinds), attempts: z.number().int(), onTarget: z.number().int(), said: z.string().nullable() }))
    .default([]),
  /** Cautions of the school's own, beside the product's. */
  cautions: z.array(z.string()),
  /** The aim of the next run: the focus that a person set, or else the first finding. */
  next: z.object({ cornerName: z.string(), say: z.string() }).nullable(),
  trend: z.array(z.object({ date: z.string(), best_s: z.number().nullable(), perLap: z.number().nullable() })),
})
export type Sheet = z.infer<typeof sheetSchema>
