import { z } from 'zod'

/**
 * An error on the wire: problem details of RFC 9457 with the place, the remedy and what was kept. `code` and `data` say the
 * same without words, so that a student's page can put it into another language.
 */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  detail: z.string().optional(),
  code: z.string(),
  place: z.string().optional(),
  remedy: z.string().optional(),
  data: z.record(z.string(), z.union([z.string(), z.number()])).optional(),
})
export type Problem = z.infer<typeof problemSchema>
