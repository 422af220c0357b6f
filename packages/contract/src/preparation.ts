import { type CallWork, CLEARANCE_M, type ConeWork, inCarTiming, levels, lineMethods } from '@ochote/core'
import { z } from 'zod'
import { planSettingsSchema } from './plan-settings.ts'

const metres = z.number().min(-200).max(200)
const station = z.number().min(0).max(100_000)

/** The cones of a day: for whom, what was moved or locked by hand, and for which settings they were settled. */
export const coneWorkSchema = z.object({
  level: z.enum(levels).default('first-day'),
  served: z
    .array(z.object({ vehicleId: z.string(), level: z.enum(levels), pace: z.number().min(0.3).max(0.92) }))
    .max(8)
    .default([]),
  /** Lines that are driven beside the plan's own, like the wet one. */
  lines: z.array(z.enum(lineMethods)).max(6).default([]),
  clearance_m: z.number().min(0.2).max(3).default(CLEARANCE_M),
  useStock: z.boolean().default(true),
  /** Leave out cones that the least experienced of those served no longer needs. */
  fade: z.boolean().default(false),
  nudges: z.record(z.string(), z.object({ along_m: metres, across_m: metres })).default({}),
  locks: z.record(z.string(), z.object({ station_m: station, offset_m: metres })).default({}),
  handsOn: z.string().max(60).optional(),
  settled: z
    .object({ at: z.iso.datetime(), settings: planSettingsSchema, circuitVersion: z.number().int(), cones: z.number().int() })
    .nullable()
    .default(null),
}) satisfies z.ZodType<ConeWork>
/** The cones of a day with what they were signed off for. */
export type StoredConeWork = z.infer<typeof coneWorkSchema>

/** The calls of a day: book, timing, and what was changed by hand. */
export const callWorkSchema = z.object({
  bookId: z.string().max(60).default('plain'),
  reaction_s: z.number().min(0.2).max(3).default(inCarTiming.reaction_s),
  rate_wps: z.number().min(1).max(8).default(inCarTiming.rate_wps),
  link_s: z.number().min(0).max(3).default(inCarTiming.link_s),
  /** Gears by their names, or by how many to change. */
  gears: z.enum(['named', 'steps']).default('named'),
  silentCorners: z.array(z.string()).default([]),
  calls: z
    .record(
      z.string(),
      z.object({ earlier_s: z.number().min(0).max(10).optional(), locked: z.boolean().optional(), silent: z.boolean().optional() }),
    )
    .default({}),
}) satisfies z.ZodType<CallWork>

const lines = z.array(z.string().max(300)).max(20)

/** The school's own part of a briefing: notes, order, audience, and pages of its own. */
export const briefingSchema = z.object({
  pits: lines.default([]),
  passing: lines.default([]),
  signals: lines.default([]),
  radio: lines.default([]),
  wet: lines.default([]),
  /** Controls of a vehicle that students need to know, by vehicle id. */
  controls: z.record(z.string(), lines).default({}),
  /** Paces of the day, in their order. */
  paceSteps: z.array(z.number().min(0.3).max(0.92)).max(8).default([0.45, 0.6]),
  order: z.array(z.string().max(60)).max(200).default([]),
  hidden: z.array(z.string().max(60)).max(200).default([]),
  /** Pages that are for some levels only. */
  levels: z.record(z.string(), z.array(z.enum(levels))).default({}),
  own: z
    .array(z.object({ id: z.string().max(60), title: z.string().max(80), text: z.string().max(4000) }))
    .max(40)
    .default([]),
  notes: z.record(z.string(), z.string().max(2000)).default({}),
})
export type Briefing = z.infer<typeof briefingSchema>

/** A question that a student asked, kept at its corner (null: about no corner) with the answer, for the next group. */
export const questionSchema = z.object({
  id: z.uuid(),
  circuitId: z.string(),
  cornerId: z.string().max(20).nullable(),
  text: z.string().trim().min(3, 'Write the question').max(300),
  answer: z.string().max(600),
  at: z.iso.datetime(),
  /** The version that it was made from; 0 for a new one. */
  version: z.number().int().min(0).default(0),
})
export type Question = z.infer<typeof questionSchema>
