import { Box, Button, Stack, Typography } from '@mui/material'
import { api, type Run } from '@ochote/contract'
import { seedOf } from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../app/api-client.ts'
import { queryClient, runQuery } from '../../app/queries.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'

const Pick = ({
  label,
  values,
  value,
  onChange,
}: {
  label: string
  values: readonly number[]
  value: number
  onChange: (value: number) => void
}) => (
  <Stack direction="row" spacing={1} role="group" aria-label={label} sx={{ alignItems: 'center' }}>
    <Typography sx={{ width: 150 }}>{label}</Typography>
    {values.map((v) => (
      <Button
        key={v}
        variant={v === value ? 'contained' : 'outlined'}
        aria-pressed={v === value}
        sx={{ minWidth: 64, minHeight: 56, fontSize: '1.05rem' }}
        onClick={() => onChange(v)}
      >
        {label.startsWith('Clock') ? `×${v}` : v}
      </Button>
    ))}
  </Stack>
)

/** Before the run: the simulated logger's set-up, and the word to go. */
export const SendOut = ({ run }: { run: Run }) => {
  const [laps, setLaps] = useState(4)
  const [speedFactor, setSpeedFactor] = useState(1)
  const send = useMutation({
    mutationFn: () => call(api.simulateLogger, { params: { runId: run.id }, body: { seed: seedOf(run.id), laps, speedFactor } }),
    onSuccess: (started) => queryClient.setQueryData(runQuery(run.id).queryKey, started),
  })
  return (
    <Stack spacing={2.5} sx={{ maxWidth: 640 }}>
      <Typography variant="h2" component="h2">
        Simulated logger
      </Typography>
      <Typography>
        A made-up student with habits drives the car; positions and channels come from it as they would from a logger.
      </Typography>
      <Pick label="Laps" values={[2, 4, 6]} value={laps} onChange={setLaps} />
      <Pick label="Clock" values={[1, 2, 4, 8]} value={speedFactor} onChange={setSpeedFactor} />
      <Box>
        <Button
          variant="contained"
          sx={{ minHeight: 72, px: 6, fontSize: '1.4rem' }}
          disabled={send.isPending}
          onClick={() => send.mutate()}
        >
          Send out
        </Button>
      </Box>
      <ProblemNote error={send.error} />
      <Typography color="text.secondary">
        Nobody operates this while driving. The venue’s rules and the instructor’s judgement come first.
      </Typography>
    </Stack>
  )
}
