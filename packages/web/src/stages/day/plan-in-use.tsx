import { Box, Button, Stack, Typography } from '@mui/material'
import type { DayPlan, Run } from '@ochote/contract'
import { type DaySetup, exchanged, type Judged, judgePlan, lineId, minutesOf, movedBy, type PlannedSession, sessionKey } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useRef, useState } from 'react'
import { v7 as uuid } from 'uuid'
import { boardLinkQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { PhoneAddress } from '../../shared/qr-address.tsx'
import { type BoardMarks, DayBoard } from './day-board.tsx'
import { brokenNames } from './plan-words.ts'
import { EditJudged, SessionEditor } from './session-editor.tsx'
import { type Names, nameIn } from './use-day-setup.ts'

/** The link for a screen in the paddock, made, shown and withdrawn. */
type BoardProps = { dayId: string; plan: DayPlan; onChange: (board: DayPlan['board']) => void }
export const PaddockBoard = ({ dayId, plan, onChange }: BoardProps) => {
  const { board } = plan
  const link = useQuery({
    ...boardLinkQuery(dayId, board?.token ?? ''),
    enabled: board !== null,
    refetchInterval: (q) => (q.state.data?.token ? false : 1000),
  })
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
      {link.data?.token && <PhoneAddress path={`/board/${link.data.token}`} name={say`Board in the paddock`} size={104} />}
      <ProblemNote error={link.error} />
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

type EditableProps = {
  setup: DaySetup
  sessions: readonly PlannedSession[]
  locked: readonly string[]
  /** The plan that people were told of. */
  told: readonly PlannedSession[] | null
  runs: readonly Pick<Run, 'slotId' | 'endedAt'>[]
  names: Names
  now: string | null
  onUse: (sessions: PlannedSession[], locked: string[]) => void
}

/** Sessions that have begun, and those in which everybody has driven. */
export const drivenSessions = (
  sessions: readonly PlannedSession[],
  runs: readonly Pick<Run, 'slotId' | 'endedAt'>[],
): Map<string, 'running' | 'done'> => {
  const bySlot = new Map(runs.flatMap((run) => (run.slotId === null ? [] : [[run.slotId, run] as const])))
  const found = new Map<string, 'running' | 'done'>()
  for (const session of sessions) {
    const own = session.seats.flatMap((seat) => bySlot.get(lineId(session, seat.studentId)) ?? [])
    if (own.length === 0) continue
    found.set(sessionKey(session), own.length === session.seats.length && own.every((run) => run.endedAt !== null) ? 'done' : 'running')
  }
  return found
}

/** What the board marks: sessions that break a rule, in words, and those that were announced as they are. */
const marksOf = (
  judged: Judged,
  sessions: readonly PlannedSession[],
  told: readonly PlannedSession[] | null,
  driven: BoardMarks['driven'],
  nameOf: (id: string) => string,
): BoardMarks => {
  const broken = new Map<string, string>()
  for (const { of, who, rule } of judged.broken)
    for (const key of of) broken.set(key, [broken.get(key), `${nameOf(who)}: ${brokenNames[rule]}`].filter(Boolean).join('; '))
  const withOf = new Map(told?.map((s) => [sessionKey(s), s.instructorId]))
  const asTold = sessions.filter((s) => withOf.has(sessionKey(s)) && withOf.get(sessionKey(s)) === s.instructorId)
  return { broken, told: told && new Set(asTold.map(sessionKey)), driven }
}

/** The session that a chosen one has become where somebody moved it or took a move back meanwhile: of the same people, at the nearest time. */
export const movedOn = (sessions: readonly PlannedSession[], before: PlannedSession | null): PlannedSession | undefined => {
  if (!before) return undefined
  const people = (one: PlannedSession): string =>
    one.seats
      .map((seat) => seat.studentId)
      .sort()
      .join()
  const away = (one: PlannedSession): number => Math.abs(minutesOf(one.start) - minutesOf(before.start))
  return sessions.filter((one) => one.formatId === before.formatId && people(one) === people(before)).sort((a, b) => away(a) - away(b))[0]
}

/** The plan in use, changed by hand: each change is kept at once, and told with what it breaks and costs. */
export const EditableBoard = ({ setup, sessions, locked, told, runs, names, now, onUse }: EditableProps) => {
  const [chosen, setChosen] = useState<string | null>(null)
  const [before, setBefore] = useState<number | null>(null)
  const judged = useMemo(() => judgePlan(setup, sessions), [setup, sessions])
  const driven = drivenSessions(sessions, runs)
  const stays = (key: string): boolean => locked.includes(key) || driven.has(key)
  const byKey = (key: string | null): PlannedSession | undefined => sessions.find((s) => sessionKey(s) === key)
  const seen = useRef<PlannedSession | null>(null)
  const found = byKey(chosen)
  seen.current = found ?? seen.current
  // One that was moved here is not drawn yet: nothing of it is offered until it is, so that no move is counted from an old place. One that
  // was there and is gone has been moved by somebody else, or by a step back.
  const wasThere = seen.current !== null && sessionKey(seen.current) === chosen
  const session = found ?? (wasThere ? movedOn(sessions, seen.current) : undefined)
  const key = session ? sessionKey(session) : null
  const use = (next: PlannedSession[]): void => {
    setBefore(judged.cost)
    onUse(next, [...locked])
  }
  const put = (key: string, next: PlannedSession | null): void => {
    setChosen(next ? sessionKey(next) : null)
    use(sessions.flatMap((s) => (sessionKey(s) === key ? (next ? [next] : []) : [s])))
  }
  const exchange = (key: string, otherKey: string): void => {
    const [one, other] = [byKey(key), byKey(otherKey)]
    if (!one || !other || stays(key) || stays(otherKey)) return
    setChosen(null)
    use(exchanged(sessions, one, other))
  }
  const inDay = (one: PlannedSession): boolean => one.start >= setup.from && one.end <= setup.to
  const move = (key: string, minutes: number): void => {
    const one = byKey(key)
    const next = one && movedBy(one, minutes)
    if (next && inDay(next)) put(key, next)
  }
  const nameOf = (id: string): string => nameIn(names, id)
  const marks = marksOf(judged, sessions, told, driven, nameOf)
  return (
    <Stack spacing={2}>
      {(before !== null || judged.broken.length > 0) && <EditJudged judged={judged} before={before ?? judged.cost} nameOf={nameOf} />}
      {session ? (
        <SessionEditor
          setup={setup}
          session={session}
          others={sessions.filter((s) => s !== session && s.formatId === session.formatId && !stays(sessionKey(s)))}
          locked={locked.includes(key ?? '')}
          driven={driven.has(key ?? '')}
          names={names}
          onChange={(next) => key !== null && inDay(next) && put(key, next)}
          onExchange={(other) => key !== null && exchange(key, sessionKey(other))}
          onRemove={() => key !== null && put(key, null)}
          onLock={(on) => key !== null && onUse([...sessions], on ? [...locked, key] : locked.filter((one) => one !== key))}
        />
      ) : (
        <Typography variant="text" color="text.secondary">
          {say`Choose a session to change or lock it. Drag it along to move it, onto another of its kind to change places, onto another instructor’s or car’s row to hand it over.`}
        </Typography>
      )}
      <DayBoard
        setup={setup}
        sessions={sessions}
        names={names}
        now={now}
        chosen={key}
        locked={locked}
        marks={marks}
        actions={{ onChoose: setChosen, onMove: move, onExchange: exchange, onChange: put }}
      />
      <Typography variant="text" color="text.secondary">
        {say`“!”: breaks a rule; dashed below: not announced; a thick right edge: locked; ▸ running, ✓ driven: stays.`}
      </Typography>
    </Stack>
  )
}
