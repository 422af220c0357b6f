import { Box, Button, Stack, Typography } from '@mui/material'
import { api, type Run } from '@ochote/contract'
import { type LapStep, seedOf } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { queryClient, runQuery, runsQuery, sessionQuery } from '../../data/api/queries.ts'
import { logRunEvent } from '../../data/events/use-run-events.ts'
import { say } from '../../language/say.ts'
import { speedOf, speedUnit, staffUnits } from '../../language/staff-units.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapByLap, stepsFor } from './lap-by-lap.tsx'

const Pick = <V extends string | number>({
  label,
  values,
  value,
  onChange,
}: {
  label: string
  values: readonly (readonly [V, string])[]
  value: V
  onChange: (value: V) => void
}) => (
  <Stack direction="row" useFlexGap spacing={2} role="group" aria-label={label} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
    <Typography sx={{ width: 200, flex: 'none' }}>{label}</Typography>
    {values.map(([v, words]) => (
      <Button key={v} variant="outlined" aria-pressed={v === value} sx={{ minWidth: 64 }} onClick={() => onChange(v)}>
        {words}
      </Button>
    ))}
  </Stack>
)

const noneOrOne = [
  [0, say`none`],
  [1, 'one'],
] as const

/** Laps against the clock after the coached ones. */
const timedLaps = [[0, say`none`], ...[1, 2, 3].map((n) => [n, String(n)] as const)] as const satisfies readonly (readonly [
  number,
  string,
])[]

/** Speed caps on sighting and cool-down laps (in the staff's units). */
const slowCaps = [
  [0, say`none`],
  ...(staffUnits === 'metric' ? [80, 100, 120, 140] : [50, 60, 75, 90]).map((v) => [v, `${v} ${speedUnit}`] as const),
] as const satisfies readonly (readonly [number, string])[]

/** What a run does with and without a receiver. */
const withoutLogger = say`Positions come from the receiver in the car, where there is one. Without any, calls follow the plan, laps are counted by a touch at the line, and a log can be added later.`

/** Before the run: how many laps, who tells the positions, and the word to go; `missing`: what has to be done first. */
export const SendOut = ({ run, missing }: { run: Run; missing: string | null }) => {
  const runs = useQuery({ ...runsQuery({ dayId: run.dayId }), enabled: true })
  const isFirst = runs.data?.every((r) => r.studentId !== run.studentId || r.id === run.id) ?? true
  const [coached, setCoached] = useState(4)
  const [sighting, setSighting] = useState<number | null>(null)
  const [coolDown, setCoolDown] = useState(1)
  const [warmUp, setWarmUp] = useState(0)
  const [timed, setTimed] = useState(0)
  const [slowCap, setSlowCap] = useState(0)
  const [steps, setSteps] = useState<LapStep[] | null>(null)
  const session = useQuery(sessionQuery)
  // In a school of its own nothing made up drives unless somebody switched it on.
  const maySimulate = session.data?.simulated === true
  const [wished, setLogger] = useState<'simulated' | 'real' | null>(null)
  const logger = maySimulate ? (wished ?? (session.data?.demo ? 'simulated' : 'real')) : 'real'
  const [speedFactor, setSpeedFactor] = useState(1)
  const first = sighting ?? (isFirst ? 1 : 0)
  const asked = { sighting: first, warmUp, coached, timed, coolDown }
  const own = stepsFor(steps, coached + timed)
  const send = useMutation({
    networkMode: 'always',
    mutationFn: async () => {
      await logRunEvent(run.id, {
        kind: 'sent-out',
        program: { ...asked, ...(slowCap > 0 ? { slowCap_mps: slowCap / speedOf(1) } : {}), ...(own ? { steps: own } : {}) },
      })
      if (logger === 'real') return null
      const body = { seed: seedOf(run.id), laps: warmUp + coached + timed, sighting: first, coolDown, speedFactor }
      return call(api.simulateLogger, { params: { runId: run.id }, body })
    },
    onSuccess: (started) => {
      if (started) queryClient.setQueryData(runQuery(run.id).queryKey, started)
    },
  })
  return (
    <Stack spacing={3}>
      <Pick label={say`Sighting lap`} values={noneOrOne} value={first} onChange={setSighting} />
      <Pick label={say`Warm-up lap`} values={noneOrOne} value={warmUp} onChange={setWarmUp} />
      <Pick label={say`Laps`} values={[2, 3, 4, 5, 6, 7].map((n) => [n, String(n)] as const)} value={coached} onChange={setCoached} />
      <Pick label={say`Timed laps`} values={timedLaps} value={timed} onChange={setTimed} />
      <Pick label={say`Cool-down lap`} values={noneOrOne} value={coolDown} onChange={setCoolDown} />
      <Pick label={say`Cap on slow laps`} values={slowCaps} value={slowCap} onChange={setSlowCap} />
      <LapByLap laps={asked} pace={run.settings.pace} surface={run.settings.surface} steps={own} onSteps={setSteps} />
      {maySimulate ? (
        <Box component="details">
          <Box component="summary" sx={{ cursor: 'pointer', minHeight: 'var(--row)', display: 'list-item' }}>
            {say`Positions: ${logger === 'real' ? say`from the receiver in the car` : say`a simulated student, ×${speedFactor}`}`}
          </Box>
          <Stack spacing={3} sx={{ pt: 3 }}>
            <Pick
              label={say`Logger`}
              values={[
                ['simulated', say`Simulated`],
                ['real', say`In the car`],
              ]}
              value={logger}
              onChange={setLogger}
            />
            {logger === 'simulated' && (
              <Pick
                label={say`Clock`}
                values={[1, 2, 4, 8].map((n) => [n, `×${n}`] as const)}
                value={speedFactor}
                onChange={setSpeedFactor}
              />
            )}
            <Typography>
              {logger === 'real'
                ? withoutLogger
                : session.data?.demo
                  ? say`A simulated student drives the car and sends positions as a real logger would.`
                  : say`Practice: a simulated student drives. This run will be in no record, on no sheet and in no group.`}
            </Typography>
          </Stack>
        </Box>
      ) : (
        <Typography color="text.secondary">{withoutLogger}</Typography>
      )}
      <ProblemNote error={send.error} />
      <Box>{say`Never use this while driving. The venue’s rules and the instructor’s judgement come first.`}</Box>
      <Box sx={{ position: 'sticky', bottom: 0, backgroundColor: 'background.default', py: 3 }}>
        {missing && (
          <Typography variant="note" role="status" sx={{ mb: 1 }}>
            {missing}
          </Typography>
        )}
        <Button variant="contained" fullWidth disabled={send.isPending || missing !== null} onClick={() => send.mutate()}>
          {say`Send out`}
        </Button>
      </Box>
    </Stack>
  )
}
