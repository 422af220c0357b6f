import { Box, Typography } from '@mui/material'
import type { StudentRecord } from '@ochote/contract'
import { type HomeAndTrack, homeAndTrack } from '@ochote/core'
import { say } from '../../language/say.ts'
import { shareInWords } from '../../shared/language/staff-words.ts'
import { lastRoundInWords, memoryGapsInWords } from '../../shared/memory-words.ts'

const percent = (share: number): string => `${Math.round(100 * share)}`

/** Whether training at home goes with fewer mistakes on the track, or that it cannot be told. */
export const homeInWords = ({ trained, others, difference }: HomeAndTrack): string => {
  if (difference === null) return say`Too little driven to compare corners that were trained at home with others.`
  const found = say`Without a mistake: ${shareInWords(trained)} passes at corners trained at home before, ${shareInWords(others)} at others; ${percent(difference.low)} to ${percent(difference.high)} points apart.`
  if (difference.low > 0) return say`${found} Fewer mistakes where it was trained; whether because of it cannot be told.`
  if (difference.high < 0) return say`${found} More mistakes where it was trained: often it is the hard corners that are.`
  return say`${found} That may be chance.`
}

/** The lap driven from memory at home, beside what is driven on the track. */
export const FromMemory = ({
  record,
  circuitId,
  nameOf,
}: {
  record: StudentRecord
  circuitId: string | undefined
  nameOf: (id: string) => string
}) => {
  const rounds = record.recall.filter((r) => r.circuitId === circuitId)
  const gaps = memoryGapsInWords(rounds, nameOf)
  return (
    <Box component="section" aria-label={say`Driven from memory`}>
      <Typography variant="head" component="h3" gutterBottom>
        {say`Driven from memory`}
      </Typography>
      {rounds.length === 0 ? (
        <Typography variant="text">{say`No round yet. The student’s own page has it, on a phone or at a desk.`}</Typography>
      ) : (
        <>
          <Typography variant="text">{say`${rounds.length} rounds; the last: ${lastRoundInWords(rounds)}.`}</Typography>
          <Typography variant="text">{gaps === '' ? say`Nothing is open.` : say`Still to learn: ${gaps}.`}</Typography>
          <Typography variant="text" color="text.secondary">
            {homeInWords(
              homeAndTrack(
                record.passes.filter((p) => p.circuitId === circuitId),
                rounds,
                new Map(record.runs.map((r) => [r.id, r.startedAt])),
              ),
            )}
          </Typography>
        </>
      )}
    </Box>
  )
}
