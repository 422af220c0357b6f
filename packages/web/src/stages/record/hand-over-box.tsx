import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { formatDate, handOver } from '@ochote/core'
import { useMemo, useState } from 'react'
import { say, staffLanguage } from '../../language/say.ts'
import type { LogbookPage } from './logbook-page.ts'

/** Notes for the next instructor, on half a page: made from the record, and open to a person's edits. */
export const HandOverBox = ({ record, book, tell, nameOf }: LogbookPage) => {
  const { student, runs } = record
  const made = useMemo(
    () =>
      handOver(
        {
          name: student.name,
          level: student.level,
          talk: student.talk,
          goals: student.profile.goals,
          worries: student.profile.worries,
          runs: runs.length,
          laps: runs.reduce((sum, r) => sum + r.laps, 0),
          days: new Set(runs.map((r) => r.date)).size,
          fastestPace: Math.max(...runs.map((r) => r.settings.pace)),
          focus: book.focus,
          rates: book.rates,
          standings: book.standings,
          gaps: book.gaps,
          safety: book.safety,
          nameOf,
        },
        staffLanguage,
      ),
    [student, runs, book, nameOf],
  )
  const kept = book.state.handOver
  const [draft, setDraft] = useState<string | null>(null)
  const drivenSince = kept ? runs.filter((r) => r.startedAt > kept.at).length : 0
  return (
    <Box component="section" aria-label={say`Hand-over`} sx={{ borderLeft: 'note', borderColor: 'divider', pl: 4 }}>
      <Typography variant="head" component="h3" color="text.secondary">
        {kept
          ? say`For the next instructor, written ${formatDate(kept.at.slice(0, 10), staffLanguage)}`
          : say`For the next instructor, made from the record`}
      </Typography>
      {draft === null ? (
        <>
          {(kept?.text ?? made).split('\n').map((line) => (
            <Typography key={line} variant="text" sx={{ mt: 1 }}>
              {line}
            </Typography>
          ))}
          {drivenSince > 0 && (
            <Typography
              variant="text"
              color="warning.main"
            >{say`${drivenSince} ${drivenSince === 1 ? say`run` : say`runs`} since this was written.`}</Typography>
          )}
          <Stack direction="row" spacing={2} sx={{ mt: 2 }} className="no-print">
            <Button size="small" variant="outlined" onClick={() => setDraft(kept?.text ?? made)}>
              {say`Rewrite`}
            </Button>
            {kept && (
              <Button size="small" variant="outlined" onClick={() => tell({ kind: 'hand-over', text: null })}>
                {say`Back to the one from the record`}
              </Button>
            )}
          </Stack>
        </>
      ) : (
        <Stack spacing={2} sx={{ mt: 1 }}>
          <TextField
            multiline
            minRows={6}
            maxRows={14}
            variant="outlined"
            label={say`Hand-over`}
            value={draft}
            onChange={(e) => setDraft(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 2400 } }}
          />
          <Stack direction="row" spacing={2}>
            <Button
              size="small"
              variant="contained"
              disabled={draft.trim() === ''}
              onClick={() => {
                tell({ kind: 'hand-over', text: draft.trim() })
                setDraft(null)
              }}
            >
              {say`Save`}
            </Button>
            <Button size="small" variant="outlined" onClick={() => setDraft(null)}>
              {say`Cancel`}
            </Button>
          </Stack>
        </Stack>
      )}
    </Box>
  )
}
