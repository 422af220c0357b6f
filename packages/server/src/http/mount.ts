import type { Account, Day, Endpoint } from '@ochote/contract'
import type { Request, Response, Router } from 'express'
import type { z } from 'zod'
import type { Config } from '../config.ts'
import type { Gate } from './gate.ts'
import type { Identity } from './identity.ts'
import { type Upload, withUpload } from './upload.ts'
import type { UploadGate } from './upload-gate.ts'

type Input<S> = NonNullable<S> extends z.ZodType ? z.output<NonNullable<S>> : undefined

/** A call's head: who calls, and what stands in its address and its body; everything is checked against the endpoint's schemas. */
type Head<E extends Endpoint> = {
  params: Input<E['params']>
  query: Input<E['query']>
  body: Input<E['body']>
  identity: Identity
  /** The account that calls; calls open to anyone may have none. */
  account: Account | null
  /** The day, where the right to call depends on it. */
  day: Day | null
  req: Request
  res: Response
}

/** A handler's input; `upload`: the file, for calls with one, which is gone once the handler is done. */
type Call<E extends Endpoint> = Head<E> & { upload: false extends E['upload'] ? undefined : Upload }

/** What an endpoint asks for beyond its right, before the first byte of a file is taken. */
type Admit<E extends Endpoint> = (head: Head<E>) => Promise<void>

/** Adds an endpoint to a router. A stream's handler writes to `res` itself. */
export type Mount = <E extends Endpoint>(
  description: E,
  handler: (call: Call<E>) => Promise<z.input<E['response']> | undefined>,
  admit?: Admit<E>,
) => void

/** What every call passes on its way. */
type Passed = { identify: (req: Request) => Promise<Identity>; gate: Gate; uploads: UploadGate }

/** Parameters by name; none where the endpoint has none. */
const named = (parsed: unknown): Readonly<Record<string, unknown>> => (parsed ?? {}) as Readonly<Record<string, unknown>>

/** Makes {@link Mount}: validation of the head and the right to call first, then the file, then the handler, then trail and answer. */
export const mounting =
  (router: Router, config: Config, { identify, gate, uploads }: Passed): Mount =>
  (description, handler, admit) => {
    router[description.method](description.path, async (req, res) => {
      const identity = await identify(req)
      gate.rank(description, identity)
      const params = description.params?.parse(req.params)
      const query = description.query?.parse(req.query)
      const { day } = await gate.admit(description, identity, named(params), named(query))
      const body = description.body?.parse(req.body)
      const head = { params, query, body, identity, account: identity.account, day, req, res } as Head<typeof description>
      await admit?.(head)
      const handled = (upload: Upload | undefined) => handler({ ...head, upload } as Call<typeof description>)
      const answer = await (description.upload
        ? uploads.during(description, identity, req, (limit) => withUpload(req, { ...config, uploadLimit: limit }, handled))
        : handled(undefined))
      await gate.told(description, identity, named(params))
      if (description.stream) return
      // What is of people stays in no cache on the way.
      if (!res.hasHeader('Cache-Control')) res.set('Cache-Control', 'no-store')
      res.json(config.checkResponses ? description.response.parse(answer) : answer)
    })
  }
