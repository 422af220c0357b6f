import { Box, Button, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import type { HistoryRow } from '@ochote/contract'
import { cornerName } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { historyQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { SyncNote } from '../../shared/sync-note.tsx'
import { dayEventInWords } from './day-event-words.ts'
import { inShell } from './on-track.tsx'
import { runEventInWords, wallClock } from './run-words.ts'
import type { TrackDay } from './use-track-day.ts'

const PAGE = 100
/** Entries from before anybody drove. */
const preparation: ReadonlySet<HistoryRow['event']['kind']> = new Set([
  'acknowledged',
  'radio-heard',
  'quiz-answer',
  'recalled',
  'cone-report',
])

const HistoryScreen = ({ track }: { track: TrackDay }) => {
  const history = useQuery({ ...historyQuery(track.day.id), refetchInterval: 5000 })
  const [shown, setShown] = useState(PAGE)
  const nameOf = (cornerId: string): string => cornerName(track.plan.corners, cornerId)
  const wordsOf = ({ event }: HistoryRow): string =>
    'runId' in event && !('dayId' in event) ? runEventInWords(event, nameOf) : 'dayId' in event ? dayEventInWords(event, nameOf) : ''
  const [everything, setEverything] = useState(false)
  const rows = (history.data ?? []).filter((row) => everything || !preparation.has(row.event.kind))
  return (
    <Stack spacing={3}>
      <StageHead stage="Run">
        <Button size="small" variant="outlined" color="secondary" aria-pressed={everything} onClick={() => setEverything(!everything)}>
          {say`With the preparation`}
        </Button>
        <SyncNote />
      </StageHead>
      <ProblemNote error={history.error} />
      {history.isPending && <Reading what={say`Reading the history …`} />}
      {rows.length === 0 && !history.isPending && (
        <Typography>{say`Nothing has been logged in this day yet. What is touched in a run appears here.`}</Typography>
      )}
      {rows.length > 0 && (
        <RowTable aria-label={say`History of the day`}>
          <TableHead>
            <TableRow>
              {[say`When`, say`Who logged it`, say`About`, say`What`, say`Arrived`].map((name) => (
                <TableCell key={name}>{name}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.slice(0, shown).map((row) => (
              <TableRow key={row.id}>
                <TableCell className="figures">{wallClock(row.at)}</TableCell>
                <TableCell>{row.by ?? say`a device or a student’s link`}</TableCell>
                <TableCell>{row.studentName ?? say`the day`}</TableCell>
                <TableCell sx={row.undone ? { textDecoration: 'line-through', color: 'text.secondary' } : {}}>
                  {`${wordsOf(row)}${row.undone ? say` (taken back)` : ''}`}
                </TableCell>
                <TableCell className="figures" sx={{ color: 'text.secondary' }}>
                  {arrivedInWords(row)}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </RowTable>
      )}
      {rows.length > shown && (
        <Box>
          <Button
            variant="outlined"
            onClick={() => setShown(shown + PAGE)}
          >{say`Show ${Math.min(PAGE, rows.length - shown)} more of ${rows.length}`}</Button>
        </Box>
      )}
    </Stack>
  )
}

/** The time it reached the server, where that was later; and a clock that was corrected. */
const arrivedInWords = ({ at, receivedAt, clockAhead_s }: HistoryRow): string => {
  const late_s = (Date.parse(receivedAt) - Date.parse(at)) / 1000
  const words = late_s > 5 ? [say`${wallClock(receivedAt)}, ${Math.round(late_s)} s later`] : [say`at once`]
  if (clockAhead_s !== 0)
    words.push(say`its clock was ${Math.abs(Math.round(clockAhead_s))} s ${clockAhead_s > 0 ? say`ahead` : say`behind`}, corrected`)
  return words.join('; ')
}

/** The day's history: who logged what when. */
export const HistoryPage = inShell(HistoryScreen)
