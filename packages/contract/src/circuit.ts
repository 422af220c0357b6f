import { type CornerEdit, doubtKinds, type GroundItem, groundKinds, referenceKinds, runOffSurfaces, startsFound } from '@ochote/core'
import { z } from 'zod'

const column = z.array(z.number())
const station = z.number().min(0).max(100_000)

const columns = {
  name: z.string(),
  x_m: column,
  y_m: column,
  z_m: column,
  widthLeft_m: column,
  widthRight_m: column,
  bank_rad: column,
  origin: z.object({ lat_deg: z.number(), lon_deg: z.number() }).optional(),
  open: z.boolean().optional(),
  widthAssumed: z.boolean().optional(),
  widthGiven: column.optional(),
  northSet: z.boolean().optional(),
}

/** A survey on the wire and out of a file: finite numbers in columns of equal length. */
export const surveySchema = z
  .object(columns)
  .refine(
    (s) => [s.y_m, s.z_m, s.widthLeft_m, s.widthRight_m, s.bank_rad, s.widthGiven ?? s.x_m].every((c) => c.length === s.x_m.length),
    'All columns have the same length',
  )

/** A circuit in a list. `venueId`: the venue it is a layout of; `archivedAt`: left out of the lists one chooses from; */
export const circuitSummarySchema = z.object({
  id: z.string(),
  name: z.string(),
  length_m: z.number(),
  corners: z.number().int(),
  venueId: z.string().nullable().default(null),
  archivedAt: z.iso.datetime().nullable().default(null),
  /** Of name, venue, and whether it was put away. */
  version: z.number().int().default(1),
})
/** A circuit as it was imported; `place`: of its first point, where the file tells; `startFound`: how the start line of driven laps was found. */
export const importedCircuitSchema = circuitSummarySchema.extend({
  place: z.object({ lat_deg: z.number(), lon_deg: z.number() }).optional(),
  widthAssumed: z.boolean(),
  startFound: z.enum(startsFound).optional(),
})
export type ImportedCircuit = z.infer<typeof importedCircuitSchema>
/** Corrections to a survey: another place for its start line, a width that was assumed, where the map's upper edge looks. */
export const circuitRevisionSchema = z.object({
  start_m: z.number().min(0).max(100_000).optional(),
  width: z
    .object({
      left_m: z.number().min(1).max(60),
      right_m: z.number().min(1).max(60),
      /** Where it holds; everywhere where not given. */
      stretch: z.object({ from_m: station, to_m: station }).optional(),
    })
    .optional(),
  /** Degrees clockwise from north, for a survey without a place on Earth. */
  up_deg: z.number().min(-360).max(360).optional(),
})
export type CircuitSummary = z.infer<typeof circuitSummarySchema>

/** Something on the ground, in the form of the wire. */
export const groundItemSchema = z.object({
  id: z.string().min(1).max(60),
  kind: z.enum(groundKinds),
  name: z.string().max(80),
  side: z.enum(['left', 'right', 'both']),
  from_m: station,
  to_m: station,
  near_m: z.number().min(0).max(60).optional(),
  far_m: z.number().min(0).max(60).optional(),
  reference: z.enum(referenceKinds).optional(),
  runOff: z.object({ surface: z.enum(runOffSurfaces), length_m: z.number().min(0).max(1000) }).optional(),
}) satisfies z.ZodType<GroundItem>

/** A change to the corners that were found. */
export const cornerEditSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('split'), at_m: station }),
  z.object({ kind: z.literal('merge'), at_m: station, to_m: station }),
  z.object({ kind: z.literal('move'), at_m: station, start_m: station, end_m: station }),
  z.object({ kind: z.literal('remove'), at_m: station }),
  z.object({ kind: z.literal('add'), start_m: station, end_m: station }),
]) satisfies z.ZodType<CornerEdit>

/** Notes on a circuit: names by corner id, changes to its corners, and what lies on its ground. */
export const circuitNotesSchema = z.object({
  cornerNames: z.record(z.string(), z.string().max(40)),
  cornerEdits: z.array(cornerEditSchema).max(200),
  ground: z.array(groundItemSchema).max(1000),
  /** Places that every line goes through: marks that were dragged. */
  pins: z
    .array(z.object({ station_m: station, offset_m: z.number().min(-60).max(60) }))
    .max(100)
    .default([]),
  /** Places to overtake and be overtaken, and places where nobody should, by corner id. */
  cornerTips: z.record(z.string(), z.string().max(300)).default({}),
})
export type CircuitNotes = z.infer<typeof circuitNotesSchema>

/** A stored circuit: its survey, which never changes under its id, and what is noted of it, a versioned document. */
export const storedCircuitSchema = z.object({
  id: z.string(),
  name: z.string(),
  survey: surveySchema,
  version: z.number().int(),
  notes: circuitNotesSchema,
})
export type StoredCircuit = z.infer<typeof storedCircuitSchema>

const flag = z.enum(['true', 'false']).optional()

/** How a file with a circuit is to be read; `start_m`: where on the road as it was read the lap begins. */
export const readCircuitQuery = z.object({
  name: z.string().trim().min(1, 'Give the circuit a name').max(80),
  from: z.enum(['survey', 'laps']).default('survey'),
  width_m: z.coerce.number().min(1).max(60).optional(),
  track: z.string().max(80).optional(),
  reverse: flag,
  open: flag,
  swapped: flag,
  start_m: z.coerce.number().min(0).max(100_000).optional(),
})

/** A circuit that was read from a file and not kept: its road to be drawn, and what is doubtful in it. */
export const circuitPreviewSchema = z.object({
  name: z.string(),
  length_m: z.number(),
  open: z.boolean(),
  climb_m: z.number(),
  width_m: z.object({ min: z.number(), max: z.number(), assumed: z.boolean() }),
  corners: z.array(z.object({ id: z.string(), apex_m: z.number(), start_m: z.number(), end_m: z.number() })),
  place: z.object({ lat_deg: z.number(), lon_deg: z.number() }).optional(),
  startFound: z.enum(startsFound).optional(),
  ground: z.number().int(),
  doubts: z.array(z.object({ kind: z.enum(doubtKinds), at_m: z.number().nullable(), value: z.number() })),
  /** The road at even stations: centreline and both edges. */
  road: z.object({ step_m: z.number(), x_m: column, y_m: column, left_m: column, right_m: column, z_m: column }),
})
export type ReadCircuit = z.infer<typeof readCircuitQuery>
export type CircuitPreview = z.infer<typeof circuitPreviewSchema>
