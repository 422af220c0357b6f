import { CoreError } from '@ochote/core'
import type { ZodError } from 'zod'

/** A file that does not fit its schema, as the error that all bad input becomes. */
export const validationProblem = (expected: string, error: ZodError): CoreError => {
  const issue = error.issues[0]
  return new CoreError('file-unreadable', issue?.path.join('.') || 'file', { expected, why: issue?.message ?? 'it does not fit' })
}
