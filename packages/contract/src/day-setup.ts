import {
  brakingSchools,
  type DayCosts,
  type DayPlanning,
  type DayRules,
  type DaySetup,
  type Format,
  formatKinds,
  PACE_CEILING,
  type PlannedSession,
  places,
  usualPlanning,
  usualRules,
} from '@ochote/core'
import { z } from 'zod'

/** A time of day as hh:mm. */
export const clockSchema = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'A time as hh:mm')
const id = z.string().min(1).max(80)
const span = z.object({ from: clockSchema, to: clockSchema })
const minutes = z
  .number()
  .min(0)
  .max(24 * 60)
const cost = z.number().min(0).max(100_000)

/** How one thing of the day is run. */
export const formatSchema = z.object({
  id,
  kind: z.enum(formatKinds),
  name: z.string().max(60).optional(),
  minutes,
  place: z.enum(places),
  at: clockSchema.nullable().default(null),
  min: z.number().int().default(1),
  max: z.number().int().default(1),
  instructor: z.boolean().default(true),
  cars: z.enum(['each', 'one', 'none']).default('none'),
  leaderCar: z.boolean().default(false),
  change_min: minutes.default(0),
  laps: z.number().int().min(0).max(200).nullable().default(null),
  mixed: z.boolean().default(false),
}) satisfies z.ZodType<Format>

const wants = z.record(id, z.number().int())

const usual = usualRules.cost
const costsSchema = z.object({
  wait: z.object({ free_min: minutes, each: cost, long_min: minutes, more: cost }).default(usual.wait),
  otherInstructor: cost.default(usual.otherInstructor),
  wish: cost.default(usual.wish),
  rest: z.object({ busy_min: minutes, within_min: minutes, each: cost }).default(usual.rest),
  unevenLoad: cost.default(usual.unevenLoad),
  groupChange: cost.default(usual.groupChange),
  unevenLaps: cost.default(usual.unevenLaps),
  leftOut: cost.default(usual.leftOut),
  moved: cost.default(usual.moved),
  wrongWeather: cost.default(usual.wrongWeather),
}) satisfies z.ZodType<DayCosts>

const atOnce = z.number().int().min(0).max(200).nullable()

/** Rules of a day; what is absent is as most schools have it. */
export const dayRulesSchema = z.object({
  restBetweenDrives_min: minutes.default(usualRules.restBetweenDrives_min),
  beforeLeaving_min: minutes.default(usualRules.beforeLeaving_min),
  maxCarsOut: atOnce.default(usualRules.maxCarsOut),
  oneGroupOnTrack: z.boolean().default(usualRules.oneGroupOnTrack),
  briefingFirst: z.boolean().default(usualRules.briefingFirst),
  sightingFirst: z.boolean().default(usualRules.sightingFirst),
  lunch: z.object({ from: clockSchema, to: clockSchema, minutes }).nullable().default(usualRules.lunch),
  helmets: z.record(id, z.number().int().min(0).max(500)).nullable().default(null),
  radios: atOnce.default(null),
  loggers: atOnce.default(null),
  languages: z.boolean().default(usualRules.languages),
  passengers: z.boolean().default(usualRules.passengers),
  lastNotFaster: z.boolean().default(usualRules.lastNotFaster),
  cost: costsSchema.prefault({}),
}) satisfies z.ZodType<DayRules>

/** A session of a plan, as files and wire carry it. */
export const plannedSessionSchema = z.object({
  formatId: id,
  groupId: id,
  start: clockSchema,
  end: clockSchema,
  instructorId: id.nullable(),
  seats: z.array(z.object({ studentId: id, carId: id.nullable() })).max(200),
  leaderCarId: id.nullable().default(null),
}) satisfies z.ZodType<PlannedSession>

const windowSchema = span.extend({ place: z.enum(places), maxCars: z.number().int().min(0).max(200).optional() })

const helmetSize = z.string().min(1).max(10)
const pairSchema = z.object({ studentId: id, instructorId: id, wish: z.enum(['keep', 'avoid']) })

/** What a day is planned from beside its people and cars, and the plan that was accepted. */
export const dayPlanningSchema = z.object({
  from: clockSchema.default(usualPlanning().from),
  to: clockSchema.default(usualPlanning().to),
  formats: z.array(formatSchema).max(30).default(usualPlanning().formats),
  windows: z.array(windowSchema).max(20).default(usualPlanning().windows),
  wants: z.record(z.string(), wants).default({}),
  people: z
    .record(z.string(), z.object({ arrives: clockSchema.optional(), leaves: clockSchema.optional(), helmet: helmetSize.optional() }))
    .default({}),
  staff: z
    .record(z.string(), z.object({ from: clockSchema.optional(), to: clockSchema.optional(), breaks: z.array(span).max(10).default([]) }))
    .default({}),
  cars: z
    .record(
      z.string(),
      z.object({
        cooling_min: minutes.default(10),
        fuel_laps: z.number().int().min(1).max(1000).nullable().default(null),
        refuel_min: minutes.default(15),
        out: z.array(span).max(10).default([]),
      }),
    )
    .default({}),
  pairs: z.array(pairSchema).max(200).default([]),
  order: z
    .array(z.object({ groupId: id.nullable(), first: id, second: id }))
    .max(60)
    .default([]),
  rain: z.array(span).max(10).default([]),
  closed: z.array(span).max(10).default([]),
  shared: z
    .array(span.extend({ maxCars: z.number().int().min(0).max(200) }))
    .max(10)
    .default([]),
  rules: dayRulesSchema.prefault({}),
  sessions: z.array(plannedSessionSchema).max(1000).default([]),
  told: z.array(plannedSessionSchema).max(1000).nullable().default(null),
  locked: z.array(z.string().max(10_000)).max(1000).default([]),
}) satisfies z.ZodType<DayPlanning>

/** All that a day is planned from, in one file. */
export const daySetupSchema = z.object({
  date: z.iso.date(),
  from: clockSchema,
  to: clockSchema,
  step_min: z.number().int().default(5),
  students: z.array(
    z.object({
      id,
      groupId: id,
      arrives: clockSchema.optional(),
      leaves: clockSchema.optional(),
      carIds: z.array(id).optional(),
      language: z.string().max(10).optional(),
      helmet: helmetSize.optional(),
      wants: wants.optional(),
      done: z.array(id).optional(),
    }),
  ),
  instructors: z.array(
    z.object({
      id,
      groupIds: z.array(id).default([]),
      carIds: z.array(id).default([]),
      languages: z.array(z.string().max(10)).default([]),
      from: clockSchema.optional(),
      to: clockSchema.optional(),
      breaks: z.array(span).default([]),
    }),
  ),
  cars: z.array(
    z.object({
      id,
      groupIds: z.array(id).default([]),
      studentIds: z.array(id).default([]),
      cooling_min: minutes.default(0),
      fuel_laps: z.number().int().min(1).max(1000).nullable().default(null),
      refuel_min: minutes.default(15),
      out: z.array(span).default([]),
    }),
  ),
  groups: z.array(
    z.object({
      id,
      name: z.string().max(80).default(''),
      pace: z.number().min(0.3).max(PACE_CEILING).optional(),
      school: z.enum(brakingSchools).optional(),
      lap_s: z.number(),
      wants,
      order: z.array(z.tuple([id, id])).default([]),
    }),
  ),
  formats: z.array(formatSchema),
  windows: z.array(windowSchema),
  pairs: z.array(pairSchema).default([]),
  rain: z.array(span).default([]),
  rules: dayRulesSchema.prefault({}),
  kept: z.array(plannedSessionSchema).default([]),
  announced: z.array(plannedSessionSchema).default([]),
  now: clockSchema.nullable().default(null),
}) satisfies z.ZodType<DaySetup>
