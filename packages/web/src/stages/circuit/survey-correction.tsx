import { Button, Stack, TextField, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import type { Plan } from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { circuitsQuery, queryClient } from '../../data/api/queries.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'

type Correction = { start_m?: number; width?: { left_m: number; right_m: number } }

/**
 * Corrects a survey: the width of the road, and where its lap begins. The corrected circuit takes the place of this one, with its
 * notes; runs that were driven keep the one that they were judged by.
 */
export const SurveyCorrection = ({
  circuitId,
  plan,
  onCircuit,
}: {
  circuitId: string
  plan: Plan
  onCircuit: (circuitId: string) => void
}) => {
  const { circuit } = plan
  const { station_m } = useLapSelection()
  const [left, setLeft] = useState(String(Number(circuit.widthLeft_m[0].toFixed(1))))
  const [right, setRight] = useState(String(Number(circuit.widthRight_m[0].toFixed(1))))
  const correct = useMutation({
    mutationFn: (correction: Correction) => call(api.reviseCircuit, { params: { circuitId }, body: correction }),
    onSuccess: (revised) => {
      void queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey })
      onCircuit(revised.id)
    },
  })
  const [left_m, right_m] = [left, right].map((text) => Number(text.replace(',', '.')))
  const usable = [left_m, right_m].every((m) => m >= 1 && m <= 60)
  return (
    <Stack component="section" aria-label="Correct the survey" spacing={2}>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <TextField label="Left of the middle (m)" value={left} onChange={(e) => setLeft(e.target.value)} sx={{ width: 170 }} />
        <TextField label="Right of the middle (m)" value={right} onChange={(e) => setRight(e.target.value)} sx={{ width: 180 }} />
        <Button variant="contained" disabled={!usable || correct.isPending} onClick={() => correct.mutate({ width: { left_m, right_m } })}>
          Set this width everywhere
        </Button>
        {!circuit.open && (
          <Button
            variant="outlined"
            disabled={station_m === null || correct.isPending}
            onClick={() => station_m !== null && correct.mutate({ start_m: station_m })}
          >
            {station_m === null ? 'Start line: choose its place on the road' : `Start line at ${Math.round(station_m)} m`}
          </Button>
        )}
      </Stack>
      <Typography variant="text" color="text.secondary">
        Names, corners, hazards and pins go along; stations and the numbers of corners follow a new start line. Cones that were moved by
        hand on a day stay as they are: look at them again.
      </Typography>
      <ProblemNote error={correct.error} />
    </Stack>
  )
}
