import { languages } from '@ochote/core'
import { z } from 'zod'
import { levelSchema } from './student.ts'

/**
 * Rights of an account: the lead plans and administers, an instructor runs and logs, a volunteer helps on one day, at a corner or on
 * the pit wall.
 */
export const roleSchema = z.enum(['lead', 'instructor', 'volunteer'])
export type Role = z.infer<typeof roleSchema>

/** Students an instructor may take: of which levels, in which vehicles, in which languages; an empty list leaves it open. */
export const teachingSchema = z.object({
  levels: z.array(levelSchema).max(10).default([]),
  vehicleIds: z.array(z.string().max(60)).max(200).default([]),
  languages: z.array(z.enum(languages)).max(20).default([]),
})
export type Teaching = z.infer<typeof teachingSchema>

/** An account without its secret. `archivedAt`: it cannot sign in any more; what was logged by it keeps its name. */
export const accountSchema = z.object({
  id: z.string(),
  name: z.string(),
  role: roleSchema,
  canSignIn: z.boolean(),
  teaching: teachingSchema.prefault({}),
  version: z.number().int().default(1),
  archivedAt: z.iso.datetime().nullable().default(null),
  /** Asks for a time-based code at sign-in. */
  codes: z.boolean().default(false),
})
export type Account = z.infer<typeof accountSchema>

/** A password that somebody chooses; the server also refuses those that are known to be common. */
export const passwordSchema = z.string().min(10, 'At least 10 characters').max(200)
/** The name of a person of the staff. */
export const personName = z.string().trim().min(2, 'At least 2 characters').max(60)

/** Signing in. */
export const signInSchema = z.object({
  name: personName,
  password: z.string().min(1).max(200),
  /** Of an authenticator, for accounts that ask for one. */
  code: z.string().trim().max(10).optional(),
})
/** A new account; the id is made by the client, so that a form sent twice makes one. */
export const newAccountSchema = z.object({
  id: z.uuid().optional(),
  name: personName,
  password: passwordSchema,
  role: roleSchema,
  teaching: teachingSchema.prefault({}),
})
/** The very first account, always the lead's. */
export const firstAccountSchema = z.object({
  name: personName,
  password: passwordSchema,
  /** Printed where the server was started, if other devices reach it. */
  code: z.string().trim().max(40).optional(),
})
/** A changed account; a password only where a new one is set. */
export const changedAccountSchema = z.object({
  version: z.number().int(),
  name: personName,
  role: roleSchema,
  teaching: teachingSchema,
  archived: z.boolean(),
  password: passwordSchema.optional(),
})

/** The account that is signed in, and the state of the installation; `simulated`: whether simulated devices may be used. */
export const sessionSchema = z.object({
  account: accountSchema.nullable(),
  setUp: z.boolean(),
  demo: z.boolean(),
  simulated: z.boolean().default(false),
  /** The only day that a volunteer, or a paired device, sees. */
  dayId: z.string().nullable().default(null),
  /** Key (base64, 256 bits) with which a device seals what it could not send when its account signs out; the same one opens it again. */
  sealKey: z.string().nullable().default(null),
  /** The first account needs the code that was printed where the server was started. */
  setUpCode: z.boolean().default(false),
})
export type SessionState = z.infer<typeof sessionSchema>
