import { Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { judgingAnewQuery, queryClient } from '../data/api/queries.ts'
import { say } from '../language/say.ts'

/** Says that logs are judged anew in the background, and fetches what pages show again when they are done. `since`: asked anew whenever it changes. */
export const JudgingAnew = ({ since = '' }: { since?: string }) => {
  const { data } = useQuery(judgingAnewQuery)
  const done = data ? data.done : 0
  const left = data ? data.total - data.done : 0
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again because of what changed, not with it
  useEffect(() => {
    void queryClient.invalidateQueries({ queryKey: judgingAnewQuery.queryKey })
  }, [since])
  useEffect(() => {
    if (done > 0 && left === 0) void queryClient.invalidateQueries({ queryKey: ['runs'] })
  }, [done, left])
  if (!data || (left === 0 && data.failed === 0)) return null
  return (
    <Typography role="status" variant="text" color={left === 0 ? 'warning.main' : 'text.secondary'}>
      {left > 0
        ? say`Logs are being judged anew by the present rules: ${data.done} of ${data.total}.`
        : say`${data.failed} of ${data.total} logs could not be judged anew; they keep what they had. Restart the server to try again.`}
    </Typography>
  )
}
