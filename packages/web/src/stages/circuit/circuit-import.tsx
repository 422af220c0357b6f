import { Button, Stack, TextField, Typography } from '@mui/material'
import { api, type CircuitSummary } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../app/api-client.ts'
import { circuitsQuery, queryClient } from '../../app/queries.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** Imports a circuit file; a file that is no circuit is refused with the place and the remedy. */
export const CircuitImport = ({ onImported }: { onImported?: (circuit: CircuitSummary) => void }) => {
  const [file, setFile] = useState<File | null>(null)
  const [name, setName] = useState('')
  const [width, setWidth] = useState('')
  const send = useMutation({
    mutationFn: (chosen: File) =>
      call(api.importCircuit, {
        query: { name: name || chosen.name.replace(/\.[^.]+$/, ''), width_m: width === '' ? undefined : Number(width) },
        file: chosen,
      }),
    onSuccess: (circuit) => {
      void queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey })
      onImported?.(circuit)
    },
  })
  return (
    <Stack spacing={1.5}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <FileChoice label="Choose a circuit file" accept=".csv,.geojson,.json,.gpx" file={file} onChoose={setFile} />
        <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} sx={{ width: 180 }} />
        <TextField
          label="Half width if missing (m)"
          type="number"
          value={width}
          onChange={(e) => setWidth(e.target.value)}
          sx={{ width: 230 }}
        />
        <Button variant="contained" disabled={!file || send.isPending} onClick={() => file && send.mutate(file)}>
          {send.isPending ? 'Importing …' : 'Import'}
        </Button>
      </Stack>
      <ProblemNote error={send.error} />
      {send.data && (
        <Typography role="status">{`${send.data.name}: ${Math.round(send.data.length_m)} m, ${send.data.corners} ${send.data.corners === 1 ? 'corner' : 'corners'} found.`}</Typography>
      )}
    </Stack>
  )
}
