import { z } from 'zod'
import { flagSchema } from './day.ts'

const line = z.string().max(300)
const zones = new Set(Intl.supportedValuesOf('timeZone'))

/** A place with one or several layouts: its rules, flags, pits, marshal posts, whom to call. Days take rules and flags from it. */
export const venueSchema = z.object({
  id: z.string().min(1).max(60),
  name: z.string().trim().min(1, 'Give the venue a name').max(80),
  /** Time zone of its clocks, by its name in the IANA database; empty: that of the device. */
  timeZone: z
    .string()
    .max(60)
    .refine((zone) => zone === '' || zone === 'UTC' || zones.has(zone), 'No such time zone')
    .default(''),
  rules: z.array(line).max(20).default([]),
  flags: z.array(flagSchema).max(12).default([]),
  pits: z.array(line).max(12).default([]),
  posts: z
    .array(z.object({ name: z.string().trim().min(1).max(40), where: z.string().max(120) }))
    .max(60)
    .default([]),
  emergency: z.string().max(1000).default(''),
  phones: z
    .array(z.object({ name: z.string().trim().min(1).max(60), number: z.string().trim().min(1).max(40) }))
    .max(20)
    .default([]),
})
export type Venue = z.infer<typeof venueSchema>
/** A stored venue; a write names the version it was made from. */
export const storedVenueSchema = venueSchema.extend({ version: z.number().int() })
export type StoredVenue = z.infer<typeof storedVenueSchema>
/** A venue as it is put: version 0 for one that is new. */
export const putVenueSchema = venueSchema.omit({ id: true }).extend({ version: z.number().int().min(0) })
