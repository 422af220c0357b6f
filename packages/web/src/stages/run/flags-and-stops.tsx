import { Box, Button, Stack, Typography } from '@mui/material'
import { cornerName, type DayEvent, type IncidentKind, incidentActions, incidentKinds, stopsAll } from '@ochote/core'
import { useState } from 'react'
import { say } from '../../language/say.ts'
import { FlagSign } from '../../shared/flag-sign.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { dayEventInWords } from './day-event-words.ts'
import { actionWords, incidentWords, wallClock } from './run-words.ts'
import type { TrackDay } from './use-track-day.ts'

type Stop = Extract<DayEvent, { kind: 'stop' }>
/** Choices that name nothing in particular. */
const EVERYWHERE = 'everywhere'
const NOBODY = 'not-known'
const EVERYBODY = 'everybody'
type Action = (typeof incidentActions)[number]

/** Everything stands still until somebody decides how to go on. */
export const StopDecision = ({ track, stop }: { track: TrackDay; stop: Stop }) => {
  const decide = (decision: 'go-on' | 'all-in'): void => void track.tell({ kind: 'restart', stopId: stop.id, decision })
  return (
    <Stack
      role="alert"
      direction="row"
      spacing={4}
      sx={{ alignItems: 'center', p: 3, backgroundColor: 'error.main', color: 'var(--ground)' }}
    >
      <Box sx={{ flex: 1 }}>
        <Box sx={{ fontSize: 'size.head', fontWeight: 720 }}>{say`All runs are stopped since ${wallClock(stop.at)}`}</Box>
        <Box>{say`${stop.why}. Every screen in the cars says: come in. Releases are held.`}</Box>
      </Box>
      {(['go-on', 'all-in'] as const).map((decision) => (
        <Button
          key={decision}
          variant="outlined"
          sx={{ color: 'var(--ground)', borderColor: 'var(--ground)' }}
          onClick={() => decide(decision)}
        >
          {decision === 'go-on' ? say`Go on` : say`End the session`}
        </Button>
      ))}
    </Stack>
  )
}

/** The one control for an emergency: always at the same place. */
export const StopAll = ({ track }: { track: TrackDay }) => (
  <Button
    variant="contained"
    color="error"
    fullWidth
    disabled={track.stop !== null}
    onClick={() => track.tell({ kind: 'stop', why: say`Stopped by the pit wall` })}
    sx={{ height: 64, fontSize: 'size.head' }}
  >
    {track.stop ? say`All is stopped` : say`Stop all`}
  </Button>
)

/** Flags, incidents, and the last of each with its time. */
export const FlagsAndStops = ({ track }: { track: TrackDay }) => {
  const { plan, events, day } = track
  const [cornerId, setCornerId] = useState(EVERYWHERE)
  const [what, setWhat] = useState<IncidentKind>('spin')
  const [who, setWho] = useState(NOBODY)
  const [whom, setWhom] = useState(EVERYBODY)
  const [action, setAction] = useState<Action>('called-in')
  const place = cornerId === EVERYWHERE ? null : cornerId
  const lastOf = (flag: string) =>
    events
      .filter((e) => e.kind === 'flag')
      .findLast((e) => e.flag === flag && (e.cornerId ?? EVERYWHERE) === cornerId && (e.runId ?? EVERYBODY) === whom)
  const flagSince = (flag: string): string => wallClock(lastOf(flag)?.at ?? '')
  const where: readonly (readonly [string, string])[] = [[EVERYWHERE, say`everywhere`], ...plan.corners.map((c) => [c.id, c.name] as const)]
  const people: readonly (readonly [string, string])[] = [
    [NOBODY, say`not known`],
    ...track.open.map((r) => [r.run.id, `${r.carNumber ? `${r.carNumber} · ` : ''}${r.run.studentName}`] as const),
  ]
  const logIncident = (): void => {
    const run = track.open.find((r) => r.run.id === who)
    track.tell({
      kind: 'incident',
      what,
      cornerId: place,
      runId: run?.run.id ?? null,
      carNumber: run?.carNumber ?? null,
      action: stopsAll(what) ? 'stopped-all' : action,
    })
    if (stopsAll(what) && !track.stop)
      track.tell({ kind: 'stop', why: `${incidentWords[what]}${place ? say` at ${cornerName(plan.corners, place)}` : ''}` })
  }
  const shown = events
    .filter((e) => e.kind === 'flag' || e.kind === 'stop' || e.kind === 'restart' || e.kind === 'incident')
    .slice(-5)
    .reverse()
  return (
    <Box component="section" aria-label={say`Flags and incidents`}>
      <Stack direction="row" spacing={2} useFlexGap sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <PickField label={say`Where`} value={cornerId} options={where} onPick={setCornerId} width={140} />
        <PickField
          label={say`To whom`}
          value={whom}
          options={[[EVERYBODY, say`everybody`] as const, ...people.slice(1)]}
          onPick={setWhom}
          width={170}
        />
        {day.plan.flags.map(({ name, meaning }) => {
          const up = lastOf(name)?.up ?? false
          return (
            <Button
              key={name}
              variant="outlined"
              color="secondary"
              aria-pressed={up}
              title={meaning}
              startIcon={<FlagSign name={name} height={20} />}
              onClick={() =>
                track.tell({ kind: 'flag', flag: name, cornerId: place, up: !up, ...(whom === EVERYBODY ? {} : { runId: whom }) })
              }
            >
              {up ? say`${name}, up since ${flagSince(name)}: take it down` : name}
            </Button>
          )
        })}
      </Stack>
      <Stack direction="row" spacing={2} useFlexGap sx={{ alignItems: 'flex-end', flexWrap: 'wrap', mt: 2 }}>
        <PickField
          label={say`Incident`}
          value={what}
          options={incidentKinds.map((k) => [k, incidentWords[k]] as const)}
          onPick={setWhat}
          width={150}
        />
        <PickField label={say`Who`} value={who} options={people} onPick={setWho} width={190} />
        <PickField
          label={say`Action`}
          value={stopsAll(what) ? 'stopped-all' : action}
          options={incidentActions.map((a) => [a, actionWords[a]] as const)}
          onPick={setAction}
          width={130}
          disabled={stopsAll(what)}
        />
        <Button variant={stopsAll(what) ? 'contained' : 'outlined'} color={stopsAll(what) ? 'error' : 'secondary'} onClick={logIncident}>
          {stopsAll(what) ? say`Log it and stop all` : say`Log it`}
        </Button>
      </Stack>
      <Box sx={{ mt: 2 }} aria-label={say`Last told`} role="log">
        {shown.map((e) => (
          <Typography key={e.id} sx={{ fontSize: 'size.text' }} className="figures">
            {`${wallClock(e.at)}  ${dayEventInWords(e, (id) => cornerName(plan.corners, id))}`}
          </Typography>
        ))}
      </Box>
    </Box>
  )
}
