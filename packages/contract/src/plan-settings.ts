import { brakingSchools, lineMethods, PACE_CEILING, type PlanChoice, type Surface, surfaces } from '@ochote/core'
import { z } from 'zod'

/** Settings behind the numbers on every screen: circuit, vehicle, surface, pace, braking style, line, cone scheme. */
export const planSettingsSchema = z.object({
  circuitId: z.string(),
  vehicleId: z.string(),
  surface: z.enum(Object.keys(surfaces) as [Surface, ...Surface[]]),
  pace: z.number().min(0.3).max(PACE_CEILING),
  school: z.enum(brakingSchools),
  method: z.enum(lineMethods).default('smoothest'),
  schemeId: z.string(),
  lowestGear: z.number().int().min(1).max(4).optional(),
  perMetre_s: z.number().min(0).max(0.2).optional(),
}) satisfies z.ZodType<PlanChoice>
