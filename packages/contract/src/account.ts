import { z } from 'zod'

/** Rights of an account: the lead plans and administers, an instructor runs and logs. */
export const roleSchema = z.enum(['lead', 'instructor'])
export type Role = z.infer<typeof roleSchema>

/** An account without its secret. */
export const accountSchema = z.object({ id: z.string(), name: z.string(), role: roleSchema, canSignIn: z.boolean() })
export type Account = z.infer<typeof accountSchema>

const password = z.string().min(10, 'At least 10 characters').max(200)
const name = z.string().trim().min(2, 'At least 2 characters').max(60)

/** Signing in. */
export const signInSchema = z.object({ name, password: z.string().min(1).max(200) })
/** A new account. */
export const newAccountSchema = z.object({ name, password, role: roleSchema })
/** The very first account, always the lead's. */
export const firstAccountSchema = z.object({ name, password })

/** The account that is signed in, and the state of the installation. */
export const sessionSchema = z.object({ account: accountSchema.nullable(), setUp: z.boolean(), demo: z.boolean() })
export type SessionState = z.infer<typeof sessionSchema>
