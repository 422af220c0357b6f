import { z } from 'zod'

const column = z.array(z.number())

/** A survey on the wire: columns of equal length. */
export const surveySchema = z.object({
  name: z.string(),
  x_m: column,
  y_m: column,
  z_m: column,
  widthLeft_m: column,
  widthRight_m: column,
  bank_rad: column,
  origin: z.object({ lat_deg: z.number(), lon_deg: z.number() }).optional(),
})

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
