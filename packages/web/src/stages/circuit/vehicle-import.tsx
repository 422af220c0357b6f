import { Box, Button, Stack, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { ApiProblem, call } from '../../data/api/api-client.ts'
import { queryClient, vehiclesQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** Imports a vehicle file; what is here already with other values is replaced only when that is asked for. */
export const VehicleImport = () => {
  const [file, setFile] = useState<File | null>(null)
  const vehicles = useQuery(vehiclesQuery)
  const send = useMutation({
    mutationFn: ({ chosen, replace }: { chosen: File; replace: boolean }) =>
      call(api.importVehicles, {
        file: chosen,
        query: replace ? { replacing: vehicles.data?.map(({ id, version }) => `${id}:${version}`).join(',') } : {},
      }),
    onSettled: () => queryClient.invalidateQueries({ queryKey: vehiclesQuery.queryKey }),
  })
  const wouldReplace = send.error instanceof ApiProblem && send.error.problem.code === 'would-replace'
  const choose = (chosen: File | null): void => {
    setFile(chosen)
    send.reset()
  }
  return (
    <Stack spacing={3}>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'flex-end' }}>
        <FileChoice label={say`Choose a vehicle file`} accept=".json" file={file} onChoose={choose} />
        <Button
          variant="contained"
          disabled={!file || send.isPending}
          onClick={() => file && send.mutate({ chosen: file, replace: false })}
        >
          {say`Import`}
        </Button>
      </Stack>
      <ProblemNote error={send.error} />
      {wouldReplace && file && (
        <Box>
          <Button variant="outlined" onClick={() => send.mutate({ chosen: file, replace: true })}>
            {say`Replace them`}
          </Button>
        </Box>
      )}
      {send.data && <Typography role="status">{say`Imported: the school now has ${send.data.length} vehicles.`}</Typography>}
    </Stack>
  )
}
