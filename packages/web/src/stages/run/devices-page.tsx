import { Box, Button, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { api, type Devices, type Receiver, type Simulation } from '@ochote/contract'
import { seedOf } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { devicesQuery, queryClient, receiversQuery, sessionQuery } from '../../data/api/queries.ts'
import { logRunEvent } from '../../data/events/use-run-events.ts'
import { say } from '../../language/say.ts'
import { exactMetres } from '../../language/staff-units.ts'
import { columns } from '../../look/columns.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { SyncNote } from '../../shared/sync-note.tsx'
import { inShell } from './on-track.tsx'
import { wallClock } from './run-words.ts'
import type { TrackDay } from './use-track-day.ts'

const DevicesScreen = ({ track }: { track: TrackDay }) => {
  const session = useQuery(sessionQuery)
  return (
    <Stack spacing={5}>
      <StageHead stage="Run">
        <SyncNote />
      </StageHead>
      <Receivers track={track} />
      {session.data?.simulated ? (
        <>
          {!session.data.demo && (
            <Typography role="note" sx={{ borderLeft: 'note', borderColor: 'warning.main', pl: 3 }}>
              {say`Practice is switched on: runs that a simulated logger drives are in no record, on no sheet and in no group.`}
            </Typography>
          )}
          <SimulatedLoggers track={track} />
          <OtherDevices track={track} />
        </>
      ) : (
        <Typography color="text.secondary">
          {say`Simulated devices are switched off in this school. For practice the lead can switch them on under`}{' '}
          <Link to="/school/settings">{say`School, Settings`}</Link>.
        </Typography>
      )}
    </Stack>
  )
}

/** A port that no car sends to. */
const NO_CAR = 'none'
const viaWords = { tcp: 'TCP', udp: 'UDP' } as const
/** Fault of a receiver, and what to do about it. */
const troubleWords: Record<NonNullable<Receiver['fault']>, string> = {
  late: say`Positions out of order are left out`,
  future: say`Timestamps jump ahead: ignored until they settle`,
  elsewhere: say`Not on this circuit: check which circuit the day has`,
  frozen: say`Position frozen while it reports speed: restart it`,
  slow: say`Under four positions a second: places and laps, no marks. Set it faster`,
  'car-taken': say`Another receiver is sending for this car: switch one of them off, or wait ten seconds`,
  'unknown-car': say`No such car in this day: say here which one it is`,
  'no-day': say`There is no day yet: make one in the Day stage`,
}

/** Every port with what comes in on it. */
const Receivers = ({ track }: { track: TrackDay }) => {
  const receivers = useQuery({ ...receiversQuery, refetchInterval: 1000 })
  const assign = useMutation({
    mutationFn: ({ port, carNumber, before }: { port: number; carNumber: string | null; before: string | null }) =>
      call(api.assignReceiver, { params: { port }, body: { carNumber, before } }),
    onSuccess: (all) => queryClient.setQueryData(receiversQuery.queryKey, all),
    onError: () => queryClient.invalidateQueries({ queryKey: receiversQuery.queryKey }),
  })
  const rows = receivers.data?.filter((r) => r.carNumber !== null || r.lines > 0) ?? []
  return (
    <Box component="section" aria-label={say`Receivers`}>
      <Typography variant="head">{say`Receivers`}</Typography>
      <Typography sx={{ mb: 1 }}>
        {say`A logger in a car sends NMEA 0183 (RMC, GGA, VTG) or JSON lines to its port here, by TCP or UDP. Other sentences are ignored.`}
      </Typography>
      <ProblemNote error={receivers.error ?? assign.error} />
      <RowTable aria-label={say`Ports of receivers`} sx={{ maxWidth: 1080 }}>
        <TableHead>
          <TableRow>
            {[
              say`Port`,
              say`Car`,
              say`Protocol`,
              'Rate',
              say`Positions`,
              say`Checksum errors`,
              say`Other sentences`,
              say`Unreadable`,
              say`Clock`,
              say`State`,
            ].map((name) => (
              <TableCell key={name}>{name}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((r) => (
            <TableRow key={r.port}>
              <TableCell className="figures">{r.port}</TableCell>
              <TableCell>
                <PickField
                  label={say`Car at port ${r.port}`}
                  hideLabel
                  value={r.carNumber ?? NO_CAR}
                  options={[[NO_CAR, 'none'], ...track.day.plan.cars.map((c) => [c.number, c.number] as const)]}
                  onPick={(carNumber) =>
                    assign.mutate({ port: r.port, carNumber: carNumber === NO_CAR ? null : carNumber, before: r.carNumber })
                  }
                  width={70}
                />
              </TableCell>
              <TableCell>{r.via ? viaWords[r.via] : '–'}</TableCell>
              <TableCell className="figures">{r.rate_hz > 0 ? `${r.rate_hz.toFixed(0)} Hz` : '–'}</TableCell>
              <TableCell className="figures">{r.fixes > 0 ? r.fixes : '–'}</TableCell>
              <TableCell className="figures">{r.checksumErrors > 0 ? r.checksumErrors : '–'}</TableCell>
              <TableCell className="figures">{r.unknown > 0 ? r.unknown : '–'}</TableCell>
              <TableCell className="figures">{r.garbage > 0 ? r.garbage : '–'}</TableCell>
              <TableCell className="figures">
                {r.lastAt === null || r.simulated
                  ? '–'
                  : Math.abs(r.clockAhead_s) < 2
                    ? 'right'
                    : say`${r.clockAhead_s.toFixed(0)} s ahead, corrected`}
              </TableCell>
              <TableCell sx={r.fault ? { color: 'warning.main', fontWeight: 600 } : {}}>
                {r.fault
                  ? troubleWords[r.fault]
                  : r.rate_hz > 0
                    ? `sends${r.simulated ? say`, simulated` : ''}`
                    : r.lastAt
                      ? say`silent since ${wallClock(r.lastAt)}`
                      : say`nothing yet`}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </RowTable>
    </Box>
  )
}

const habitWords = [
  ['own', say`the student’s own`],
  ['wild', say`more and bigger`],
  ['none', say`none`],
] as const satisfies readonly (readonly [Simulation['habits'], string])[]
const formWords = [
  ['json-tcp', say`JSON lines, TCP`],
  ['nmea-tcp', 'NMEA, TCP'],
  ['nmea-udp', 'NMEA, UDP'],
] as const satisfies readonly (readonly [Simulation['form'], string])[]

/** Stand-ins for the loggers in the cars of open runs. */
const SimulatedLoggers = ({ track }: { track: TrackDay }) => {
  const [habits, setHabits] = useState<Simulation['habits']>('own')
  const [form, setForm] = useState<Simulation['form']>('json-tcp')
  const [speed, setSpeed] = useState('1')
  const [noise, setNoise] = useState('0.05')
  const [dropOuts, setDropOuts] = useState('0')
  const act = useMutation({
    mutationFn: async ({ runId, start }: { runId: string; start: boolean }) => {
      if (!start) return call(api.stopLogger, { params: { runId } })
      await logRunEvent(runId, { kind: 'sent-out', program: { sighting: 0, coached: 6, coolDown: 1 } })
      const numbers = { speedFactor: Number(speed), noise_m: Number(noise), dropOuts: Number(dropOuts) }
      return call(api.simulateLogger, { params: { runId }, body: { seed: seedOf(runId), laps: 6, coolDown: 1, habits, form, ...numbers } })
    },
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: ['runs'] }),
  })
  return (
    <Box component="section" aria-label={say`Simulated loggers`}>
      <Typography variant="head">{say`Simulated loggers`}</Typography>
      <Stack direction="row" spacing={4} sx={{ my: 2 }}>
        <PickField label={say`Habits`} value={habits} options={habitWords} onPick={setHabits} width={150} />
        <PickField label={say`Sends`} value={form} options={formWords} onPick={setForm} width={150} />
        <PickField
          label={say`Clock`}
          value={speed}
          options={['1', '2', '4', '8'].map((v) => [v, `×${v}`] as const)}
          onPick={setSpeed}
          width={80}
        />
        <PickField
          label={say`Noise`}
          value={noise}
          options={['0.05', '0.3', '0.8'].map((v) => [v, exactMetres(Number(v))] as const)}
          onPick={setNoise}
          width={90}
        />
        <PickField
          label={say`Drop-outs`}
          value={dropOuts}
          options={['0', '1', '3'].map((v) => [v, say`${v} a lap`] as const)}
          onPick={setDropOuts}
          width={100}
        />
      </Stack>
      <ProblemNote error={act.error} />
      {track.open.length === 0 && (
        <Typography>{say`No run is open. Start one in the Day stage, then a simulated logger can drive it.`}</Typography>
      )}
      {track.open.map(({ run, carNumber, state }) => (
        <Stack key={run.id} direction="row" spacing={4} sx={{ alignItems: 'center', py: 1 }}>
          <Typography sx={{ width: 300 }}>{`${carNumber ? say`Car ${carNumber} · ` : ''}${run.studentName}`}</Typography>
          {run.simulation ? (
            <Button variant="outlined" size="small" onClick={() => act.mutate({ runId: run.id, start: false })}>
              {say`Cut the power`}
            </Button>
          ) : (
            <Button variant="contained" size="small" disabled={act.isPending} onClick={() => act.mutate({ runId: run.id, start: true })}>
              {state.programme ? say`Start it` : say`Send out with it`}
            </Button>
          )}
        </Stack>
      ))}
    </Box>
  )
}

const rainWords = [
  ['dry', say`no rain`],
  ['drizzle', say`drizzle`],
  ['rain', say`rain`],
  ['heavy-rain', say`heavy rain`],
] as const satisfies readonly (readonly [Devices['weather']['rain'], string])[]

/** Stand-ins for radio, timing beam and weather station, with what they told last. */
const OtherDevices = ({ track }: { track: TrackDay }) => {
  const devices = useQuery(devicesQuery)
  const set = useMutation({
    mutationFn: (next: Devices) => call(api.setDevices, { body: next }),
    onSuccess: (next) => queryClient.setQueryData(devicesQuery.queryKey, next),
    onError: () => queryClient.invalidateQueries({ queryKey: devicesQuery.queryKey }),
  })
  const now = devices.data
  if (!now) return <ProblemNote error={devices.error} />
  const radios = track.events
    .filter((e) => e.kind === 'radio')
    .slice(-6)
    .reverse()
  const heard = track.events.filter((e) => e.kind === 'radio-answer')
  const beams = track.events
    .filter((e) => e.kind === 'beam')
    .slice(-6)
    .reverse()
  const nameOf = (runId: string): string => track.all.find((r) => r.run.id === runId)?.run.studentName ?? runId
  const Switch = ({ on, name, onChange }: { on: boolean; name: string; onChange: (on: boolean) => void }) => (
    <Button size="small" variant="outlined" color="secondary" aria-pressed={on} onClick={() => onChange(!on)}>
      {`${name}: ${on ? say`on` : say`off`}`}
    </Button>
  )
  return (
    <Box sx={columns('1fr 1fr 1fr')}>
      <ProblemNote error={set.error} />
      <Box component="section" aria-label={say`Simulated weather station`}>
        <Typography variant="head">{say`Simulated weather station`}</Typography>
        <Stack direction="row" spacing={4} sx={{ alignItems: 'flex-end', my: 2 }}>
          <Switch on={now.weather.on} name={say`Station`} onChange={(on) => set.mutate({ ...now, weather: { ...now.weather, on } })} />
          <PickField
            label={say`Rain`}
            value={now.weather.rain}
            options={rainWords}
            onPick={(rain) => set.mutate({ ...now, weather: { ...now.weather, on: true, rain, air_C: rain === 'dry' ? 17 : 13 } })}
            width={120}
          />
        </Stack>
        <Typography color="text.secondary">
          {say`When rain begins the made-up students lose grip from their next lap on; the pit wall and the cars are told that the plan is for another surface.`}
        </Typography>
      </Box>
      <Box component="section" aria-label={say`Simulated radio`}>
        <Typography variant="head">{say`Simulated radio`}</Typography>
        <Stack direction="row" spacing={4} sx={{ alignItems: 'flex-end', my: 2 }}>
          <Switch on={now.radio.on} name={say`Radio`} onChange={(on) => set.mutate({ ...now, radio: { ...now.radio, on } })} />
          <Switch
            on={now.radio.answers}
            name={say`Answers`}
            onChange={(answers) => set.mutate({ ...now, radio: { ...now.radio, answers } })}
          />
          <PickField
            label={say`Delay`}
            value={String(now.radio.delay_s)}
            options={['0.3', '0.5', '2', '5'].map((v) => [v, `${v} s`] as const)}
            onPick={(v) => set.mutate({ ...now, radio: { ...now.radio, delay_s: Number(v) } })}
            width={80}
          />
        </Stack>
        {radios.length === 0 && <Typography>{say`No message yet. The leader and the pit wall send them.`}</Typography>}
        {radios.map((r) => {
          const answers = heard.filter((h) => h.radioId === r.id)
          return (
            <Typography key={r.id} sx={{ fontSize: 'size.text' }}>
              {`${wallClock(r.at)} “${r.text}” · ${answers.length === 0 ? say`not heard by any of ${r.to.length}` : say`heard: ${answers.map((a) => nameOf(a.runId).split(' ')[0]).join(', ')}`}`}
            </Typography>
          )
        })}
      </Box>
      <Box component="section" aria-label={say`Simulated timing beam`}>
        <Typography variant="head">{say`Simulated timing beam`}</Typography>
        <Box sx={{ my: 2 }}>
          <Switch on={now.beam.on} name={say`Beam`} onChange={(on) => set.mutate({ ...now, beam: { on } })} />
        </Box>
        {beams.length === 0 && <Typography>{say`No car has gone through it yet.`}</Typography>}
        {beams.map((b) => (
          <Typography key={b.id} className="figures" sx={{ fontSize: 'size.text' }}>
            {say`${wallClock(b.at)}  car ${b.carNumber}${b.lapTime_s === null ? say`, first time` : `, ${b.lapTime_s.toFixed(2)} s`}`}
          </Typography>
        ))}
      </Box>
    </Box>
  )
}

/** Receivers and the simulated devices. */
export const DevicesPage = inShell(DevicesScreen)
