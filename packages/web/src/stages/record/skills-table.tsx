import { Box, Button, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { SKILL_ASKS, type SkillStanding } from '@ochote/core'
import { inside, say, sayWhole } from '../../language/say.ts'
import { levelName, mistakeName, shareInWords, skillName } from '../../shared/language/staff-words.ts'
import { RowTable } from '../../shared/row-table.tsx'
import { WordHelp } from '../../shared/word-help.tsx'
import type { LogbookPage } from './logbook-page.ts'

/** Evidence of a skill in one line: the corners that meet the test, or the nearest ones. */
const shows = (s: SkillStanding, nameOf: (id: string) => string): string => {
  if (s.corners.length === 0) return say`no pass has told of it yet`
  const met = s.corners.filter((c) => c.met)
  const decisions = (met.length > 0 ? met : s.corners).slice(0, 2)
  return decisions.map((c) => `${nameOf(c.cornerId)} ${shareInWords(c.rate)}`).join(' · ')
}

/** Skills with what each asks, what the record shows, and whether a person confirmed it; the level that this amounts to. */
export const SkillsTable = ({ record, book, tell, nameOf }: LogbookPage) => {
  const { student } = record
  const { next, missing, heldBy } = book.level
  const ready = next !== null && missing.length === 0
  return (
    <Box component="section" aria-label={say`Skills and level`}>
      <Stack direction="row" spacing={4} sx={{ alignItems: 'baseline' }}>
        <Typography variant="head" component="h3">
          {say`Skills`}
        </Typography>
        <Typography variant="text" color="text.secondary" sx={{ flex: 1 }}>
          {say`Level: ${levelName(student.level)}. ${next === null ? say`There is none above it.` : ready ? say`All that “${levelName(next)}” asks is confirmed.` : say`For “${levelName(next)}”, an instructor still has to confirm ${missing.map((skill) => skillName(skill)).join(', ')}.`}${ready && heldBy ? say` Held by ${inside(mistakeName(heldBy))} in the last ten laps.` : ''}`}
          <WordHelp word="level" />
        </Typography>
        {ready && !heldBy && (
          <Button
            size="small"
            variant="contained"
            onClick={() => tell({ kind: 'level-set', level: next, why: say`Skills that it asks for are confirmed` })}
          >
            {say`Set the level to “${levelName(next)}”`}
          </Button>
        )}
      </Stack>
      <RowTable aria-label={say`Skills`}>
        <TableHead>
          <TableRow>
            <TableCell>{say`Skill`}</TableCell>
            <TableCell sx={{ width: 300 }}>{say`Asks for, on ${SKILL_ASKS.hits} of the last ${SKILL_ASKS.of} laps`}</TableCell>
            <TableCell align="right">{say`Corners`}</TableCell>
            <TableCell>{say`The record, by corner`}</TableCell>
            <TableCell align="right">{say`Instructor`}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {book.standings.map((s) => {
            const confirmed = book.state.confirmed.has(s.skill)
            const line = shows(s, nameOf)
            return (
              <TableRow key={s.skill}>
                <TableCell sx={{ fontWeight: 640, whiteSpace: 'nowrap' }}>{skillName(s.skill)}</TableCell>
                <TableCell>{sayWhole(s.asks)}</TableCell>
                <TableCell align="right" className="figures" sx={{ whiteSpace: 'nowrap' }}>
                  {say`${s.corners.filter((c) => c.met).length}, asks ${s.needed}`}
                </TableCell>
                <TableCell className="figures">
                  {s.shown && (
                    <Box component="span" sx={{ fontWeight: 680, mr: 2 }}>
                      {say`shown`}
                    </Box>
                  )}
                  {line}
                </TableCell>
                <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
                  {confirmed ? (
                    <>
                      {say`confirmed`}
                      <Button
                        size="small"
                        aria-label={say`Withdraw ${skillName(s.skill)}`}
                        onClick={() => tell({ kind: 'skill-withdrawn', skill: s.skill, why: '' })}
                      >
                        {say`Withdraw`}
                      </Button>
                    </>
                  ) : (
                    <Button
                      size="small"
                      variant={s.shown ? 'contained' : 'text'}
                      aria-label={say`Confirm ${skillName(s.skill)}`}
                      onClick={() => tell({ kind: 'skill-confirmed', skill: s.skill, shows: line.slice(0, 300) })}
                    >
                      {s.shown ? say`Confirm` : say`Confirm anyway`}
                    </Button>
                  )}
                </TableCell>
              </TableRow>
            )
          })}
        </TableBody>
      </RowTable>
      <Typography variant="text" color="text.secondary" sx={{ mt: 1 }}>
        {say`In brackets: the range that holds the true share nine times out of ten; few laps make it wide.`}
      </Typography>
    </Box>
  )
}
