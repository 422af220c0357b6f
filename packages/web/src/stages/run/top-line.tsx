import { Box, Stack, Typography } from '@mui/material'
import type { Run } from '@ochote/contract'
import { type LiveDay, useLiveValue } from '../../data/live/live-store.ts'
import { say } from '../../language/say.ts'
import { speedInWords } from '../../language/staff-units.ts'
import { SyncNote } from '../../shared/sync-note.tsx'
import { clockInWords, paceName } from './run-words.ts'
import type { Position } from './use-position.ts'

/** Lap, laps left, clock, speed and who drives; and how positions and this device stand. */
export const TopLine = ({
  run,
  position,
  live,
  words,
  left,
  pace,
}: {
  run: Run
  position: Position | null
  live: LiveDay
  words: string
  left: number | null
  pace: number
}) => {
  const connected = useLiveValue(live, (l) => l.connected())
  const finished = position?.fix.inPits === true
  const silent = position !== null && position.silent_s > 2 && !finished
  const receiver =
    position === null
      ? say`Waiting for a position${connected ? '' : say` · no server`}`
      : silent
        ? say`No position: following the plan${connected ? '' : say` · no server`}`
        : position.fix.fault
          ? troubleWords[position.fix.fault]
          : run.simulation
            ? say`Simulated logger`
            : say`Receiver`
  return (
    <Stack direction="row" spacing={5} useFlexGap sx={{ alignItems: 'baseline', flexWrap: 'wrap', rowGap: 0 }}>
      <Typography component="h1" sx={{ fontSize: 'size.lead', fontWeight: 700, fontStretch: '84%' }}>
        {finished ? say`In the pits` : words}
      </Typography>
      {!finished && left !== null && left > 0 && (
        <Typography className="figures" sx={{ fontSize: 'size.text' }}>
          {say`${left} left`}
        </Typography>
      )}
      <Typography className="figures" sx={{ fontSize: 'size.text' }} aria-label={say`Run clock`}>
        {clockInWords(position?.fix.time_s ?? 0)}
      </Typography>
      <Typography className="figures" sx={{ fontSize: 'size.text' }}>
        {position && !finished ? speedInWords(position.fix.speed_mps) : '–'}
      </Typography>
      <Typography sx={{ fontSize: 'size.note' }}>{say`${run.studentName} · pace ${paceName(pace)}`}</Typography>
      <Box sx={{ flex: 1 }} />
      <SyncNote before={receiver} urgent={silent} />
    </Stack>
  )
}

/** Fault of a receiver, in a word for the car. */
const troubleWords = {
  late: say`Positions out of order: left out`,
  future: say`Receiver clock jumping: ignored`,
  elsewhere: say`Receiver is not on this circuit`,
  frozen: say`Receiver frozen: following the plan`,
  slow: say`One position a second: laps only, no marks`,
} as const

/** Takes the place of the next call where there is but one thing to do. */
export const StopBar = ({ why }: { why: string }) => (
  <Box
    role="alert"
    sx={{
      minHeight: 118,
      px: 4,
      py: 2,
      backgroundColor: 'error.main',
      color: 'var(--ground)',
      display: 'flex',
      flexDirection: 'column',
      justifyContent: 'center',
    }}
  >
    <Box sx={{ fontSize: 'size.head', fontWeight: 760, fontStretch: '84%', lineHeight: 1.05 }}>{say`Come in`}</Box>
    <Box sx={{ fontSize: 'size.text' }}>{why}</Box>
  </Box>
)
