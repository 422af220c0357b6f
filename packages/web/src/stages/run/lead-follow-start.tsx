import { Box, Button, Stack, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import { carOfStudent, firstName, rotationTable, type Slot, seedOf, settingsOfStudent } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { carConditionsQuery, queryClient, sessionQuery } from '../../data/api/queries.ts'
import { startRunHere } from '../../data/events/run-queue.ts'
import { logRunEvent } from '../../data/events/use-run-events.ts'
import { say } from '../../language/say.ts'
import { isGrounded } from '../../shared/condition-words.ts'
import { CountField } from '../../shared/count-field.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import type { TrackDay } from './use-track-day.ts'

/** Laps of a lead-follow run, unless told otherwise, and at most. */
const USUAL_LAPS = 6
const MOST_LAPS = 30
/** Students behind a leader. */
const MOST = 6

/** Starts the runs of a train, each in a free car, the own one where there is one; null speed: with receivers, else simulated. */
const useStart = (
  { day, students, tell }: TrackDay,
  freeCars: ReturnType<typeof freeCarsOf>,
  { chosen, laps, speedFactor, leader }: { chosen: readonly string[]; laps: number; speedFactor: number | null; leader: string },
  slotOf: (studentId: string) => Slot | undefined,
) =>
  useMutation({
    networkMode: 'always',
    mutationFn: async () => {
      const runIds: string[] = []
      const taken = new Set<string>()
      const ownCars = new Set(chosen.map((studentId) => carOfStudent(studentId, day.plan)?.id))
      for (const studentId of chosen) {
        const ownCarId = slotOf(studentId)?.carId ?? carOfStudent(studentId, day.plan)?.id
        const free = freeCars.filter((c) => !taken.has(c.id))
        const car = free.find((c) => c.id === ownCarId) ?? free.find((c) => !ownCars.has(c.id)) ?? free[0]
        if (car) taken.add(car.id)
        const body = {
          id: uuid(),
          dayId: day.id,
          slotId: slotOf(studentId)?.id ?? null,
          studentId,
          carId: car?.id ?? null,
          settings: { ...settingsOfStudent(studentId, day.plan, slotOf(studentId)?.id), ...(car ? { vehicleId: car.vehicleId } : {}) },
          startedAt: new Date().toISOString(),
        }
        const studentName = students.find((s) => s.id === studentId)?.name ?? studentId
        const runId = await startRunHere(body, { studentName, date: day.plan.date })
        runIds.push(runId)
        await logRunEvent(runId, { kind: 'checked', open: [] })
        tell({ kind: 'radio-heard', studentId })
        await logRunEvent(runId, { kind: 'sent-out', program: { sighting: 0, coached: laps, coolDown: 0 } })
      }
      tell({ kind: 'row', runIds, lap: 1, ...(leader === '' ? {} : { leader }) })
      await queryClient.invalidateQueries({ queryKey: ['runs'] })
      if (speedFactor === null) return
      // Simulated cars set off one after another, as they would from the pit lane.
      for (const [k, runId] of runIds.entries()) {
        const body = { seed: seedOf(runId), laps, speedFactor, delay_s: 4 * k }
        await call(api.simulateLogger, { params: { runId }, body })
      }
    },
  })

/** The lines of the day's plan for the next row that was not driven, the first to set off first. */
export const nextRow = (slots: readonly Slot[], driven: ReadonlySet<string>): Slot[] => {
  const waiting = slots.filter((s) => s.format === 'lead-follow' && s.studentId !== undefined && !driven.has(s.id))
  const first = waiting.reduce<Slot | null>((best, s) => (best === null || s.start < best.start ? s : best), null)
  return waiting.filter((s) => s.start === first?.start && s.instructorId === first?.instructorId)
}

/** Cars that nobody drives now; those that somebody said nobody should drive are left out. */
const freeCarsOf = (day: TrackDay['day'], open: TrackDay['open'], grounded: ReadonlySet<string>) =>
  day.plan.cars.filter((car) => !grounded.has(car.id) && !open.some((r) => r.run.carId === car.id))

const useGroundedCars = (dayId: string): ReadonlySet<string> => {
  const conditions = useQuery(carConditionsQuery(dayId))
  return new Set(conditions.data?.filter(isGrounded).map((c) => c.carId))
}

/** Makes up a train: who drives behind the leader, in which car, for how many laps; with simulated cars where that is wanted. */
export const LeadFollowStart = ({ track }: { track: TrackDay }) => {
  const { day, students, open } = track
  const navigate = useNavigate()
  const [chosen, setChosen] = useState<readonly string[]>([])
  const [laps, setLaps] = useState(USUAL_LAPS)
  const session = useQuery(sessionQuery)
  const maySimulate = session.data?.simulated === true
  const [wished, setSpeedFactor] = useState<number | null | undefined>(undefined)
  const speedFactor = maySimulate ? (wished === undefined ? (session.data?.demo ? 1 : null) : wished) : null
  const here = students.filter((s) => day.plan.studentIds.includes(s.id))
  const busy = new Set(open.map((r) => r.run.studentId))
  const grounded = useGroundedCars(day.id)
  const freeCars = freeCarsOf(day, open, grounded)
  const [leader, setLeader] = useState('')
  const leaders: readonly (readonly [string, string])[] = [
    ['', say`without a receiver`],
    ...day.plan.cars.map((c) => [c.number, say`car ${c.number}`] as const),
  ]
  const [ready, setReady] = useState<ReadonlySet<string>>(new Set())
  const unready = chosen.filter((id) => !ready.has(id))
  const table = chosen.length >= 2 ? rotationTable(chosen, laps, laps >= 2 * chosen.length ? 2 : 1) : []
  const planned = nextRow(day.plan.slots, new Set(track.all.flatMap(({ run }) => run.slotId ?? [])))
  const start = useStart(track, freeCars, { chosen, laps, speedFactor, leader }, (studentId) =>
    planned.find((s) => s.studentId === studentId),
  )
  const toggle = (id: string): void => setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id].slice(0, MOST))
  return (
    <Box component="main" sx={{ p: 5 }}>
      <Typography variant="title">{say`Lead-follow: who drives behind you`}</Typography>
      <Typography sx={{ my: 2 }}>
        {say`Two to six students, in the order in which they set off; the first drives directly behind you. Passing is your call: nobody overtakes except to rotate.`}
      </Typography>
      {planned.length >= 2 && (
        <Button variant="outlined" sx={{ mb: 3 }} onClick={() => setChosen(planned.flatMap((s) => s.studentId ?? []).slice(0, MOST))}>
          {say`As planned at ${planned[0].start}: ${planned.map((s) => students.find((x) => x.id === s.studentId)?.name ?? '').join(', ')}`}
        </Button>
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(220px, 1fr))', gap: 3 }}>
        {here.map((s) => {
          const at = chosen.indexOf(s.id)
          return (
            <Button
              key={s.id}
              variant="outlined"
              color="secondary"
              disabled={busy.has(s.id)}
              aria-pressed={at >= 0}
              onClick={() => toggle(s.id)}
              sx={{ justifyContent: 'flex-start', textAlign: 'left', overflowWrap: 'anywhere' }}
            >
              {`${at >= 0 ? `${at + 1} · ` : ''}${s.name}${busy.has(s.id) ? say`, on a run` : ''}`}
            </Button>
          )
        })}
      </Box>
      <Stack direction="row" spacing={2} useFlexGap sx={{ my: 4, alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography>{say`Laps`}</Typography>
        <CountField key={laps} label={say`Laps`} value={laps} min={1} max={MOST_LAPS} onChange={setLaps} />
        <PickField label={say`My car`} value={leader} options={leaders} onPick={setLeader} width={190} />
        <Typography sx={{ ml: 5 }}>{say`Cars`}</Typography>
        {(maySimulate ? [null, 1, 4, 8] : [null]).map((f) => (
          <Button key={f ?? 0} variant="outlined" aria-pressed={f === speedFactor} onClick={() => setSpeedFactor(f)}>
            {f === null ? say`with receivers` : say`simulated ×${f}`}
          </Button>
        ))}
      </Stack>
      {table.length > 0 && (
        <Typography sx={{ mb: 4 }} role="status" aria-label={say`Turns`}>
          {chosen
            .map((id) => say`${students.find((s) => s.id === id)?.name}: ${table.filter((t) => t.row[0] === id).length} laps behind you`)
            .join(' · ')}
        </Typography>
      )}
      {table.length > 0 && (
        <Box
          component="ol"
          aria-label={say`Row lap by lap`}
          className="figures"
          sx={{ m: 0, mb: 4, p: 0, listStyle: 'none', columns: 2, maxWidth: 720 }}
        >
          {table.map(({ lap, row }) => (
            <li key={lap}>{say`Lap ${lap}: ${row.map((id) => firstName(students.find((s) => s.id === id)?.name ?? '')).join(' – ')}`}</li>
          ))}
        </Box>
      )}
      {chosen.length >= 2 && (
        <Box component="section" aria-label={say`Before rolling`} sx={{ mb: 4 }}>
          <Typography>{say`Each car looked over (${day.plan.checkOff.join(', ') || say`belts, helmet, mirrors`}), each radio answered:`}</Typography>
          <Stack direction="row" useFlexGap spacing={2} sx={{ mt: 1, flexWrap: 'wrap' }}>
            {chosen.map((id) => (
              <Button
                key={id}
                variant="outlined"
                aria-pressed={ready.has(id)}
                onClick={() => setReady(ready.has(id) ? new Set([...ready].filter((r) => r !== id)) : new Set(ready).add(id))}
              >
                {say`${firstName(students.find((s) => s.id === id)?.name ?? '')}: car OK, radio heard`}
              </Button>
            ))}
          </Stack>
        </Box>
      )}
      <Stack direction="row" spacing={4}>
        <Button
          variant="contained"
          disabled={chosen.length < 2 || unready.length > 0 || start.isPending || freeCars.length < chosen.length}
          sx={{ px: 7 }}
          onClick={() => start.mutate()}
        >
          {chosen.length < 2
            ? say`Choose two to six students first`
            : unready.length > 0
              ? say`First check ${unready.length} more`
              : say`Send the train out`}
        </Button>
        <Button variant="outlined" onClick={() => navigate('/run')}>
          {say`Back`}
        </Button>
      </Stack>
      {chosen.length >= 2 && freeCars.length < chosen.length && (
        <Typography
          sx={{ mt: 2 }}
        >{say`There are not enough free cars for this train${grounded.size > 0 ? say`; those that came back with “do not drive” are left out` : ''}.`}</Typography>
      )}
      <ProblemNote error={start.error} />
    </Box>
  )
}
