import { Box, Button, Stack, Typography } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import { type DaySetup, judgePlan, movedBy, type PlannedSession, sessionKey } from '@ochote/core'
import { useMemo, useState } from 'react'
import { v7 as uuid } from 'uuid'
import { say } from '../../language/say.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { PhoneAddress } from '../../shared/qr-address.tsx'
import { DayBoard } from './day-board.tsx'
import { EditJudged, SessionEditor } from './session-editor.tsx'
import type { Names } from './use-day-setup.ts'

/** The link for a screen in the paddock, made, shown and withdrawn. */
export const PaddockBoard = ({ plan, onChange }: { plan: DayPlan; onChange: (board: DayPlan['board']) => void }) => {
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

type EditableProps = {
  setup: DaySetup
  sessions: readonly PlannedSession[]
  locked: readonly string[]
  names: Names
  now: string | null
  onUse: (sessions: PlannedSession[], locked: string[]) => void
}

/** The plan in use, changed by hand: each change is kept at once, and told with what it breaks and costs. */
export const EditableBoard = ({ setup, sessions, locked, names, now, onUse }: EditableProps) => {
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
