import {
  brakingSchools,
  type ConeScheme,
  type ConesOfDay,
  callKinds,
  coneColourNames,
  coneKinds,
  coneSchemes,
  coneShapes,
  languages,
  type OwnThreshold,
  ownThresholds,
  PACE_CEILING,
  type PhraseBook,
  phraseBooks,
  phraseCases,
  thresholdRange,
} from '@ochote/core'
import { z } from 'zod'
import { checkOffSchema } from './check-off.ts'
import { levelSchema } from './student.ts'

const colour = z.enum(coneColourNames)
const id = z.string().min(1).max(60)

/** Appearance and place of one kind of cone; a negative distance would stand on the road. */
const coneRuleSchema = z.object({
  colour,
  shape: z.enum(coneShapes),
  count: z.number().int().min(1).max(5),
  side: z.enum(['inside', 'outside']),
  beyondEdge_m: z.number().min(0).max(5),
})

/** A cone scheme of the school's own. */
export const coneSchemeSchema = z.object({
  id,
  name: z.string().trim().min(1, 'Give the scheme a name').max(80),
  rules: z.partialRecord(z.enum(coneKinds), coneRuleSchema),
})

const phrase = z.tuple([z.string().max(120), z.string().max(80), z.string().max(40)])

const phrases = z.partialRecord(z.enum(callKinds), phrase)

/** A phrase book of the school's own. */
export const phraseBookSchema = z.object({
  id,
  name: z.string().trim().min(1, 'Give the book a name').max(80),
  language: z.enum(languages),
  words: z.object({ left: z.string().max(20), right: z.string().max(20), gears: z.array(z.string().max(20)).max(10) }),
  phrases,
  schools: z.partialRecord(z.enum(brakingSchools), phrases).optional(),
  cases: z.partialRecord(z.enum(phraseCases), phrases).optional(),
  /** Side on which the instructor sits, where sides are called from there. */
  seat: z.enum(['left', 'right']).optional(),
  /** Distances in car lengths instead of metres. */
  lengths: z.boolean().optional(),
})

const thresholdNames = Object.keys(ownThresholds) as [OwnThreshold, ...OwnThreshold[]]

/** The school's own thresholds, where they differ from the usual ones. */
export const ownThresholdsSchema = z.partialRecord(z.enum(thresholdNames), z.number()).superRefine((thresholds, context) => {
  for (const [name, value] of Object.entries(thresholds)) {
    const [min, max] = thresholdRange(name as OwnThreshold)
    if (!(value >= min && value <= max)) context.addIssue({ code: 'custom', path: [name], message: `Give a value from ${min} to ${max}` })
  }
})

/**
 * Settings of the school beside its days: own schemes and phrase books, cones in the shed, colours reserved for pits and
 * hazards, thresholds, when findings of logs that were sent in are shown.
 */
export const schoolSettingsSchema = z.object({
  schemes: z.array(coneSchemeSchema).max(40).default([]),
  phraseBooks: z.array(phraseBookSchema).max(40).default([]),
  stock: z.partialRecord(colour, z.number().int().min(0).max(2000)).default({}),
  reserved: z.array(colour).default([]),
  thresholds: ownThresholdsSchema.default({}),
  /** The school's name, for pages and prints. */
  name: z.string().max(80).default(''),
  /** Logo for prints, as a data address of a PNG or JPEG picture; empty: none. */
  logo: z
    .string()
    .max(200_000)
    .regex(/^(data:image\/(png|jpeg);base64,[A-Za-z0-9+/=]+)?$/, 'A PNG or JPEG picture')
    .default(''),
  /** Language and units of the staff's pages. */
  staff: z.object({ language: z.enum(languages).default('en'), units: z.enum(['metric', 'imperial']).default('metric') }).prefault({}),
  /** With what new days and students begin. */
  defaults: z
    .object({
      pace: z.number().min(0.3).max(PACE_CEILING).default(0.6),
      school: z.enum(brakingSchools).default('straight'),
      schemeId: id.default('pairs-and-colours'),
      /** Phrase book of new days; empty: the one of the language. */
      bookId: z.string().max(60).default(''),
      byLevel: z
        .partialRecord(levelSchema, z.object({ pace: z.number().min(0.3).max(PACE_CEILING), school: z.enum(brakingSchools) }))
        .default({}),
    })
    .prefault({}),
  /** Checks before a car rolls, for new days. */
  checkOff: checkOffSchema,
  /** Cautions of the school's own, beside the product's, which stay. */
  cautions: z.array(z.string().trim().min(1).max(300)).max(12).default([]),
  /** Months after their last day for which students are kept; 0: until somebody erases them. */
  retention_months: z.number().int().min(0).max(240).default(0),
  /** Simulated devices may be used for practice. The demo always has them. */
  practice: z.boolean().default(false),
  /** When a student reads what was found in a log that they sent in: once an instructor has looked, or at once. */
  sentInFindings: z.enum(['once-looked-at', 'at-once']).default('once-looked-at'),
})
export type SchoolSettings = z.infer<typeof schoolSettingsSchema>

/** The school's side of cones and calls: its own schemes and books first, then the ready-made ones. */
export const schoolOf = ({ schemes, phraseBooks: books, stock, reserved }: SchoolForDay): ConesOfDay['school'] => ({
  schemes: [...(schemes as ConeScheme[]), ...coneSchemes],
  books: [...(books as PhraseBook[]), ...phraseBooks],
  stock,
  reserved,
})
type SchoolForDay = Pick<SchoolSettings, 'schemes' | 'phraseBooks' | 'stock' | 'reserved'>

/** The stored school settings; a write names the version it was made from. */
export const storedSchoolSettingsSchema = z.object({ version: z.number().int(), schoolSettings: schoolSettingsSchema })
export type StoredSchoolSettings = z.infer<typeof storedSchoolSettingsSchema>
