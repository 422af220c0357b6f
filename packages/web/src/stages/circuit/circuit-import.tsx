import { Button, Checkbox, FormControlLabel, MenuItem, Stack, TextField, Typography } from '@mui/material'
import { api, type ImportedCircuit } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { ApiProblem, call } from '../../data/api/api-client.ts'
import { circuitsQuery, queryClient } from '../../data/api/queries.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { DrawCircuit } from './draw-circuit.tsx'
import { importedInWords } from './imported-words.ts'

/**
 * Imports a circuit: a survey, driven laps to average, or a line drawn over a picture. A file that is none is refused with the place and the remedy;
 * one that holds several tracks is asked about.
 */
export const CircuitImport = ({ keeps, onImported }: { keeps?: string; onImported?: (circuit: ImportedCircuit) => void }) => {
  const [file, setFile] = useState<File | null>(null)
  const [kind, setKind] = useState<'survey' | 'laps' | 'drawing'>('survey')
  const [name, setName] = useState('')
  const [width, setWidth] = useState('')
  const [track, setTrack] = useState('')
  const [reverse, setReverse] = useState(false)
  const [open, setOpen] = useState(false)
  const [swapped, setSwapped] = useState(false)
  const [carry, setCarry] = useState(false)
  const send = useMutation({
    mutationFn: (chosen: File) => {
      const called = name || chosen.name.replace(/\.[^.]+$/, '')
      return kind === 'laps'
        ? call(api.circuitFromLaps, { query: { name: called, width_m: width === '' ? undefined : Number(width) }, file: chosen })
        : call(api.importCircuit, {
            query: {
              name: called,
              width_m: width === '' ? undefined : Number(width),
              track: track === '' ? undefined : track,
              reverse: reverse ? 'true' : undefined,
              open: open ? 'true' : undefined,
              swapped: swapped ? 'true' : undefined,
              keeps: carry ? keeps : undefined,
            },
            file: chosen,
          })
    },
    onSuccess: (circuit) => {
      void queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey })
      onImported?.(circuit)
    },
  })
  const several = send.error instanceof ApiProblem && send.error.problem.code === 'circuit-several-tracks'
  return (
    <Stack spacing={3}>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <TextField
          select
          label="From"
          value={kind}
          onChange={(e) => setKind(e.target.value as 'survey' | 'laps' | 'drawing')}
          sx={{ width: 190 }}
        >
          <MenuItem value="survey">a surveyed line</MenuItem>
          <MenuItem value="laps">driven laps, averaged</MenuItem>
          <MenuItem value="drawing">a drawing over a picture</MenuItem>
        </TextField>
        {kind !== 'drawing' && (
          <>
            <FileChoice
              label={kind === 'laps' ? 'Choose a log with laps' : 'Choose a circuit file'}
              accept={kind === 'laps' ? '.csv,.txt,.gpx,.kml,.nmea,.json' : '.csv,.txt,.geojson,.json,.gpx,.kml'}
              file={file}
              onChoose={setFile}
            />
            <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} sx={{ width: 150 }} />
            <TextField
              label={kind === 'laps' ? 'Half width, if known (m)' : 'Half width if missing (m)'}
              type="number"
              value={width}
              onChange={(e) => setWidth(e.target.value)}
              sx={{ width: 180 }}
            />
            {(several || track !== '') && kind === 'survey' && (
              <TextField
                label="Which track (name or number)"
                value={track}
                onChange={(e) => setTrack(e.target.value)}
                sx={{ width: 210 }}
              />
            )}
            <Button variant="contained" disabled={!file || send.isPending} onClick={() => file && send.mutate(file)}>
              {send.isPending ? 'Importing …' : 'Import'}
            </Button>
          </>
        )}
      </Stack>
      {kind === 'survey' && (
        <Stack direction="row" spacing={4}>
          <FormControlLabel
            control={<Checkbox size="small" checked={reverse} onChange={(_, on) => setReverse(on)} />}
            label="Driven in the other direction"
          />
          <FormControlLabel
            control={<Checkbox size="small" checked={open} onChange={(_, on) => setOpen(on)} />}
            label="Point to point, not a lap"
          />
          <FormControlLabel
            control={<Checkbox size="small" checked={swapped} onChange={(_, on) => setSwapped(on)} />}
            label="Latitude and longitude are swapped"
          />
          {keeps !== undefined && (
            <FormControlLabel
              control={<Checkbox size="small" checked={carry} onChange={(_, on) => setCarry(on)} />}
              label="Re-survey of this circuit: keep names, corners and hazards"
            />
          )}
        </Stack>
      )}
      {kind === 'drawing' && <DrawCircuit {...(onImported ? { onImported } : {})} />}
      <ProblemNote error={send.error} />
      {send.data && <Typography role="status">{importedInWords(send.data)}</Typography>}
    </Stack>
  )
}
