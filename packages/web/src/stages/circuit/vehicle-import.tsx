import { Button, Stack, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { queryClient, vehiclesQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** Imports a vehicle file. */
export const VehicleImport = () => {
  const [file, setFile] = useState<File | null>(null)
  const send = useMutation({
    mutationFn: (chosen: File) => call(api.importVehicles, { file: chosen }),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: vehiclesQuery.queryKey }),
  })
  return (
    <Stack spacing={3}>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'flex-end' }}>
        <FileChoice label={say`Choose a vehicle file`} accept=".json" file={file} onChoose={setFile} />
        <Button variant="contained" disabled={!file || send.isPending} onClick={() => file && send.mutate(file)}>
          {say`Import`}
        </Button>
      </Stack>
      <ProblemNote error={send.error} />
      {send.data && <Typography role="status">{say`${send.data.length} vehicles imported.`}</Typography>}
    </Stack>
  )
}
