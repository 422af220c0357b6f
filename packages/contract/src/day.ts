import {
  brakingSchools,
  type Car,
  type DayFlag,
  formatKinds,
  type GroupSettings,
  lineMethods,
  PACE_CEILING,
  type Slot,
  slotKinds,
} from '@ochote/core'
import { z } from 'zod'
import { checkOffSchema } from './check-off.ts'
import { clockSchema, dayPlanningSchema } from './day-setup.ts'
import { padSchema } from './pad.ts'
import { planSettingsSchema } from './plan-settings.ts'
import { briefingSchema, callWorkSchema, coneWorkSchema } from './preparation.ts'

/** One line of the day: a run on track, or something that everyone or a group does. */
export const slotSchema = z.object({
  id: z.string(),
  start: clockSchema,
  end: clockSchema,
  kind: z.enum(slotKinds),
  title: z.string().max(80),
  studentId: z.string().optional(),
  instructorId: z.string().optional(),
  carId: z.string().optional(),
  format: z.enum(formatKinds).optional(),
}) satisfies z.ZodType<Slot>

/** A car of the day: which vehicle it is, and whose. */
export const carSchema = z.object({
  id: z.string(),
  number: z.string().max(6),
  vehicleId: z.string(),
  owner: z.string().max(60),
}) satisfies z.ZodType<Car>

/** A flag and what it means at this venue. */
export const flagSchema = z.object({ name: z.string().max(40), meaning: z.string().max(200) }) satisfies z.ZodType<DayFlag>

const pace = z.number().min(0.3).max(PACE_CEILING)

/** Some of the day's students who do things together. */
export const dayGroupSchema = z.object({
  id: z.string(),
  name: z.string().max(40),
  studentIds: z.array(z.string()).max(200),
  /** How it drives; as the day where absent. */
  pace: pace.optional(),
  laterPaces: z.array(pace).max(8).optional(),
  school: z.enum(brakingSchools).optional(),
  method: z.enum(lineMethods).optional(),
  schemeId: z.string().max(80).optional(),
  vehicleId: z.string().max(80).optional(),
  cornerIds: z.array(z.string().max(20)).max(60).optional(),
}) satisfies z.ZodType<GroupSettings>

/** The plan of a day, kept as one versioned document. `template`: no day of its own, but one to make days from. */
export const dayPlanSchema = z.object({
  date: z.iso.date(),
  title: z.string().trim().min(1, 'Give the day a title').max(80),
  template: z.boolean().default(false),
  /** What is driven on this day is practice with simulated devices and counts in no record. */
  practice: z.boolean().default(false),
  groups: z.array(dayGroupSchema).max(20).default([]),
  venue: z.string().max(80),
  weather: z.string().max(200),
  rules: z.array(z.string().max(300)).max(20),
  flags: z.array(flagSchema).max(12),
  settings: planSettingsSchema,
  studentIds: z.array(z.string()),
  instructorIds: z.array(z.string()),
  cars: z.array(carSchema),
  slots: z.array(slotSchema),
  checkOff: checkOffSchema,
  cones: coneWorkSchema.prefault({}),
  calls: callWorkSchema.prefault({}),
  briefing: briefingSchema.prefault({}),
  planning: dayPlanningSchema.prefault({}),
  /** Exercises on the pad. */
  pad: padSchema.prefault({}),
  /** What people were told: their pages, calendars and the board follow it; null: they follow the run list itself. */
  announced: z
    .object({ at: z.iso.datetime(), slots: z.array(slotSchema), before: z.array(slotSchema).nullable() })
    .nullable()
    .default(null),
  /** The board for a screen in the paddock: the key from which the server makes its link, and how people are named on it. */
  board: z
    .object({ token: z.string().min(20).max(80), names: z.enum(['first', 'whole']) })
    .nullable()
    .default(null),
})
export type DayPlan = z.infer<typeof dayPlanSchema>
/** A day's plan as it is made: what nobody has worked on yet may be absent. */
export type NewDayPlan = z.input<typeof dayPlanSchema>

/** A stored day. A write must name the version it was made from. */
export const daySchema = z.object({ id: z.string(), version: z.number().int(), plan: dayPlanSchema })
export type Day = z.infer<typeof daySchema>

/** A day in a list; `driven`: runs that were started. */
export const daySummarySchema = z.object({
  id: z.string(),
  date: z.string(),
  title: z.string(),
  venue: z.string(),
  weather: z.string(),
  template: z.boolean(),
  circuitId: z.string(),
  students: z.number().int(),
  cars: z.number().int(),
  runs: z.number().int(),
  driven: z.number().int(),
})
export type DaySummary = z.infer<typeof daySummarySchema>

/** What the board in the paddock shows: no more than times, first names or whole ones, and cars. */
export const dayBoardSchema = z.object({
  title: z.string(),
  date: z.string(),
  venue: z.string(),
  lines: z.array(
    z.object({ start: clockSchema, end: clockSchema, kind: z.enum(slotKinds), title: z.string(), name: z.string(), car: z.string() }),
  ),
})
export type DayBoard = z.infer<typeof dayBoardSchema>

/** A new day; the id is made by the client, so that a button pressed twice makes one day. */
export const newDaySchema = z.object({ id: z.uuid(), plan: dayPlanSchema })
