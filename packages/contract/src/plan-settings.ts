import { brakingSchools, lineMethods, PACE_CEILING, type Surface, surfaces } from '@ochote/core'
import { z } from 'zod'

/** What the numbers on every screen hold for: circuit, vehicle, surface, pace, school of braking, line, cone scheme. */
export const planSettingsSchema = z.object({
  circuitId: z.string(),
  vehicleId: z.string(),
  surface: z.enum(Object.keys(surfaces) as [Surface, ...Surface[]]),
  pace: z.number().min(0.3).max(PACE_CEILING),
  school: z.enum(brakingSchools),
  method: z.enum(lineMethods).default('smoothest'),
  schemeId: z.string(),
})
export type PlanChoice = z.infer<typeof planSettingsSchema>

/** What differs between two settings, in the order in which they stand in the context bar. */
export const changedSettings = (one: PlanChoice, other: PlanChoice): (keyof PlanChoice)[] =>
  (['circuitId', 'vehicleId', 'surface', 'pace', 'method', 'school', 'schemeId'] as const).filter((key) => one[key] !== other[key])
