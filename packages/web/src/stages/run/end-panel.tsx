import { Button, Stack, Typography } from '@mui/material'
import { api, type Run } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { queryClient } from '../../data/api/queries.ts'
import type { useRunEvents } from '../../data/events/use-run-events.ts'
import { say } from '../../language/say.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { TellCar } from './before-run.tsx'

/** The end of a run: kept here first, then the log is made where the server can be reached. */
export const EndPanel = ({
  run,
  events,
  finished,
  onEnding,
}: {
  run: Run
  events: ReturnType<typeof useRunEvents>
  finished: boolean
  /** While the log is being made the run still shows; an end that nobody hears of shows at once. */
  onEnding: (ending: boolean) => void
}) => {
  const navigate = useNavigate()
  const end = useMutation({
    networkMode: 'always',
    mutationFn: async () => {
      // The end is kept here first; without the server the log is made when it hears of it.
      await events.tell({ kind: 'ended' })
      return call(api.endRun, { params: { runId: run.id } })
    },
    onMutate: () => onEnding(true),
    onSettled: () => onEnding(false),
    onSuccess: () => {
      void queryClient.invalidateQueries({ queryKey: ['runs'] })
      void queryClient.invalidateQueries({ queryKey: ['students'] })
      navigate(`/debrief/${run.id}`)
    },
  })
  // Where the car is still out, the touches that opened this have ended the run already.
  const { mutate } = end
  const begun = useRef(false)
  useEffect(() => {
    if (finished || begun.current) return
    begun.current = true
    mutate()
  }, [finished, mutate])
  return (
    <Stack spacing={4} sx={{ flex: 1, justifyContent: 'center', minHeight: 0 }}>
      <Typography sx={{ fontSize: 'size.text' }}>
        {finished ? say`The car is back in the pits.` : say`The run ends. Its log so far is kept.`}
      </Typography>
      {finished && <TellCar run={run} />}
      <Stack direction="row" spacing={4}>
        <Button variant="contained" sx={{ px: 7 }} disabled={end.isPending} onClick={() => end.mutate()}>
          {end.isPending ? say`Keeping the log …` : say`End the run`}
        </Button>
      </Stack>
      <ProblemNote error={end.error} />
    </Stack>
  )
}
