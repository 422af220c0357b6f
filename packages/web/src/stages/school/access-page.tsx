import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api, type OpenSession, passwordSchema } from '@ochote/contract'
import { useMutation, useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { QRCodeSVG } from 'qrcode.react'
import { type FormEvent, useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { ownSessionsQuery, queryClient, sessionQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'

/** One's own way in: password, authenticator, and where one is signed in. */
export const AccessPage = () => (
  <Stack spacing={5}>
    <StageHead stage="School" />
    <Box sx={columns('minmax(0, 1fr) minmax(0, 1fr)')}>
      <OwnPassword />
      <Codes />
    </Box>
    <Sessions />
  </Stack>
)

const OwnPassword = () => {
  const [old, setOld] = useState('')
  const [password, setPassword] = useState('')
  const change = useMutation({
    mutationFn: () => call(api.changeOwnPassword, { body: { old, password } }),
    onSuccess: () => {
      setOld('')
      setPassword('')
      return queryClient.invalidateQueries({ queryKey: ownSessionsQuery.queryKey })
    },
  })
  const fits = passwordSchema.safeParse(password).success
  return (
    <Stack
      component="form"
      aria-label={say`Change my password`}
      spacing={3}
      onSubmit={(event: FormEvent) => {
        event.preventDefault()
        if (fits) change.mutate()
      }}
    >
      <Typography variant="head" component="h2">
        {say`Change my password`}
      </Typography>
      <Typography variant="text">{say`Every other device is signed out then; what was touched there stays on it until you sign in.`}</Typography>
      <TextField
        label={say`Old password`}
        type="password"
        value={old}
        autoComplete="current-password"
        onChange={(e) => setOld(e.target.value)}
      />
      <TextField
        label={say`New password for me`}
        type="password"
        value={password}
        autoComplete="new-password"
        helperText={say`At least 10 characters; three or four words are best`}
        onChange={(e) => setPassword(e.target.value)}
      />
      <Box>
        <Button type="submit" variant="outlined" disabled={!fits || old === '' || change.isPending}>
          {say`Change it`}
        </Button>
      </Box>
      {change.isSuccess && <Typography role="status">{say`The password is changed.`}</Typography>}
      <ProblemNote error={change.error} />
    </Stack>
  )
}

const Codes = () => {
  const session = useQuery(sessionQuery)
  const [code, setCode] = useState('')
  const [password, setPassword] = useState('')
  const again = (): Promise<void> => queryClient.invalidateQueries({ queryKey: sessionQuery.queryKey })
  const begin = useMutation({ mutationFn: () => call(api.beginCodes) })
  const confirm = useMutation({
    mutationFn: () => call(api.confirmCodes, { body: { code } }),
    onSuccess: () => {
      setCode('')
      begin.reset()
      return again()
    },
  })
  const end = useMutation({
    mutationFn: () => call(api.endCodes, { body: { password } }),
    onSuccess: () => {
      setPassword('')
      return again()
    },
  })
  const on = session.data?.account?.codes ?? false
  return (
    <Stack component="section" aria-label={say`Code at sign-in`} spacing={3}>
      <Typography variant="head" component="h2">
        {say`Code at sign-in`}
      </Typography>
      <Typography variant="text">
        {on
          ? say`Signing in asks for six digits of your authenticator, too.`
          : say`If you like, signing in asks for six digits, too, that an authenticator on your phone shows. Whoever learns your password then still stays out.`}
      </Typography>
      {!on && !begin.data && (
        <Box>
          <Button variant="outlined" disabled={begin.isPending} onClick={() => begin.mutate()}>
            {say`Set it up`}
          </Button>
        </Box>
      )}
      {!on && begin.data && (
        <>
          <QRCodeSVG value={begin.data.uri} size={164} marginSize={2} title={say`Secret for your authenticator`} />
          <Box sx={{ overflowWrap: 'anywhere' }}>
            {say`Or type this there:`} <code>{begin.data.secret}</code>
          </Box>
          <Stack direction="row" spacing={2} sx={{ alignItems: 'flex-end' }}>
            <TextField
              label={say`Code that it shows`}
              value={code}
              autoComplete="one-time-code"
              onChange={(e) => setCode(e.target.value)}
            />
            <Button variant="outlined" disabled={!/^\d{6}$/.test(code.trim()) || confirm.isPending} onClick={() => confirm.mutate()}>
              {say`Ask for it from now on`}
            </Button>
          </Stack>
        </>
      )}
      {on && (
        <Stack direction="row" spacing={2} sx={{ alignItems: 'flex-end' }}>
          <TextField
            label={say`Password, to stop asking`}
            type="password"
            value={password}
            autoComplete="current-password"
            onChange={(e) => setPassword(e.target.value)}
          />
          <Button variant="outlined" disabled={password === '' || end.isPending} onClick={() => end.mutate()}>
            {say`Ask for none`}
          </Button>
        </Stack>
      )}
      <ProblemNote error={begin.error ?? confirm.error ?? end.error} />
    </Stack>
  )
}

const deviceWords: Readonly<Record<OpenSession['device'], string>> = {
  handheld: say`phone or tablet`,
  computer: say`computer`,
  unknown: say`other device`,
}

const Sessions = () => {
  const sessions = useQuery(ownSessionsQuery)
  const end = useMutation({
    mutationFn: (sessionId: string) => call(api.endOwnSession, { params: { sessionId } }),
    onSuccess: (list) => queryClient.setQueryData(ownSessionsQuery.queryKey, list),
  })
  const others = sessions.data?.filter((one) => !one.current) ?? []
  return (
    <Stack component="section" aria-label={say`Where I am signed in`} spacing={2}>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="head" component="h2">
          {say`Where I am signed in`}
        </Typography>
        {others.length > 0 && (
          <AskFirst
            label={say`Sign out everywhere else`}
            question={say`${others.length} ${others.length === 1 ? say`device is` : say`devices are`} signed out at once; what they have not sent stays on them.`}
            yes={say`Sign them out`}
            onYes={() => end.mutate('others')}
          />
        )}
      </Stack>
      <ProblemNote error={sessions.error ?? end.error} />
      {sessions.isLoading && <Reading what={say`Asking where …`} />}
      <Box>
        {sessions.data?.map((one) => (
          <Stack
            key={one.id}
            direction="row"
            useFlexGap
            spacing={4}
            sx={{ borderTop: 'hair', borderColor: 'divider', py: 2, alignItems: 'center', flexWrap: 'wrap' }}
          >
            <Box sx={{ minWidth: 180, fontWeight: 600 }}>
              {one.current ? say`this ${deviceWords[one.device]}` : deviceWords[one.device]}
            </Box>
            <Box sx={{ flex: '1 1 240px', color: 'text.secondary' }}>
              {say`since ${dayjs(one.createdAt).format('D MMM HH:mm')}, last used ${dayjs(one.usedAt).format('D MMM HH:mm')}`}
            </Box>
            {!one.current && (
              <Button size="small" variant="text" disabled={end.isPending} onClick={() => end.mutate(one.id)}>
                {say`Sign it out`}
              </Button>
            )}
          </Stack>
        ))}
      </Box>
    </Stack>
  )
}
