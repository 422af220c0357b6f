import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Stack, Typography } from '@mui/material'
import { api, type LogPreview, type Run } from '@ochote/contract'
import { type LogMapping, mappingOf, missingChannels } from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { debriefQuery, queryClient, runQuery } from '../../data/api/queries.ts'
import { inside, say } from '../../language/say.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { LogSending, type LogStep, useLogSending } from '../../shared/log-sending.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { channelNames, LogColumns } from './log-columns.tsx'

/** A guess this sure is taken without asking. */
const SURE = 0.75

/** True if a file can be read without a person choosing its columns. */
const isPlain = (look: LogPreview): boolean =>
  look.form !== 'table' ||
  (look.guess.every((g) => g.sure >= SURE && g.speaksFor === null) &&
    missingChannels(mappingOf(look.guess)).length === 0 &&
    look.guess.length === look.columns.length)

/** Gives a run its log: a file is looked at first; where its columns are not plain, or a log is there already, a person decides. */
export const LogUpload = ({ run, hasLog }: { run: Run; hasLog: boolean }) => {
  const [asked, setAsked] = useState<{ file: File; look: LogPreview } | null>(null)
  const { step, run: sending } = useLogSending()
  const upload = useMutation({
    mutationFn: ({ file, mapping, add }: { file: File; mapping?: LogMapping; add: boolean }) =>
      sending((reading, onSent) =>
        call(api.uploadLog, {
          params: { runId: run.id },
          query: { name: file.name, reading, ...(mapping ? { mapping: JSON.stringify(mapping) } : {}), ...(add ? { add: 'true' } : {}) },
          file,
          onSent,
        }),
      ),
    onSuccess: (debrief) => {
      setAsked(null)
      queryClient.removeQueries({ queryKey: ['runs', 'one', run.id, 'laps'] })
      queryClient.removeQueries({ queryKey: ['runs', 'one', run.id, 'sheet'] })
      queryClient.setQueryData(debriefQuery(run.id).queryKey, debrief)
      void queryClient.invalidateQueries({ queryKey: runQuery(run.id).queryKey, exact: true })
      void queryClient.invalidateQueries({ queryKey: ['students'] })
    },
  })
  const look = useMutation({
    mutationFn: (file: File) => sending((reading, onSent) => call(api.lookAtLog, { query: { reading }, file, onSent })),
    onSuccess: (found, file) => {
      // A log that is there is never replaced without a word.
      if (hasLog || !(isPlain(found) || found.remembered)) setAsked({ file, look: found })
      else upload.mutate({ file, add: false, ...(found.remembered ? { mapping: found.remembered } : {}) })
    },
  })
  return (
    <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
      <ProblemNote error={look.error ?? (asked ? null : upload.error)} />
      {step && !asked ? (
        <LogSending step={step} />
      ) : (
        <FileChoice
          label={say`Add a log file`}
          accept=".csv,.txt,.tsv,.gpx,.nmea,.log,.jsonl,.ndjson,.gz"
          file={null}
          onChoose={(file) => {
            if (!file) return
            upload.reset()
            look.mutate(file)
          }}
        />
      )}
      {asked && (
        <Mapping
          {...asked}
          hasLog={hasLog}
          error={upload.error}
          step={step}
          onRead={(mapping, add) => upload.mutate({ file: asked.file, add, ...(mapping ? { mapping } : {}) })}
          onCancel={() => setAsked(null)}
        />
      )}
    </Stack>
  )
}

type MappingProps = {
  file: File
  look: LogPreview
  hasLog: boolean
  error: Error | null
  step: LogStep | null
  onRead: (mapping: LogMapping | undefined, add: boolean) => void
  onCancel: () => void
}

/** Which column is what, in which unit; guessed, or as it was said last time. */
const Mapping = ({ file, look, hasLog, error, step, onRead, onCancel }: MappingProps) => {
  const [mapping, setMapping] = useState<LogMapping>(() => look.remembered ?? mappingOf(look.guess))
  const doubt = look.guess.find((g) => g.channel === 'speed')?.speaksFor
  const isTable = look.form === 'table'
  const missing = isTable ? missingChannels(mapping) : []
  const read = (add: boolean): void => onRead(isTable ? mapping : undefined, add)
  return (
    <Dialog open onClose={onCancel} maxWidth="md" fullWidth aria-labelledby="mapping-title">
      <DialogTitle id="mapping-title">{isTable ? say`Columns in ${file.name}` : file.name}</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 2 }}>
          {isTable
            ? say`${look.rows.toLocaleString('en')} rows, ${look.columns.length} columns. ${look.remembered ? say`Filled in as for the last file like it.` : say`Guessed from names, units and numbers.`} Time is required, and what tells the way: positions, local coordinates, or the distance in the lap. The more channels, the more the debrief can say.`
            : say`${look.rows.toLocaleString('en')} positions. ${hasLog ? say`The run has a log already: read this one instead, or add it as another part of the same run.` : ''}`}
        </Typography>
        {doubt && (
          <Typography color="error.main" sx={{ mb: 2 }}>
            {say`The speeds do not match the distance covered in the header’s unit; they match ${doubt}. Which is right?`}
          </Typography>
        )}
        {isTable && <LogColumns columns={look.columns} mapping={mapping} onMap={setMapping} />}
        {missing.length > 0 && (
          <Typography color="error.main" sx={{ mt: 2 }}>
            {say`Say which column is the ${missing.map((m) => inside(channelNames[m])).join(' and the ')}.`}
          </Typography>
        )}
        <ProblemNote error={error} />
      </DialogContent>
      <DialogActions>
        {step && <LogSending step={step} />}
        <Button onClick={onCancel}>{say`Cancel`}</Button>
        {hasLog && (
          <Button variant="outlined" disabled={step !== null || missing.length > 0} onClick={() => read(true)}>
            {say`Add to the log`}
          </Button>
        )}
        <Button variant="contained" disabled={step !== null || missing.length > 0} onClick={() => read(false)}>
          {hasLog ? say`Replace the log` : say`Read it`}
        </Button>
      </DialogActions>
    </Dialog>
  )
}
