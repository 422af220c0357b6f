import { CoreError } from '@ochote/core'
import { ZodError } from 'zod'
import { HttpProblem } from '../http/problems.ts'

/** What a job came to, on its way from where it was done: only plain data survive the crossing. */
export type Crossed<T> =
  | { value: T }
  | { error: { code: CoreError['code']; place: string; data: CoreError['data'] } }
  | { problem: Pick<HttpProblem, 'status' | 'code' | 'message' | 'remedy'> }
  | { invalid: ZodError['issues'] }

/** Does a job; what it throws that its user can do something about comes as a value. @throws what else it throws */
export const crossed = async <T>(job: () => T | Promise<T>): Promise<Crossed<T>> => {
  try {
    return { value: await job() }
  } catch (error) {
    if (error instanceof CoreError) return { error: { code: error.code, place: error.place, data: error.data } }
    if (error instanceof HttpProblem) {
      const { status, code, message, remedy } = error
      return { problem: { status, code, message, remedy } }
    }
    if (error instanceof ZodError) return { invalid: JSON.parse(JSON.stringify(error.issues)) as ZodError['issues'] }
    throw error
  }
}

/** What a job came to, where it was asked for. @throws CoreError, HttpProblem or ZodError as the job did */
export const opened = <T>(result: Crossed<T>): T => {
  if ('error' in result) throw new CoreError(result.error.code, result.error.place, result.error.data)
  if ('problem' in result) throw new HttpProblem(result.problem.status, result.problem.code, result.problem.message, result.problem.remedy)
  if ('invalid' in result) throw new ZodError(result.invalid)
  return result.value
}
