import type { z } from 'zod'

/** Kinds of files that are sent; each has its limit of size. */
export type FileSent = 'log' | 'circuit' | 'vehicles' | 'school'

/**
 * One call of the API, described once: the server validates with it, the client is typed by it, the OpenAPI document is
 * generated from it. `path` names its parameters as `:name`. `upload`: the body is a file, streamed as it is; `file` says what kind.
 * Who may call stands in the table of permissions.
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
  params?: P
  query?: Q
  body?: B
  response: R
  upload?: U
  stream?: boolean
  file?: FileSent
}

/** Keeps the exact types of an endpoint's schemas. */
export const endpoint = <P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType, U extends boolean>(
  description: Endpoint<P, Q, B, R, U>,
): Endpoint<P, Q, B, R, U> => description
