import { z } from 'zod'

const column = z.array(z.number())

const columns = {
  name: z.string(),
  x_m: column,
  y_m: column,
  z_m: column,
  widthLeft_m: column,
  widthRight_m: column,
  bank_rad: column,
  origin: z.object({ lat_deg: z.number(), lon_deg: z.number() }).optional(),
}

/** A survey on the wire and out of a file: finite numbers in columns of equal length. */
export const surveySchema = z
  .object(columns)
  .refine(
    (s) => [s.y_m, s.z_m, s.widthLeft_m, s.widthRight_m, s.bank_rad].every((c) => c.length === s.x_m.length),
    'All columns have the same length',
  )

/** A circuit in a list. */
export const circuitSummarySchema = z.object({ id: z.string(), name: z.string(), length_m: z.number(), corners: z.number().int() })
export type CircuitSummary = z.infer<typeof circuitSummarySchema>

/** A stored circuit: its survey and the names given to its corners (by corner id). */
export const storedCircuitSchema = z.object({
  id: z.string(),
  name: z.string(),
  survey: surveySchema,
  cornerNames: z.record(z.string(), z.string().max(40)),
})
export type StoredCircuit = z.infer<typeof storedCircuitSchema>
