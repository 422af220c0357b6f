import { Box, Button, Stack, Typography } from '@mui/material'
import { api, type Portal } from '@ochote/contract'
import { formatDate, formatLapTime } from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { useRef } from 'react'
import { Link } from 'react-router'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { portalQuery, queryClient } from '../../data/api/queries.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import type { StudentWords } from '../../shared/language/student-words.ts'
import { LogSending, useLogSending } from '../../shared/log-sending.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** Own drives with what came back to them, and sending a log in from afar. */
export const OwnDrives = ({ token, portal, words }: { token: string; portal: Portal; words: StudentWords }) => {
  const { phone } = words
  const { step, run: sending } = useLogSending()
  /** One id a file: sent again after a failure it is stored once. */
  const ids = useRef(new Map<string, string>())
  const send = useMutation({
    mutationFn: (file: File) =>
      sending((reading, onSent) => {
        const key = `${file.name} ${file.size} ${file.lastModified}`
        const id = ids.current.get(key) ?? uuid()
        ids.current.set(key, id)
        return call(api.portalSendLog, {
          params: { token },
          query: { id, name: file.name.slice(0, 120), date: new Date(file.lastModified).toISOString().slice(0, 10), reading },
          file,
          onSent,
        })
      }),
    onSuccess: (next) => {
      queryClient.setQueryData(portalQuery(token).queryKey, next)
    },
  })
  return (
    <Stack component="section" aria-label={phone.drives} spacing={2}>
      <Typography variant="head">{phone.drives}</Typography>
      <Typography color="text.secondary">{phone.drivesNote}</Typography>
      {portal.drives.map((drive) => (
        <Box key={drive.runId} component="article" aria-label={drive.date} sx={{ borderBottom: 'hair', borderColor: 'divider', py: 2 }}>
          <Typography className="figures" sx={{ fontWeight: 620 }}>
            {`${formatDate(drive.date, words.code)} · ${drive.best_s === null ? words.sheet.noLog : words.sheet.summary(drive.laps, formatLapTime(drive.best_s))}`}
          </Typography>
          <Stack direction="row" spacing={3} useFlexGap sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
            <Button component={Link} to={`/s/${token}/drives/${drive.runId}`} variant="outlined">
              {phone.lookBack}
            </Button>
            {drive.sheet && (
              <Button component={Link} to={`/sheet/${drive.sheet}`} variant="outlined">
                {phone.sheet}
              </Button>
            )}
            <Typography variant="text" color="text.secondary">
              {drive.words > 0 ? phone.wordsToIt(drive.words) : drive.submitted && !drive.sheet ? phone.notAnswered : ''}
            </Typography>
          </Stack>
        </Box>
      ))}
      <ProblemNote error={send.error} language={words.code} />
      {step ? (
        <LogSending step={step} words={phone.logSteps} />
      ) : (
        <FileChoice
          label={phone.sendLog}
          accept=".csv,.txt,.tsv,.gpx,.nmea,.log,.jsonl,.ndjson,.gz"
          file={null}
          onChoose={(file) => {
            if (file) send.mutate(file)
          }}
        />
      )}
      {send.isSuccess && <Typography role="status">{phone.logSent}</Typography>}
    </Stack>
  )
}
