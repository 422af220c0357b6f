import type { z } from 'zod'

/** Callers of an endpoint: anyone, a signed-in account, the lead only, or whoever holds a student's link (`token` in the path). */
export type Access = 'open' | 'signed-in' | 'lead' | 'link'

/**
 * One call of the API, described once: the server validates with it, the client is typed by it, the OpenAPI document is
 * generated from it. `path` names its parameters as `:name`. `upload`: the body is a file, streamed as it is.
 */
export type Endpoint<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  R extends z.ZodType = z.ZodType,
  U extends boolean = boolean,
> = {
  id: string
  method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  path: string
  summary: string
  access: Access
  params?: P
  query?: Q
  body?: B
  response: R
  upload?: U
  stream?: boolean
  /** The file may be far larger than others: a whole school. */
  large?: boolean
}

/** Keeps the exact types of an endpoint's schemas. */
export const endpoint = <P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType, U extends boolean>(
  description: Endpoint<P, Q, B, R, U>,
): Endpoint<P, Q, B, R, U> => description
