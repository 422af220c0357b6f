import { Box, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import type { StudentRecord } from '@ochote/contract'
import type { Tally } from '@ochote/core'
import { say } from '../../language/say.ts'
import { mistakeName } from '../../shared/language/staff-words.ts'
import { RowTable } from '../../shared/row-table.tsx'

type Props = { seen: StudentRecord['seen']; runs: StudentRecord['runs']; tallies: readonly Tally[]; nameOf: (cornerId: string) => string }

/** Mistakes by corner over runs: a column a run, bars for how often a log showed it, dots for what was seen from the seat. */
export const MistakeGrid = ({ seen, runs, tallies, nameOf }: Props) => {
  if (tallies.length === 0) return null
  return (
    <Box component="section" aria-label={say`Mistakes by corner over runs`}>
      <Typography variant="head" component="h3" gutterBottom>
        {say`Mistakes by corner over runs`}
      </Typography>
      <RowTable aria-label={say`By corner and run`}>
        <TableHead>
          <TableRow>
            <TableCell>{say`Corner`}</TableCell>
            <TableCell>{say`Mistake`}</TableCell>
            {runs.map((run) => (
              <TableCell key={run.id} align="center" className="figures">
                {`${run.date.slice(8, 10)}.${run.date.slice(5, 7)}.`}
              </TableCell>
            ))}
            <TableCell align="right">{say`All`}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {tallies.slice(0, 12).map((tally) => (
            <TableRow key={`${tally.cornerId}${tally.code}`}>
              <TableCell sx={{ fontWeight: 600 }}>{nameOf(tally.cornerId)}</TableCell>
              <TableCell>{mistakeName(tally.code)}</TableCell>
              {runs.map((run) => (
                <TableCell key={run.id} align="center">
                  <Cell seen={seen.filter((s) => s.runId === run.id && s.cornerId === tally.cornerId && s.code === tally.code)} />
                </TableCell>
              ))}
              <TableCell align="right" className="figures">
                {tally.count}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </RowTable>
      <Typography variant="text" color="text.secondary" sx={{ mt: 1 }}>
        {say`Bar: one for each lap on which the log shows it. Ring: logged in the car. Both in one lap are one mistake.`}
      </Typography>
    </Box>
  )
}

const Cell = ({ seen }: { seen: StudentRecord['seen'] }) => {
  const log = seen.filter((s) => s.by !== 'hand').length
  const hand = seen.filter((s) => s.by !== 'log').length
  return (
    <Stack
      direction="row"
      spacing={1}
      role="img"
      sx={{ justifyContent: 'center', alignItems: 'center', minHeight: 16 }}
      aria-label={say`${log} in the log, ${hand} by hand`}
    >
      {Array.from({ length: Math.min(log, 8) }, (_, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the bars are alike
        <Box key={`l${i}`} sx={{ width: 4, height: 14, backgroundColor: 'text.primary' }} />
      ))}
      {Array.from({ length: Math.min(hand, 4) }, (_, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the rings are alike
        <Box key={`h${i}`} sx={{ width: 9, height: 9, borderRadius: '50%', border: 'strong', borderColor: 'text.primary' }} />
      ))}
    </Stack>
  )
}
