import { Box, Button, LinearProgress, Stack, Typography } from '@mui/material'
import type { Day } from '@ochote/contract'
import {
  clockOf,
  type DayDifference,
  type DayPlanning,
  firstName,
  judgePlan,
  lineId,
  minutesOf,
  type PlannedSession,
  type Slot,
  withDifference,
  withoutSeat,
} from '@ochote/core'
import { type ReactNode, useMemo, useState } from 'react'
import { usePlanHistory } from '../../data/day/use-plan-history.ts'
import { say } from '../../language/say.ts'
import { Folded } from '../../shared/folded.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { withAnnounced } from '../day/announce.tsx'
import { HowMuch, NoLongerFits, noLongerFits, PlanDifferences } from '../day/plan-proposal.tsx'
import { brokenInWords } from '../day/plan-words.ts'
import { useStartRun } from '../day/start-run.ts'
import { swappedWithNext } from '../day/swap-with-next.ts'
import { useDaySearch } from '../day/use-day-search.ts'
import { type Names, nameIn, useDayClock, useSetup } from '../day/use-day-setup.ts'
import { withPlan } from '../day/with-plan.ts'
import type { TrackDay } from './use-track-day.ts'

/** Runs that begin within this time are due (min); how long somebody is late, rain lasts and the track is closed, unless told otherwise. */
const DUE_MIN = 20
const LATE_MIN = 15
const RAIN_MIN = 60
const CLOSED_MIN = 15
/** Lines of what is due, and of what does not fit. */
const SHOWN = 5

/** The planned session that a line of the run list stands for. */
const sessionOf = (sessions: readonly PlannedSession[], slot: Slot): PlannedSession | undefined =>
  sessions.find((s) => s.seats.some((seat) => lineId(s, seat.studentId) === slot.id))

type Changing = { day: Day; driven: ReadonlySet<string>; now: string; names: Names; change: ReturnType<typeof usePlanHistory>['change'] }

/** Runs of one session that set off together, the first to begin first; every other run is alone. */
export const togetherOut = (slots: readonly Slot[]): Slot[][] => {
  const out: Slot[][] = []
  for (const slot of slots) {
    const together = slot.format === 'released' || slot.format === 'group-session'
    const same = together && out.find(([o]) => o.format === slot.format && o.start === slot.start && o.instructorId === slot.instructorId)
    if (same) same.push(slot)
    else out.push([slot])
  }
  return out
}

/** One line of what is due: when, who, and what can be done. */
const DueLine = ({ at, who, about = '', children }: { at: string; who: string; about?: string; children: ReactNode }) => (
  <Stack
    component="li"
    direction="row"
    useFlexGap
    spacing={2}
    sx={{ alignItems: 'center', flexWrap: 'wrap', borderTop: 'hair', borderColor: 'divider', py: 1 }}
  >
    <Box className="figures">{at}</Box>
    <Box sx={{ flex: '1 1 180px' }}>
      <Box component="span" sx={{ fontWeight: 640 }}>
        {who}
      </Box>
      {` ${about}`}
    </Box>
    {children}
  </Stack>
)

/** The next runs, each started, put off, exchanged or skipped by one touch. */
const Due = ({ day, driven, now, names, change }: Changing) => {
  const start = useStartRun(day, () => {})
  const until = clockOf(minutesOf(now) + DUE_MIN)
  const due = day.plan.slots
    .filter((s) => s.kind === 'run' && s.studentId !== undefined && !driven.has(s.id) && s.start <= until)
    .sort((a, b) => a.start.localeCompare(b.start))
  if (due.length === 0) return <Typography>{say`No run is due.`}</Typography>
  const startAll = async (slots: readonly Slot[]): Promise<void> => {
    for (const slot of slots) await start.mutateAsync(slot).catch(() => null)
  }
  const { sessions } = day.plan.planning
  const skip = (slot: Slot): void => {
    const session = sessionOf(sessions, slot)
    change((plan) =>
      session
        ? withPlan(plan, withoutSeat(plan.planning.sessions, session, slot.studentId ?? ''), driven)
        : { ...plan, slots: plan.slots.filter((s) => s.id !== slot.id) },
    )
  }
  const late = (slot: Slot): void =>
    change((plan) => ({
      ...plan,
      planning: {
        ...plan.planning,
        ...withDifference(plan.planning, { kind: 'late', id: slot.studentId ?? '', from: clockOf(minutesOf(now) + LATE_MIN), to: '' }),
      },
    }))
  const swap = (session: PlannedSession): void =>
    change((plan) => withPlan(plan, swappedWithNext(plan.planning.sessions, session) ?? plan.planning.sessions, driven))
  return (
    <Box component="ul" aria-label={say`Due now`} sx={{ m: 0, p: 0, listStyle: 'none' }}>
      {togetherOut(due)
        .slice(0, SHOWN)
        .map(([slot, ...others], k) => {
          const isFirst = k === 0
          if (others.length > 0)
            return (
              <DueLine
                key={slot.id}
                at={slot.start}
                who={[slot, ...others].map((s) => firstName(names.student(s.studentId ?? ''))).join(', ')}
              >
                <Button
                  size="small"
                  variant={isFirst ? 'contained' : 'outlined'}
                  disabled={start.isPending}
                  onClick={() => void startAll([slot, ...others])}
                >
                  {say`Start all ${others.length + 1}`}
                </Button>
              </DueLine>
            )
          const name = names.student(slot.studentId ?? '')
          const session = sessionOf(sessions, slot)
          const about = [slot.carId && say`car ${names.car(slot.carId)}`, slot.instructorId && names.instructor(slot.instructorId)]
          return (
            <DueLine key={slot.id} at={slot.start} who={name} about={about.filter(Boolean).join(', ')}>
              <Button
                size="small"
                variant={isFirst ? 'contained' : 'outlined'}
                disabled={start.isPending}
                onClick={() => start.mutate(slot)}
                aria-label={say`Start ${name}`}
              >
                {say`Start`}
              </Button>
              {session && (
                <Button size="small" variant="outlined" onClick={() => late(slot)} aria-label={say`${name} is ${LATE_MIN} min late`}>
                  {say`${LATE_MIN} min late`}
                </Button>
              )}
              {session && swappedWithNext(sessions, session) !== null && (
                <Button
                  size="small"
                  variant="outlined"
                  onClick={() => swap(session)}
                  aria-label={say`${name} changes places with the next`}
                >
                  {say`Swap with next`}
                </Button>
              )}
              <Button size="small" variant="outlined" onClick={() => skip(slot)} aria-label={say`Skip ${name}`}>
                {say`Skip`}
              </Button>
            </DueLine>
          )
        })}
      <ProblemNote error={start.error} />
    </Box>
  )
}

/** What happened, from now on: each by one touch on a car, an instructor or the sky. */
const WhatHappened = ({ day, now, names, change }: Changing) => {
  const { planning } = day.plan
  const put = (next: (planning: DayPlanning) => Partial<DayPlanning>): void =>
    change((plan) => ({ ...plan, planning: { ...plan.planning, ...next(plan.planning) } }))
  const tell = (difference: Omit<DayDifference, 'from'>): void => put((current) => withDifference(current, { ...difference, from: now }))
  const inMinutes = (minutes: number): string => clockOf(minutesOf(now) + minutes)
  const raining = planning.rain.some((r) => r.from <= now && now < r.to)
  const isOut = (id: string): boolean => planning.cars[id]?.out.some((o) => o.from <= now && now < o.to) ?? false
  // Rain that is over ends now; what was still to come is not due any more only where it began before.
  const dry = (): void =>
    put((current) => ({
      rain: current.rain.flatMap((r) => (r.from <= now && now < r.to ? (r.from < now ? [{ ...r, to: now }] : []) : [r])),
    }))
  const left = (id: string): boolean => (planning.staff[id]?.to ?? '99') <= now
  return (
    <Stack spacing={2}>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Button
          variant="outlined"
          aria-pressed={raining}
          onClick={() => (raining ? dry() : tell({ kind: 'rain', id: '', to: inMinutes(RAIN_MIN) }))}
        >
          {raining ? say`The rain is over` : say`It rains, for an hour`}
        </Button>
        <Button variant="outlined" onClick={() => tell({ kind: 'track-closed', id: '', to: inMinutes(CLOSED_MIN) })}>
          {say`Track closed for ${CLOSED_MIN} min`}
        </Button>
      </Stack>
      <Stack direction="row" useFlexGap spacing={1} role="group" aria-label={say`Car out`} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <span>{say`Car out:`}</span>
        {day.plan.cars.map((car) => (
          <Button
            key={car.id}
            size="small"
            variant="outlined"
            color="secondary"
            aria-label={say`Car ${car.number} is out`}
            aria-pressed={isOut(car.id)}
            disabled={isOut(car.id)}
            onClick={() => tell({ kind: 'car-out', id: car.id, to: planning.to })}
          >
            {car.number}
          </Button>
        ))}
      </Stack>
      <Stack
        direction="row"
        useFlexGap
        spacing={1}
        role="group"
        aria-label={say`Instructor away`}
        sx={{ flexWrap: 'wrap', alignItems: 'center' }}
      >
        <span>{say`Instructor away:`}</span>
        {day.plan.instructorIds.map((id) => (
          <Button
            key={id}
            size="small"
            variant="outlined"
            color="secondary"
            aria-label={say`${names.instructor(id)} is away`}
            aria-pressed={left(id)}
            disabled={left(id)}
            onClick={() => tell({ kind: 'instructor-to', id, to: '' })}
          >
            {firstName(names.instructor(id))}
          </Button>
        ))}
      </Stack>
    </Stack>
  )
}

/** What no longer fits in the rest of the day, and the proposal that mends it. */
const RestOfDay = ({
  day,
  driven,
  names,
  change,
  setup,
  wrong,
  error,
}: Changing & Pick<ReturnType<typeof useSetup>, 'setup' | 'wrong' | 'error'>) => {
  const { search, start, stop, drop } = useDaySearch()
  const [which, setWhich] = useState<'careful' | 'freely'>('careful')
  const { sessions } = day.plan.planning
  const judged = useMemo(() => (setup && wrong.length === 0 ? judgePlan(setup, sessions) : null), [setup, wrong, sessions])
  const plan = which === 'freely' && search.freely ? search.freely : search.plan
  const outdated = useMemo(() => (setup && plan ? noLongerFits(setup, plan, names) : []), [setup, plan, names])
  if (wrong.length > 0)
    return (
      <Typography
        sx={{ color: 'warning.main' }}
      >{say`The rest cannot be planned as the day is entered; what is wrong is told under Day, Plan it.`}</Typography>
    )
  if (!setup || !judged) return <ProblemNote error={error} />
  const broken = brokenInWords(judged.broken, (id) => nameIn(names, id))
  const missing = Math.round(judged.costs.leftOut / Math.max(1, setup.rules.cost.leftOut))
  const use = (announce: boolean): void => {
    if (!plan) return
    const { sessions: next } = plan
    drop()
    change((current) => {
      const used = withPlan(current, next, driven)
      return announce ? withAnnounced(used, new Date().toISOString()) : used
    })
  }
  const fits = broken.length === 0 && missing === 0
  return (
    <Stack spacing={2}>
      <Box role="status" aria-label={say`The rest of the day`} sx={fits ? {} : { color: 'warning.main', fontWeight: 600 }}>
        {fits
          ? say`The rest of the day fits as it is planned.`
          : say`The rest of the day does not fit: ${[...broken.slice(0, SHOWN), ...(missing > 0 ? [say`${missing} left out`] : [])].join('; ')}${broken.length > SHOWN ? ' …' : '.'}`}
      </Box>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        <Button
          variant={fits || (plan && outdated.length === 0) ? 'outlined' : 'contained'}
          disabled={search.searching}
          onClick={() => start(setup)}
        >
          {say`Plan the rest of the day`}
        </Button>
        {search.searching && (
          <Button variant="outlined" onClick={stop}>
            {say`Stop, keep this plan`}
          </Button>
        )}
      </Stack>
      {search.searching && <LinearProgress aria-label={say`Looking for a better plan`} />}
      <ProblemNote error={search.error} />
      {plan && search.plan && (
        <Stack spacing={2} component="section" aria-label={say`Proposed plan`}>
          <HowMuch search={search} careful={search.plan} used={sessions} which={which} onPick={setWhich} />
          <PlanDifferences used={sessions} plan={plan} names={names} />
          <NoLongerFits broken={outdated} />
          <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
            <Button variant={outdated.length === 0 ? 'contained' : 'outlined'} disabled={search.searching} onClick={() => use(true)}>
              {say`Use it and announce it`}
            </Button>
            <Button variant="outlined" onClick={() => use(false)}>
              {say`Use it, announce later`}
            </Button>
            <Button variant="text" onClick={drop}>
              {say`Drop it`}
            </Button>
          </Stack>
        </Stack>
      )}
    </Stack>
  )
}

/** The day on the pit wall: what is due, what happened, and the rest of the day planned anew. */
export const DayChanges = ({ track }: { track: TrackDay }) => {
  const { day } = track
  const { change, undo, redo } = usePlanHistory()
  const driven = useMemo(() => new Set(track.all.flatMap(({ run }) => run.slotId ?? [])), [track.all])
  const now = useDayClock(day.plan, driven)
  const { names, ...planned } = useSetup(day, now)
  const changing = { day, driven, now, names, change }
  const hasPlan = day.plan.planning.sessions.length > 0
  return (
    <Stack spacing={2} component="section" aria-label={say`The day`}>
      <Stack direction="row" spacing={3} sx={{ alignItems: 'center' }}>
        <Typography variant="head">{say`Due, ${now}`}</Typography>
        <UndoRedo undo={undo} redo={redo} />
      </Stack>
      <Due {...changing} />
      {hasPlan && <RestOfDay {...changing} {...planned} />}
      {hasPlan && (
        <Folded name={say`What happened?`} open>
          <WhatHappened {...changing} />
        </Folded>
      )}
    </Stack>
  )
}
