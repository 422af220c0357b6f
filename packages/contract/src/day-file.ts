import { type ConesOfDay, CoreError, intensities, languages, type Plan, type PlanChoice, type Planner } from '@ochote/core'
import { z } from 'zod'
import { storedCircuitSchema } from './circuit.ts'
import { planSource } from './codecs/survey.ts'
import { dayPlanSchema } from './day.ts'
import { schoolOf, schoolSettingsSchema } from './school-settings.ts'
import { vehicleSchema } from './vehicle.ts'

/**
 * A day with everything its cones are computed from, in one file, for the command line. Of students it holds the amount of talk
 * and the language, nothing else.
 */
export const dayFileSchema = z.object({
  form: z.literal('ochote-day-1'),
  day: dayPlanSchema.pick({ date: true, title: true, settings: true, cones: true, calls: true }),
  circuit: storedCircuitSchema.pick({ id: true, survey: true, notes: true }),
  vehicles: z.array(vehicleSchema).min(1),
  school: schoolSettingsSchema.pick({ schemes: true, phraseBooks: true, stock: true, reserved: true }),
  students: z.array(z.object({ talk: z.enum(intensities), language: z.enum(languages).nullable() })),
})
export type DayFile = z.infer<typeof dayFileSchema>

/**
 * Input for the cones of a day file, and the maker of its plans. @throws CoreError 'vehicle-unknown' when a plan is made for a
 * vehicle that the file lacks
 */
export const conesOfDayFile = (file: DayFile, planner: Planner): { of: ConesOfDay; planFor: (settings: PlanChoice) => Plan } => ({
  of: {
    day: file.day,
    school: schoolOf(file.school),
    students: file.students.map(({ talk, language }) => ({ talk, profile: { language } })),
  },
  planFor: (settings) => {
    const { circuit, vehicles } = file
    const vehicle = vehicles.find((v) => v.id === settings.vehicleId)
    if (!vehicle)
      throw new CoreError('vehicle-unknown', 'day.settings', { id: settings.vehicleId, known: vehicles.map((v) => v.id).join(', ') })
    return planner.plan(planSource({ circuit, vehicle, settings }))
  },
})
