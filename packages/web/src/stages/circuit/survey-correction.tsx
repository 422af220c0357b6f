import { Button, Stack, TextField, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import type { Plan } from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { circuitsQuery, queryClient } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { LengthField } from '../../shared/length-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'

type Stretch = { from_m: number; to_m: number }
type Correction = { start_m?: number; up_deg?: number; width?: { left_m: number; right_m: number; stretch?: Stretch } }

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
  const [left_m, setLeft] = useState<number | null>(Number(circuit.widthLeft_m[0].toFixed(1)))
  const [right_m, setRight] = useState<number | null>(Number(circuit.widthRight_m[0].toFixed(1)))
  const correct = useMutation({
    mutationFn: (correction: Correction) => call(api.reviseCircuit, { params: { circuitId }, body: correction }),
    onSuccess: (revised) => {
      void queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey })
      onCircuit(revised.id)
    },
  })
  const [up, setUp] = useState('')
  const up_deg = Number(up.replace(',', '.').replace('°', ''))
  const [from_m, setFrom] = useState<number | null>(null)
  const [to_m, setTo] = useState<number | null>(null)
  const isWidth = (m: number | null): m is number => m !== null && m >= 1 && m <= 60
  const onRoad = (m: number | null): m is number => m !== null && m >= 0 && m <= circuit.length_m
  const everywhere = from_m === null && to_m === null
  const stretch = onRoad(from_m) && onRoad(to_m) ? { from_m, to_m } : null
  const width = isWidth(left_m) && isWidth(right_m) && (everywhere || stretch) ? { left_m, right_m, ...(stretch ? { stretch } : {}) } : null
  return (
    <Stack component="section" aria-label={say`Correct the survey`} spacing={2}>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <LengthField label={say`Left of the middle`} value_m={left_m} onChange={setLeft} sx={{ width: 170 }} />
        <LengthField label={say`Right of the middle`} value_m={right_m} onChange={setRight} sx={{ width: 180 }} />
        <LengthField label={say`From, if not all`} value_m={from_m} onChange={setFrom} sx={{ width: 140 }} />
        <LengthField label={say`To`} value_m={to_m} onChange={setTo} sx={{ width: 90 }} />
        <Button variant="contained" disabled={!width || correct.isPending} onClick={() => width && correct.mutate({ width })}>
          {everywhere ? say`Set this width everywhere` : say`Set this width on that stretch`}
        </Button>
        {!circuit.open && (
          <Button
            variant="outlined"
            disabled={station_m === null || correct.isPending}
            onClick={() => station_m !== null && correct.mutate({ start_m: station_m })}
          >
            {station_m === null ? say`Start line: choose its place on the road` : say`Start line at ${metres(station_m)}`}
          </Button>
        )}
        {!circuit.origin && (
          <>
            <TextField
              label={circuit.northSet ? say`Turn the map by (°)` : say`The map’s upper edge looks to (°)`}
              value={up}
              placeholder={say`0 is north, 90 east`}
              onChange={(e) => setUp(e.target.value)}
              sx={{ width: 230 }}
            />
            <Button
              variant="outlined"
              disabled={up.trim() === '' || !(Math.abs(up_deg) <= 360) || correct.isPending}
              onClick={() => correct.mutate({ up_deg })}
            >
              {say`Turn north up`}
            </Button>
          </>
        )}
      </Stack>
      <Typography variant="text" color="text.secondary">
        {say`Names, corners, hazards and pins go along; stations and the numbers of corners follow a new start line. Cones that were moved by hand on a day stay as they are: look at them again.`}
      </Typography>
      <ProblemNote error={correct.error} />
    </Stack>
  )
}
