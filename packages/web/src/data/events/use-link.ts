import type { UseQueryResult } from '@tanstack/react-query'
import { useEffect } from 'react'
import { ApiProblem } from '../api/api-client.ts'
import { forgetLink } from './stored-answers.ts'

/** What a student's link opens, unless the link is gone: then nothing of it is shown any more, nor kept on this device. */
export const useLink = <T>(token: string, { data, error }: Pick<UseQueryResult<T>, 'data' | 'error'>): T | undefined => {
  const isGone = error instanceof ApiProblem && error.problem.status === 404
  useEffect(() => {
    if (isGone) void forgetLink(token).catch(() => {})
  }, [isGone, token])
  return isGone ? undefined : data
}
