import type { Account, Endpoint } from '@ochote/contract'
import type { Request, Response, Router } from 'express'
import type { z } from 'zod'
import type { Config } from '../config.ts'
import { HttpProblem } from './problems.ts'
import { type Upload, withUpload } from './upload.ts'

type Input<S> = NonNullable<S> extends z.ZodType ? z.output<NonNullable<S>> : undefined

/** A handler's input: everything already checked against the endpoint's schemas. */
type Call<E extends Endpoint> = {
  params: Input<E['params']>
  query: Input<E['query']>
  body: Input<E['body']>
  /** The uploaded file, for calls with one; gone once the handler is done. */
  upload: false extends E['upload'] ? undefined : Upload
  /** The caller; calls open to anyone may have none. */
  account: Account | null
  req: Request
  res: Response
}

/** Reads the account that is signed in, if any, from the session; called for every request. */
export type WhoIs = (req: Request) => Promise<Account | null>

/** Adds an endpoint to a router. A stream's handler writes to `res` itself. */
export type Mount = <E extends Endpoint>(description: E, handler: (call: Call<E>) => Promise<z.input<E['response']> | undefined>) => void

/** How many times as large as other files a whole school may be. */
const LARGE = 32

/** Makes {@link Mount}: access first, then validation, then the handler, then the answer. */
export const mounting =
  (router: Router, config: Config, whoIs: WhoIs): Mount =>
  (description, handler) => {
    router[description.method](description.path, async (req, res) => {
      const account = await whoIs(req)
      checkAccess(description, account)
      const params = description.params?.parse(req.params)
      const query = description.query?.parse(req.query)
      const body = description.body?.parse(req.body)
      const handled = (upload: Upload | undefined) =>
        handler({ params, query, body, upload, account, req, res } as Call<typeof description>)
      const answer = await (description.upload
        ? withUpload(req, description.large ? { ...config, uploadLimit: LARGE * config.uploadLimit } : config, handled)
        : handled(undefined))
      if (description.stream) return
      res.json(config.checkResponses ? description.response.parse(answer) : answer)
    })
  }

const checkAccess = (description: Endpoint, account: Account | null): void => {
  // A link's own token is checked by what it opens.
  if (description.access === 'open' || description.access === 'link') return
  if (!account)
    throw new HttpProblem(
      401,
      'not-signed-in',
      'You are not signed in.',
      'Sign in and try again. What was touched on the track is kept on its device.',
    )
  if (description.access === 'lead' && account.role !== 'lead')
    throw new HttpProblem(403, 'lead-only', 'Only the lead may do this.', 'Ask the lead, or sign in as the lead.')
}
