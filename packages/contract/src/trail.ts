import { z } from 'zod'

/** One line of the trail: who did what about what, and the hash that ties it to the line before. */
export const trailLineSchema = z.object({
  seq: z.number().int(),
  at: z.iso.datetime(),
  /** Name of whoever did it, as it was then; null for the program itself. */
  by: z.string().nullable(),
  what: z.enum(['seen', 'changed', 'exported', 'erased', 'signed-in', 'sign-in-failed']),
  /** The call, as the table of permissions names it. */
  call: z.string(),
  /** Kind and id of what it was about; never a name. */
  about: z.string().nullable(),
})
export type TrailLine = z.infer<typeof trailLineSchema>

/** A page of the trail, newest first. `whole`: no line was changed or taken out since it was written; else the first one that does not fit. */
export const trailSchema = z.object({
  lines: z.array(trailLineSchema),
  next: z.number().int().nullable(),
  whole: z.boolean(),
  brokenAt: z.number().int().nullable(),
})
