import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api, type SessionState } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { call } from '../data/api/api-client.ts'
import { queryClient, sessionQuery } from '../data/api/queries.ts'
import { say } from '../language/say.ts'
import { ProblemNote } from '../shared/problem-note.tsx'

/** The page on which a paired device begins: volunteers stand at a corner. */
const firstPage = ({ account }: SessionState): string => (account?.role === 'volunteer' ? '/run/corner-post' : '/run')

/** Signs this device in for a day with the code that the desk shows; the square at the desk brings the code along. */
export const Pair = () => {
  const [search] = useSearchParams()
  const [code, setCode] = useState(search.get('code') ?? '')
  const navigate = useNavigate()
  const pair = useMutation({
    mutationFn: () => call(api.pairDevice, { body: { code } }),
    onSuccess: (state) => {
      queryClient.removeQueries({ predicate: (query) => query.queryKey[0] !== sessionQuery.queryKey[0] })
      queryClient.setQueryData(sessionQuery.queryKey, state)
      navigate(firstPage(state))
    },
  })
  const submit = (event: FormEvent): void => {
    event.preventDefault()
    pair.mutate()
  }
  return (
    <Box component="main" sx={{ minHeight: '100vh', display: 'grid', placeItems: 'center', p: 5 }}>
      <Stack component="form" spacing={4} onSubmit={submit} sx={{ width: 'min(420px, 100%)' }}>
        <Typography variant="head" component="h1">
          {say`Sign this device in for the day`}
        </Typography>
        <Typography variant="text">{say`The desk shows a code of eight letters and figures. It works once, for a quarter of an hour.`}</Typography>
        <TextField
          label={say`Code from the desk`}
          value={code}
          autoComplete="one-time-code"
          autoFocus
          onChange={(e) => setCode(e.target.value)}
          slotProps={{ htmlInput: { autoCapitalize: 'characters', spellCheck: false } }}
        />
        <Button type="submit" variant="contained" size="large" disabled={code.trim().length < 4 || pair.isPending}>
          {say`Sign in for today`}
        </Button>
        <ProblemNote error={pair.error} />
      </Stack>
    </Box>
  )
}
