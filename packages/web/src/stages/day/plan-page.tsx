import { Alert, Box, Button, Checkbox, FormControlLabel, LinearProgress, Stack, Typography } from '@mui/material'
import type { Day, DayPlan } from '@ochote/contract'
import {
  checkSetup,
  countLoad,
  type DayPlanning,
  type DaySetup,
  type DayTimetable,
  describeError,
  FULL_LOAD,
  groupsOfDay,
  judgePlan,
  movedBy,
  type PlannedSession,
  planChanges,
  sessionKey,
  setupOfDay,
  slotsOfPlan,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import { v7 as uuid } from 'uuid'
import { accountsQuery, carsQuery, studentsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { usePlanHistory } from '../../data/day/use-plan-history.ts'
import { usePlan, usePlansFor } from '../../data/plan/use-plan.ts'
import { say, staffLanguage } from '../../language/say.ts'
import { isGrounded } from '../../shared/condition-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { PhoneAddress } from '../../shared/qr-address.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { type DaySearch, noSearch, searchDay } from '../../workers/day-solver.ts'
import { DayBoard } from './day-board.tsx'
import { PlanExceptions } from './plan-exceptions.tsx'
import { PlanInputs } from './plan-inputs.tsx'
import { costNames, easeInWords, formatNames, loadNames, reliefInWords, reliefNames } from './plan-words.ts'
import { EditJudged, SessionEditor } from './session-editor.tsx'

/** How long a day is searched for at most (s); it can be stopped at any time. */
const SECONDS = 20

/** The time of day here, where the day is today. */
const useNow = (date: string | undefined): string | null => {
  const [now, setNow] = useState(() => dayjs())
  useEffect(() => {
    const timer = setInterval(() => setNow(dayjs()), 30_000)
    return () => clearInterval(timer)
  }, [])
  return now.format('YYYY-MM-DD') === date ? now.format('HH:mm') : null
}

/** Names of people and cars as the board writes them. */
const useNames = (day: Day | undefined) => {
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const names = useMemo(() => {
    const student = new Map(students.data?.map((s) => [s.id, s.name]))
    const instructor = new Map(accounts.data?.map((a) => [a.id, a.name]))
    const car = new Map(day?.plan.cars.map((c) => [c.id, c.number]))
    return {
      student: (id: string) => student.get(id) ?? id,
      instructor: (id: string) => instructor.get(id) ?? id,
      car: (id: string) => car.get(id) ?? id,
    }
  }, [students.data, accounts.data, day?.plan.cars])
  return { names, students: students.data, accounts: accounts.data, error: students.error ?? accounts.error }
}

/** The setup of the day, once everything that it needs is here. */
const useSetup = (day: Day | undefined, now: string | null) => {
  const { students, accounts, names, error } = useNames(day)
  const cars = useQuery(carsQuery)
  const settings = day?.plan.settings
  const { plan } = usePlan(settings)
  const groups = useMemo(() => day?.plan.groups ?? [], [day?.plan.groups])
  const changes = useMemo(
    () =>
      groups.map(({ pace, school }) => ({
        ...(pace === undefined ? {} : { pace }),
        ...(school === undefined ? {} : { school }),
      })),
    [groups],
  )
  const ofGroups = usePlansFor(settings, changes)
  const setup = useMemo(() => {
    if (!day || !students || !accounts || !cars.data || !plan) return null
    const lap_s = (groupId: string): number => {
      const k = groups.findIndex((g) => g.id === groupId)
      return ((k >= 0 ? ofGroups?.[k] : undefined) ?? plan).profile.lapTime_s
    }
    const teaching = Object.fromEntries(accounts.map((a) => [a.id, a.teaching]))
    // A car that nobody should drive is no car of this day until somebody says that it was put right.
    const grounded = new Set(cars.data.filter((c) => c.condition && isGrounded(c.condition)).map((c) => c.id))
    const usable = { ...day.plan, cars: day.plan.cars.filter((c) => !grounded.has(c.id)) }
    return setupOfDay(usable, { students, schoolCars: cars.data, teaching, lap_s }, now)
  }, [day, students, accounts, cars.data, plan, ofGroups, groups, now])
  return { setup, names, error: error ?? cars.error }
}

/** Plans the day: what it gives, whether that fits, the plan that is found, and how it changes what was told. */
export const PlanPage = () => {
  const { day, error: dayError } = useDay()
  const { change, undo, redo } = usePlanHistory()
  const now = useNow(day?.plan.date)
  const { setup, names, error } = useSetup(day, now)
  const [search, setSearch] = useState<DaySearch>(noSearch)
  const [little, setLittle] = useState(true)
  const stop = useRef<(() => void) | null>(null)
  useEffect(() => () => stop.current?.(), [])
  if (!day)
    return (
      <Stack spacing={4}>
        <StageHead stage="Day" />
        <ProblemNote error={dayError} />
        <Typography>
          {say`No day yet.`} <Link to="/day/all">{say`Make a day`}</Link>
        </Typography>
      </Stack>
    )
  const { planning } = day.plan
  const put = (next: Partial<DayPlanning>): void => change((plan) => ({ ...plan, planning: { ...plan.planning, ...next } }))
  const start = (): void => {
    if (!setup) return
    stop.current?.()
    const wanted = little ? setup : { ...setup, announced: setup.kept }
    stop.current = searchDay(wanted, SECONDS, (next) => setSearch((had) => ({ ...had, ...next })))
  }
  return (
    <Stack spacing={4}>
      <StageHead stage="Day" facts={[day.plan.title, dayjs(day.plan.date).format(say`dddd D MMMM YYYY`)].join(' · ')}>
        <UndoRedo undo={undo} redo={redo} />
      </StageHead>
      <ProblemNote error={error ?? search.error} />
      <Box component="details" open={planning.sessions.length === 0} sx={{ '& summary': { cursor: 'pointer' } }}>
        <summary>
          <Typography component="span" variant="head">{say`What the day gives`}</Typography>
        </summary>
        <Box sx={{ mt: 3 }}>
          <PlanInputs planning={planning} groups={groupsOfDay(day.plan)} onChange={put} />
        </Box>
      </Box>
      <PlanExceptions
        planning={planning}
        students={day.plan.studentIds.map((id) => [id, names.student(id)] as const)}
        instructors={day.plan.instructorIds.map((id) => [id, names.instructor(id)] as const)}
        cars={day.plan.cars.map((c) => [c.id, c.number] as const)}
        now={now}
        onChange={put}
      />
      {!setup && <Reading what={say`Reading the day …`} />}
      {setup && (
        <>
          <Fits setup={setup} names={names} />
          <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
            <Button
              variant={search.plan ? 'outlined' : 'contained'}
              disabled={search.searching || checkSetup(setup).length > 0}
              onClick={start}
            >
              {now !== null && setup.kept.length > 0 ? say`Plan the rest of the day` : say`Plan the day`}
            </Button>
            {search.searching && (
              <Button variant="outlined" onClick={() => stop.current?.()}>
                {say`Stop, keep this plan`}
              </Button>
            )}
            {planning.sessions.length > 0 && (
              <FormControlLabel
                control={<Checkbox size="small" checked={little} onChange={(_, on) => setLittle(on)} />}
                label={say`Change as little as possible of the plan in use`}
              />
            )}
          </Stack>
          {planning.sessions.length > 0 && <PaddockBoard plan={day.plan} onChange={(board) => change((plan) => ({ ...plan, board }))} />}
          {search.searching && <LinearProgress aria-label={say`Looking for a better plan`} />}
          {search.plan ? (
            <Proposal
              setup={setup}
              search={search}
              plan={search.plan}
              used={planning.sessions}
              names={names}
              now={now}
              onUse={(sessions) => {
                stop.current?.()
                setSearch(noSearch)
                change((plan) => withPlan(plan, sessions))
              }}
              onDrop={() => {
                stop.current?.()
                setSearch(noSearch)
              }}
            />
          ) : (
            planning.sessions.length > 0 && (
              <EditableBoard
                setup={setup}
                sessions={planning.sessions}
                locked={planning.locked}
                names={names}
                now={now}
                onUse={(sessions, locked) => change((plan) => withPlan(plan, sessions, locked))}
              />
            )
          )}
        </>
      )}
    </Stack>
  )
}

/** The link for a screen in the paddock, made, shown and withdrawn. */
const PaddockBoard = ({ plan, onChange }: { plan: DayPlan; onChange: (board: DayPlan['board']) => void }) => {
  const { board } = plan
  if (!board)
    return (
      <Box>
        <Button
          size="small"
          variant="outlined"
          onClick={() => onChange({ token: `${uuid()}${uuid()}`.replaceAll('-', ''), names: 'first' })}
        >
          {say`A board for the paddock`}
        </Button>
      </Box>
    )
  return (
    <Stack
      component="section"
      aria-label={say`Board in the paddock`}
      direction="row"
      useFlexGap
      spacing={4}
      sx={{ flexWrap: 'wrap', alignItems: 'flex-start' }}
    >
      <PhoneAddress path={`/board/${board.token}`} name={say`Board in the paddock`} size={104} />
      <PickField
        label={say`Names on it`}
        value={board.names}
        options={[
          ['first', say`first names`],
          ['whole', say`whole names`],
        ]}
        onPick={(names) => onChange({ ...board, names })}
        width={140}
      />
      <Button size="small" variant="text" onClick={() => onChange(null)}>
        {say`Withdraw the board’s link`}
      </Button>
    </Stack>
  )
}

/** The day with a plan in use: its run list is made from it; breaks that were entered by hand stay. */
const withPlan = (plan: DayPlan, sessions: PlannedSession[], locked: string[] = plan.planning.locked): DayPlan => {
  const made = slotsOfPlan(sessions, plan.planning.formats, (format) =>
    format.kind === 'briefing' ? say`everybody` : formatNames[format.kind],
  )
  const breaks = plan.slots.filter((slot) => slot.kind === 'break')
  return {
    ...plan,
    planning: { ...plan.planning, sessions, locked: locked.filter((key) => sessions.some((s) => sessionKey(s) === key)) },
    slots: [...made, ...breaks].sort((a, b) => (a.start < b.start ? -1 : a.start > b.start ? 1 : 0)),
  }
}

type Names = ReturnType<typeof useNames>['names']

/** What is wrong with the day, and how full it is: counted at once, before anything is searched. */
const Fits = ({ setup, names }: { setup: DaySetup; names: Names }) => {
  const wrong = useMemo(() => checkSetup(setup), [setup])
  const load = useMemo(() => (wrong.length === 0 ? countLoad(setup) : null), [setup, wrong])
  const nameOf = (formatId: string): string => {
    const format = setup.formats.find((f) => f.id === formatId)
    return format ? formatNames[format.kind] : formatId
  }
  if (wrong.length > 0)
    return (
      <Alert severity="warning" icon={false} role="note">
        {wrong.slice(0, 6).map((error) => {
          const words = describeError(error, staffLanguage)
          const id = String(error.data.id ?? '')
          const named = id ? words.message.replace(id, names.student(id)) : words.message
          return <div key={`${error.code} ${error.place}`}>{`${named} ${words.remedy}`}</div>
        })}
      </Alert>
    )
  if (!load || load.loads.length === 0) return <Typography>{say`Nobody gets anything yet: say above how often.`}</Typography>
  const full = load.fullest > FULL_LOAD
  return (
    <Box role="status" aria-label={say`How full the day is`}>
      <Stack direction="row" useFlexGap spacing={5} className="figures" sx={{ flexWrap: 'wrap' }}>
        {load.loads.map(({ what, share }) => (
          <Box key={what} component="span" sx={share > FULL_LOAD ? { color: 'warning.main', fontWeight: 640 } : {}}>
            {Number.isFinite(share) ? say`${loadNames[what]} ${Math.round(100 * share)}%` : say`${loadNames[what]}: none`}
          </Box>
        ))}
      </Stack>
      {full && (
        <Typography sx={{ color: 'warning.main', fontWeight: 640 }}>
          {say`This is more than fits, as a rule: expect that something is left out.`}
          {load.eases.length > 0 &&
            say` What would help most: ${load.eases
              .slice(0, 3)
              .map((e) => easeInWords(e, nameOf))
              .join('; ')}.`}
        </Typography>
      )}
    </Box>
  )
}

type ProposalProps = {
  setup: DaySetup
  search: DaySearch
  plan: DayTimetable
  used: readonly PlannedSession[]
  names: Names
  now: string | null
  onUse: (sessions: PlannedSession[]) => void
  onDrop: () => void
}

/** A plan that is offered: what it costs and leaves out, what it changes, and its board. */
const Proposal = ({ setup, search, plan, used, names, now, onUse, onDrop }: ProposalProps) => {
  const changes = useMemo(() => (used.length > 0 ? planChanges(used, plan.sessions) : []), [used, plan.sessions])
  const missing = plan.leftOut.reduce((sum, one) => sum + one.missing, 0)
  const people = Math.max(1, setup.students.length)
  const gap = search.bound ? Math.max(0, plan.cost - search.bound.cost) : null
  const parts = (Object.keys(plan.costs) as (keyof typeof plan.costs)[]).filter((part) => plan.costs[part] >= 0.5)
  return (
    <Stack spacing={3} component="section" aria-label={say`Proposed plan`}>
      <Box role="status" aria-label={say`What the plan does`}>
        <Typography sx={{ fontWeight: 640 }}>
          {missing === 0
            ? say`Everybody gets everything.`
            : say`Left out: ${plan.leftOut
                .slice(0, 8)
                .map((l) => `${names.student(l.studentId)} (${nameOfFormat(setup, l.formatId)}${l.missing > 1 ? ` ×${l.missing}` : ''})`)
                .join(', ')}${plan.leftOut.length > 8 ? ' …' : ''}.`}
        </Typography>
        <Typography className="figures">
          {say`Costs ${Math.round(plan.cost)} minutes: ${parts.map((part) => `${costNames[part]} ${Math.round(plan.costs[part])}`).join(', ')}.`}
          {gap !== null &&
            say` Proven: no plan is better by more than ${Math.round((100 * gap) / Math.max(1, plan.cost))}%, or ${Math.round(gap / people)} minutes a student.`}
        </Typography>
        {search.clash?.proven && (
          <Typography>
            {search.clash.rules.length > 0
              ? say`Proven: at least ${Math.ceil(search.clash.leftOut - 1e-6)} must be left out, because of ${search.clash.rules.map((r) => reliefNames[r]).join(', ')}.`
              : say`Proven: at least ${Math.ceil(search.clash.leftOut - 1e-6)} must be left out.`}
          </Typography>
        )}
        {search.clash && !search.clash.proven && (
          <Typography>{say`A plan without that was not found in ${SECONDS} s; nothing proves that there is none.`}</Typography>
        )}
        {search.reliefs.length > 0 && (
          <Typography>
            {say`Found, so that less may be possible: ${search.reliefs.map(({ what, leftOut: left }) => say`${reliefInWords(what, (id) => nameOfFormat(setup, id))}: ${left} left out`).join('; ')}.`}
          </Typography>
        )}
        {changes.length > 0 && (
          <Typography>
            {say`${changes.length} people change against the plan in use: ${changes
              .slice(0, 6)
              .map((c) => names.student(c.studentId))
              .join(', ')}${changes.length > 6 ? ' …' : ''}.`}
          </Typography>
        )}
      </Box>
      <Stack direction="row" spacing={2}>
        <Button variant="contained" onClick={() => onUse(plan.sessions)}>
          {say`Use this plan`}
        </Button>
        <Button variant="outlined" onClick={onDrop}>
          {say`Drop it`}
        </Button>
      </Stack>
      <DayBoard setup={setup} sessions={plan.sessions} names={names} now={now} />
    </Stack>
  )
}

type EditableProps = {
  setup: DaySetup
  sessions: readonly PlannedSession[]
  locked: readonly string[]
  names: Names
  now: string | null
  onUse: (sessions: PlannedSession[], locked: string[]) => void
}

/** The plan in use, changed by hand: each change is kept at once, and told with what it breaks and costs. */
const EditableBoard = ({ setup, sessions, locked, names, now, onUse }: EditableProps) => {
  const [chosen, setChosen] = useState<string | null>(null)
  const [before, setBefore] = useState<number | null>(null)
  const judged = useMemo(() => judgePlan(setup, sessions), [setup, sessions])
  const session = sessions.find((s) => sessionKey(s) === chosen)
  const put = (key: string, next: PlannedSession | null): void => {
    setBefore(judged.cost)
    const kept = sessions.flatMap((s) => (sessionKey(s) === key ? (next ? [next] : []) : [s]))
    setChosen(next ? sessionKey(next) : null)
    onUse(kept, [...locked])
  }
  const inDay = (one: PlannedSession): boolean => one.start >= setup.from && one.end <= setup.to
  const move = (key: string, minutes: number): void => {
    const one = sessions.find((s) => sessionKey(s) === key)
    const next = one && movedBy(one, minutes)
    if (next && inDay(next)) put(key, next)
  }
  const nameOf = (id: string): string =>
    [names.student(id), names.instructor(id)].find((name) => name !== id) ?? (names.car(id) === id ? id : say`car ${names.car(id)}`)
  return (
    <Stack spacing={2}>
      {(before !== null || judged.broken.length > 0) && <EditJudged judged={judged} before={before ?? judged.cost} nameOf={nameOf} />}
      {session ? (
        <SessionEditor
          setup={setup}
          session={session}
          locked={locked.includes(chosen ?? '')}
          names={names}
          onChange={(next) => chosen !== null && inDay(next) && put(chosen, next)}
          onRemove={() => chosen !== null && put(chosen, null)}
          onLock={(on) => chosen !== null && onUse([...sessions], on ? [...locked, chosen] : locked.filter((key) => key !== chosen))}
        />
      ) : (
        <Typography variant="text" color="text.secondary">
          {say`Choose a session to change or lock it; drag it, or move it by the arrow keys.`}
        </Typography>
      )}
      <DayBoard
        setup={setup}
        sessions={sessions}
        names={names}
        now={now}
        chosen={chosen}
        locked={locked}
        onChoose={setChosen}
        onMove={move}
      />
    </Stack>
  )
}

const nameOfFormat = (setup: DaySetup, formatId: string): string => {
  const format = setup.formats.find((f) => f.id === formatId)
  return format ? formatNames[format.kind] : formatId
}
