import { z } from 'zod'
import { passwordSchema, personName } from './account.ts'

/** Where somebody is signed in. `id` names the session without opening it; `until`: it ends then at the latest. */
export const openSessionSchema = z.object({
  id: z.string(),
  device: z.enum(['handheld', 'computer', 'unknown']),
  createdAt: z.iso.datetime(),
  usedAt: z.iso.datetime(),
  until: z.iso.datetime(),
  current: z.boolean(),
})
export type OpenSession = z.infer<typeof openSessionSchema>

/** A new password for oneself; the old one shows that it is really them. */
export const ownPasswordSchema = z.object({ old: z.string().min(1).max(200), password: passwordSchema })

/** Six digits of an authenticator. */
export const codeSchema = z
  .string()
  .trim()
  .regex(/^\d{6}$/, 'Six digits')

/** What an authenticator is set up with: an address for a QR code, and the same secret to type. */
export const newCodesSchema = z.object({ uri: z.string(), secret: z.string() })

/** Whether an account asks for codes at sign-in. */
export const codesStateSchema = z.object({ on: z.boolean() })

/** A device to be paired for a day: as an instructor's tablet, or as a volunteer named here. */
export const newPairingSchema = z.union([
  z.object({ id: z.uuid(), accountId: z.string().min(1).max(80) }),
  z.object({ id: z.uuid(), volunteer: personName }),
])

/**
 * A device that was paired, or waits to be. `code`: shown until it is used, eight characters without those that look alike;
 * `usedAt`: null while nobody has typed it.
 */
export const pairingSchema = z.object({
  id: z.string(),
  accountId: z.string(),
  name: z.string(),
  role: z.enum(['lead', 'instructor', 'volunteer']),
  code: z.string().nullable(),
  codeUntil: z.iso.datetime(),
  usedAt: z.iso.datetime().nullable(),
  until: z.iso.datetime(),
})
export type Pairing = z.infer<typeof pairingSchema>

/** A code as somebody types it: blanks and dashes do not matter, nor does case. */
export const typedCodeSchema = z.object({ code: z.string().trim().min(4).max(20) })
