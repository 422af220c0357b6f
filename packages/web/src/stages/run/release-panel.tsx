import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import { type PlanChoice, planRelease, seedOf } from '@ochote/core'
import { useEffect, useMemo, useRef, useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { logRunEvent } from '../../data/events/use-run-events.ts'
import { usePlansFor } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { WordHelp } from '../../shared/word-help.tsx'
import type { TrackDay, TrackRun } from './use-track-day.ts'

/** Before the first one goes there is time to say so (s). */
const LEAD_S = 5
/** Laps of a release where the run has no programme of its own. */
const LAPS = 4
/** The out lap takes longer than the others by this share. */
const OUT_LAP = 1.15

/** True if two settings give the same lap. */
const sameLap = (a: PlanChoice, b: PlanChoice): boolean =>
  a.vehicleId === b.vehicleId && a.pace === b.pace && a.surface === b.surface && a.school === b.school && a.method === b.method

const nameOf = ({ carNumber, run }: TrackRun): string => `${carNumber ? `${carNumber} · ` : ''}${run.studentName}`

/** Cars that wait in the pit lane, in the order and at the interval that keeps them apart; then the countdown. */
export const ReleasePanel = ({ track }: { track: TrackDay }) => {
  const waiting = useMemo(() => track.open.filter((r) => !r.state.programme), [track.open])
  const release = track.events.findLast((e) => e.kind === 'release')
  const isRunning = release !== undefined && waiting.some((r) => release.runIds.includes(r.run.id))
  // Runs that share vehicle and pace share a plan.
  const choices = useMemo(
    () => waiting.map((r) => ({ ...r.run.settings, ...(r.state.pace ? { pace: r.state.pace.pace } : {}) })),
    [waiting],
  )
  const changes = useMemo(() => choices.filter((s, i) => choices.findIndex((o) => sameLap(o, s)) === i), [choices])
  const plans = usePlansFor(track.day.plan.settings, changes)
  const [interval, setInterval_] = useState<number | null>(null)
  const [simulated, setSimulated] = useState(true)
  if (isRunning && release) return <Countdown track={track} release={release} simulated={simulated} />
  if (waiting.length === 0) return null
  if (!plans || plans.length !== changes.length) return <Typography role="status">{say`Computing the laps of those who wait …`}</Typography>
  const planned = planRelease(
    waiting.map((r, k) => {
      const lap_s = plans[changes.findIndex((c) => sameLap(c, choices[k]))].profile.lapTime_s
      return { id: r.run.id, lapTimes_s: [OUT_LAP * lap_s, ...Array.from({ length: LAPS - 1 }, () => lap_s)] }
    }),
  )
  const interval_s = interval ?? planned.interval_s
  const conflict = planned.conflict
  const byId = (id: string): TrackRun | undefined => waiting.find((r) => r.run.id === id)
  return (
    <Box component="section" aria-label={say`Release`}>
      <Typography variant="head">{say`Release`}</Typography>
      <Typography>{planned.order.map((id) => nameOf(byId(id) as TrackRun)).join('  →  ')}</Typography>
      <Stack direction="row" spacing={4} sx={{ alignItems: 'center', mt: 1 }}>
        <TextField
          label={say`Interval (s)`}
          type="number"
          value={interval_s}
          onChange={(e) => setInterval_(Math.max(5, Number(e.target.value) || 5))}
          sx={{ width: 90 }}
        />
        <WordHelp word="interval" />
        <Button
          variant="contained"
          disabled={track.stop !== null}
          onClick={() =>
            track.tell({
              kind: 'release',
              runIds: planned.order,
              interval_s,
              firstAt: new Date(Date.now() + 1000 * LEAD_S).toISOString(),
            })
          }
        >
          {say`Release ${waiting.length}`}
        </Button>
        <Button variant="outlined" color="secondary" aria-pressed={simulated} onClick={() => setSimulated(!simulated)}>
          {say`Simulated cars`}
        </Button>
        <Typography color={conflict || interval_s < planned.interval_s ? 'warning.main' : 'text.secondary'} sx={{ fontSize: 'size.text' }}>
          {conflict
            ? say`No interval keeps everyone apart: ${nameOf(byId(conflict.behindId) as TrackRun)} catches ${nameOf(byId(conflict.aheadId) as TrackRun)} on lap ${conflict.lap + 1}. Send fewer cars or fewer laps.`
            : interval_s < planned.interval_s
              ? say`Under ${planned.interval_s} s a gap closes within the run.`
              : say`Quickest first; no gap closes within the run at these paces.`}
        </Typography>
      </Stack>
    </Box>
  )
}

const Countdown = ({
  track,
  release,
  simulated,
}: {
  track: TrackDay
  release: { runIds: string[]; interval_s: number; firstAt: string }
  simulated: boolean
}) => {
  const [now, setNow] = useState(Date.now)
  const sent = useRef(new Set<string>())
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 200)
    return () => clearInterval(timer)
  }, [])
  const first = Date.parse(release.firstAt)
  const due = release.runIds.map((id, k) => ({ id, in_s: (first - now) / 1000 + k * release.interval_s }))
  useEffect(() => {
    if (track.stop) return
    for (const { id, in_s } of due) {
      const run = track.open.find((r) => r.run.id === id)
      if (in_s > 0 || !run || run.state.programme || sent.current.has(id)) continue
      sent.current.add(id)
      const program = { sighting: 0, coached: LAPS, coolDown: 1 }
      void logRunEvent(id, { kind: 'sent-out', program })
      if (simulated)
        void call(api.simulateLogger, {
          params: { runId: id },
          body: { seed: seedOf(id), laps: program.coached, coolDown: program.coolDown, speedFactor: 1 },
        }).catch(() => sent.current.delete(id))
    }
  })
  return (
    <Box component="section" aria-label={say`Release`}>
      <Typography variant="head">{track.stop ? say`Release is held: the session is stopped` : say`Release`}</Typography>
      <Stack direction="row" spacing={5} useFlexGap sx={{ flexWrap: 'wrap' }}>
        {due.map(({ id, in_s }) => {
          const run = track.open.find((r) => r.run.id === id)
          if (!run) return null
          const gone = run.state.programme !== null
          return (
            <Box key={id} sx={{ minWidth: 120, opacity: gone ? 0.55 : 1 }}>
              <Box className="figures" sx={{ fontSize: 'size.title', fontWeight: 720, lineHeight: 1 }}>
                {gone ? say`out` : track.stop ? say`held` : Math.max(0, Math.ceil(in_s))}
              </Box>
              <Box>{nameOf(run)}</Box>
            </Box>
          )
        })}
      </Stack>
    </Box>
  )
}
