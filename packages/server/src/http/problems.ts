import type { Problem } from '@ochote/contract'
import { CoreError, describeError, type ErrorCode, type PortalProblemCode } from '@ochote/core'
import type { ErrorRequestHandler, Response } from 'express'
import { ZodError } from 'zod'
import { isDatabaseAway } from '../db/postgres.ts'
import { storageProblemOf } from '../storage/storage.ts'

/** Codes that only pages of the staff can get; every other code has words in each language of the students. */
type StaffProblemCode =
  | 'already-set-up'
  | 'archive-broken'
  | 'archive-version'
  | 'backup-broken'
  | 'backups-elsewhere'
  | 'code-needed'
  | 'code-unreadable'
  | 'code-wrong'
  | 'course-open'
  | 'database-away'
  | 'in-use'
  | 'last-lead'
  | 'lead-only'
  | 'name-taken'
  | 'no-demo-data'
  | 'north-known'
  | 'not-an-instructor'
  | 'not-signed-in'
  | 'not-yours'
  | 'own-account'
  | 'password-common'
  | 'practice-off'
  | 'would-replace'
  | 'restoring'
  | 'run-ended'
  | 'run-started-twice'
  | 'school-not-empty'
  | 'set-up-code'
  | 'sign-in-failed'
  | 'unknown-host'

/** A problem without words. */
export type ProblemCode = ErrorCode | PortalProblemCode | StaffProblemCode

/** An answer that is an error, with what to do about it. */
export class HttpProblem extends Error {
  readonly status: number
  readonly code: ProblemCode
  readonly remedy: string
  readonly place: string | undefined

  constructor(status: number, code: ProblemCode, message: string, remedy: string, place?: string) {
    super(message)
    this.status = status
    this.code = code
    this.remedy = remedy
    this.place = place
  }
}

/** 404 for one thing of a kind. */
export const notFound = (what: string): HttpProblem =>
  new HttpProblem(404, 'not-found', `This ${what} does not exist.`, 'It may have been removed; go back to the list and choose again.')

/** 404 for a link that was withdrawn, or never was one. */
export const linkWithdrawn = (): HttpProblem =>
  new HttpProblem(404, 'link-withdrawn', 'This link is not valid any more.', 'Ask your instructor for a new one; nothing else is lost.')

const problemOf = (error: unknown): Problem => {
  const make = (status: number, code: ProblemCode, title: string, remedy?: string, place?: string): Problem => ({
    type: `urn:ochote:problem:${code}`,
    title,
    status,
    code,
    ...(remedy ? { remedy } : {}),
    ...(place ? { place } : {}),
  })
  if (error instanceof HttpProblem) return make(error.status, error.code, error.message, error.remedy, error.place)
  if (error instanceof CoreError) {
    const words = describeError(error)
    return { ...make(422, error.code, words.message, words.remedy, words.place), data: error.data }
  }
  if (error instanceof ZodError) {
    const issue = error.issues[0]
    return make(
      400,
      'invalid',
      issue?.message ?? 'The request is not valid.',
      'Correct the field and send again; nothing was stored.',
      issue?.path.join('.'),
    )
  }
  if (isDatabaseAway(error))
    return make(
      503,
      'database-away',
      'The database cannot be reached at the moment.',
      'Wait a minute. What was touched on the track is kept on its device and sent by itself.',
    )
  const disk = storageProblemOf(error)
  if (disk === 'disk-full')
    return make(
      507,
      disk,
      'The server’s disk is full: nothing new is kept there.',
      'Tablets keep what is touched, and send it by themselves. Free some space on the server’s disk; then send again.',
    )
  if (disk === 'disk-read-only')
    return make(
      507,
      disk,
      'The server’s disk cannot be written: nothing new is kept there.',
      'Tablets keep what is touched, and send it by themselves. Allow writing in the server’s data folder; then send again.',
    )
  const raised = error as { status?: number; type?: string }
  if (error instanceof URIError)
    return make(400, 'invalid', 'The address cannot be read.', 'Open the page from the application itself; nothing was stored.')
  if (raised.type === 'entity.parse.failed') return make(400, 'invalid', 'The request is not JSON.', 'Send JSON; nothing was stored.')
  if (raised.status === 413 || raised.type === 'entity.too.large')
    return make(413, 'too-large', 'The request is too large.', 'Send less at once; nothing was stored.')
  return make(
    500,
    'internal',
    'Something went wrong on the server.',
    'What was stored before is safe. Try again; if it happens again, restart the server.',
  )
}

/** Sends a problem as application/problem+json. */
export const sendProblem = (res: Response, error: unknown): void => {
  const problem = problemOf(error)
  res.status(problem.status).type('application/problem+json').send(JSON.stringify(problem))
}

/** The last handler: every error becomes a problem; the unexpected ones are told, and logged. */
export const problemHandler =
  (onFailure: (error: unknown) => void): ErrorRequestHandler =>
  (error, req, res, next) => {
    if (problemOf(error).status >= 500) onFailure(error)
    if (res.headersSent) {
      // An answer that has begun can only be cut off.
      next(error)
      return
    }
    if (problemOf(error).status === 500) req.log?.error(toLog(error))
    sendProblem(res, error)
  }

/** What may be logged of an error: its kind, code and place in the program; never values, which may be of people. */
export const toLog = (error: unknown): object => {
  const { name, code, stack } = (error ?? {}) as Partial<Error> & { code?: unknown }
  const places = stack?.split('\n').filter((line) => /^\s+at /.test(line)) ?? []
  return {
    kind: name ?? typeof error,
    code: typeof code === 'string' ? code : undefined,
    at: places.slice(0, 8).map((line) => line.trim()),
  }
}

/** Somebody else wrote a newer version of a document. */
export const changedMeanwhile = (what: string): HttpProblem =>
  new HttpProblem(
    409,
    'changed-meanwhile',
    `Someone else has changed this ${what}.`,
    'You now see the newer version; make your change again.',
  )

/** A path as it may stand in a log: without its query, and without the token of a link. */
export const withoutTokens = (url: string): string =>
  (url.split('?')[0] ?? '').replace(/^\/(api\/)?(portal|sheets|board|s|sheet)\/[^/]+/, '/$1$2/…')
