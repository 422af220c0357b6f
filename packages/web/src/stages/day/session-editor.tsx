import { Box, Button, Stack, Typography } from '@mui/material'
import type { DaySetup, Judged, PlannedSession } from '@ochote/core'
import { movedBy } from '@ochote/core'
import { say } from '../../language/say.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { brokenNames, formatName } from './plan-words.ts'

const NOBODY = 'nobody'

/** How far one touch or key moves a session (min). */
export const STEP_MIN = 5

type Props = {
  setup: DaySetup
  session: PlannedSession
  /** Sessions of its kind with which it can change places. */
  others: readonly PlannedSession[]
  locked: boolean
  /** What has begun stays as it is. */
  driven: boolean
  names: { student: (id: string) => string; instructor: (id: string) => string; car: (id: string) => string }
  onChange: (next: PlannedSession) => void
  onExchange: (other: PlannedSession) => void
  onRemove: () => void
  onLock: (locked: boolean) => void
}

/** The session that was chosen on the board: its time, instructor and cars, each changed by a touch or a key. */
export const SessionEditor = ({ setup, session, others, locked, driven, names, onChange, onExchange, onRemove, onLock }: Props) => {
  const format = setup.formats.find((f) => f.id === session.formatId)
  const what = format ? formatName(format) : session.formatId
  const stays = locked || driven
  const move = (by: number): void => onChange(movedBy(session, by))
  return (
    <Box component="section" aria-label={say`Chosen on the board`} sx={{ borderLeft: 'note', borderColor: 'primary.main', pl: 3, py: 1 }}>
      <Typography sx={{ fontWeight: 640 }} className="figures">
        {`${session.start}–${session.end} ${what}: ${session.seats.map((seat) => names.student(seat.studentId)).join(', ')}`}
      </Typography>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'flex-end', mt: 1 }}>
        <Button size="small" variant="outlined" disabled={stays} onClick={() => move(-STEP_MIN)}>
          {say`5 min earlier`}
        </Button>
        <Button size="small" variant="outlined" disabled={stays} onClick={() => move(STEP_MIN)}>
          {say`5 min later`}
        </Button>
        {format?.instructor && (
          <PickField
            label={say`Instructor`}
            value={session.instructorId ?? 'nobody'}
            disabled={stays}
            options={[
              ...(session.instructorId === null ? [['nobody', say`nobody`] as const] : []),
              ...setup.instructors.map((i) => [i.id, names.instructor(i.id)] as const),
            ]}
            onPick={(instructorId) => onChange({ ...session, instructorId: instructorId === 'nobody' ? null : instructorId })}
            width={190}
          />
        )}
        {format?.cars === 'each' &&
          session.seats.map((seat, k) => (
            <PickField
              key={seat.studentId}
              label={session.seats.length === 1 ? say`Car` : say`Car of ${names.student(seat.studentId)}`}
              value={seat.carId ?? 'none'}
              disabled={stays}
              options={[
                ...(seat.carId === null ? [['none', say`none`] as const] : []),
                ...setup.cars.map((c) => [c.id, names.car(c.id)] as const),
              ]}
              onPick={(carId) =>
                onChange({ ...session, seats: session.seats.with(k, { ...seat, carId: carId === 'none' ? null : carId }) })
              }
              width={session.seats.length === 1 ? 90 : 150}
            />
          ))}
        {others.length > 0 && (
          <PickField
            label={say`Change places with`}
            value={NOBODY}
            disabled={stays}
            options={[
              [NOBODY, say`choose`] as const,
              ...others.map(
                (o, k) => [String(k), `${o.start} ${o.seats.map((seat) => names.student(seat.studentId)).join(', ')}`] as const,
              ),
            ]}
            onPick={(k) => k !== NOBODY && onExchange(others[Number(k)])}
            width={190}
          />
        )}
        <Button size="small" variant="outlined" aria-pressed={locked} disabled={driven} onClick={() => onLock(!locked)}>
          {locked ? say`Locked: let it move` : say`Lock it here`}
        </Button>
        <Button size="small" variant="text" disabled={stays} onClick={onRemove}>
          {say`Take it out`}
        </Button>
      </Stack>
      <Typography variant="text" color="text.secondary">
        {say`Arrow keys on the board move it too. What is locked stays where it is when the day is planned again.`}
      </Typography>
    </Box>
  )
}

/** What a changed plan costs more than before, and every rule that it breaks. */
export const EditJudged = ({ judged, before, nameOf }: { judged: Judged; before: number; nameOf: (id: string) => string }) => {
  const difference = Math.round(judged.cost - before)
  return (
    <Box role="status" aria-label={say`What the change does`}>
      {judged.broken.length === 0 ? (
        <Typography>
          {difference === 0
            ? say`It fits, and costs no more.`
            : difference > 0
              ? say`It fits, and costs ${difference} minutes more.`
              : say`It fits, and costs ${-difference} minutes less.`}
        </Typography>
      ) : (
        <Box component="ul" sx={{ m: 0, pl: 4, color: 'warning.main', fontWeight: 600 }}>
          {[...new Set(judged.broken.map((b) => say`${b.at} ${nameOf(b.who)}: ${brokenNames[b.rule]}`))].slice(0, 8).map((words) => (
            <li key={words}>{words}</li>
          ))}
        </Box>
      )}
    </Box>
  )
}
