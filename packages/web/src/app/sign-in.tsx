import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api, firstAccountSchema, type SessionState, signInSchema } from '@ochote/contract'
import { useMutation, useQuery } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { Link } from 'react-router'
import { ApiProblem, call } from '../data/api/api-client.ts'
import { queryClient, sessionQuery } from '../data/api/queries.ts'
import { sealedHere } from '../data/events/leave-device.ts'
import { say } from '../language/say.ts'
import { ProblemNote } from '../shared/problem-note.tsx'

/** True once the server has asked for the code of an authenticator. */
const asksForCode = (error: unknown): boolean =>
  error instanceof ApiProblem && ['code-needed', 'code-wrong'].includes(error.problem.code ?? '')

/** Signs in, makes the lead's account on the very first visit, and offers the demo its one click. */
export const SignIn = ({ state }: { state: SessionState }) => {
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const [code, setCode] = useState('')
  const [tried, setTried] = useState(false)
  const first = !state.setUp
  const given = { name, password, ...(code.trim() === '' ? {} : { code }) }
  const checked = (first ? firstAccountSchema : signInSchema).safeParse(given)
  const issue = (field: string): string | undefined =>
    tried && !checked.success ? checked.error.issues.find((i) => i.path[0] === field)?.message : undefined
  const done = (session: SessionState): void => {
    queryClient.setQueryData(sessionQuery.queryKey, session)
  }
  const enter = useMutation({
    mutationFn: () => call(first ? api.firstAccount : api.signIn, { body: given }),
    onSuccess: done,
  })
  const sealed = useQuery({ queryKey: ['sealed'], queryFn: sealedHere, staleTime: 0 })
  const enterDemo = useMutation({ mutationFn: () => call(api.signInDemo), onSuccess: done })
  const submit = (event: FormEvent): void => {
    event.preventDefault()
    setTried(true)
    if (checked.success) enter.mutate()
  }
  return (
    <Box component="main" sx={{ minHeight: '100vh', display: 'grid', placeItems: 'center', p: 5 }}>
      <Stack spacing={5} sx={{ width: 'min(420px, 100%)' }}>
        <Box>
          <Typography component="div" sx={{ fontWeight: 760, fontStretch: '112%', fontSize: 'size.title', letterSpacing: '-0.03em' }}>
            ochote
          </Typography>
          <Typography color="text.secondary">{say`Plan, coach and review track sessions, corner by corner.`}</Typography>
        </Box>
        {state.demo && (
          <Stack spacing={2} sx={{ borderTop: 'chosen', borderColor: 'text.primary', pt: 4 }}>
            <Typography variant="text">
              {say`This is the demo: an invented school, circuit and students; drives and logs are simulated.`}
            </Typography>
            <Button variant="contained" size="large" onClick={() => enterDemo.mutate()} disabled={enterDemo.isPending}>
              {say`Enter the demo as the lead`}
            </Button>
          </Stack>
        )}
        {!(state.demo && !state.setUp) && (
          <Stack component="form" spacing={4} onSubmit={submit} noValidate sx={{ borderTop: 'hair', borderColor: 'divider', pt: 4 }}>
            <Typography variant="head" component="h1">
              {first ? say`Create the lead’s account` : say`Sign in`}
            </Typography>
            {first && (
              <Typography variant="text">{say`The lead plans, adds instructors and imports circuits. You do this once.`}</Typography>
            )}
            <TextField
              label="Name"
              value={name}
              autoComplete="username"
              onChange={(e) => setName(e.target.value)}
              error={issue('name') !== undefined}
              helperText={issue('name')}
            />
            <TextField
              label={say`Password`}
              type="password"
              value={password}
              autoComplete={first ? 'new-password' : 'current-password'}
              onChange={(e) => setPassword(e.target.value)}
              error={issue('password') !== undefined}
              helperText={issue('password') ?? (first ? say`At least 10 characters` : undefined)}
            />
            {(state.setUpCode || asksForCode(enter.error)) && (
              <TextField
                label={first ? say`Code from where the server was started` : say`Code of your authenticator`}
                value={code}
                autoComplete="one-time-code"
                onChange={(e) => setCode(e.target.value)}
                helperText={first ? say`It was printed there; it keeps others in the network from taking the school` : say`Six digits`}
              />
            )}
            <Button type="submit" variant={state.demo ? 'outlined' : 'contained'} disabled={enter.isPending}>
              {first ? say`Make the account` : say`Sign in`}
            </Button>
          </Stack>
        )}
        <ProblemNote error={enter.error ?? enterDemo.error} />
        {sealed.data?.map(({ name: whose, count }) => (
          <Typography key={whose} role="status" variant="text">
            {say`${count} entries of ${whose} wait on this device, sealed. They are sent when ${whose} signs in here.`}
          </Typography>
        ))}
        {state.setUp && (
          <Box component={Link} to="/pair" sx={{ color: 'text.primary' }}>
            {say`Sign in with a code from the desk`}
          </Box>
        )}
        <Typography variant="text" color="text.secondary">
          {say`Track driving can kill. Plans are estimates by a simple model; the instructor in the car decides, and the venue’s rules come first. Never use this while driving.`}
        </Typography>
      </Stack>
    </Box>
  )
}
