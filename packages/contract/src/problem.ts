import { z } from 'zod'

/** An error on the wire: problem details of RFC 9457 with the place, the remedy and what was kept. */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  detail: z.string().optional(),
  code: z.string(),
  place: z.string().optional(),
  remedy: z.string().optional(),
})
export type Problem = z.infer<typeof problemSchema>
