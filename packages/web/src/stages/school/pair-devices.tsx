import { Box, Button, MenuItem, Stack, TextField, Typography } from '@mui/material'
import { api, type Pairing } from '@ochote/contract'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { accountsQuery, pairingsQuery, queryClient } from '../../data/api/queries.ts'
import { useReachable } from '../../data/api/reachable.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { say, sayWhole } from '../../language/say.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { QrAddress } from '../../shared/qr-address.tsx'

/** In two halves, as people read it out. */
const readable = (code: string): string => `${code.slice(0, 4)} ${code.slice(4)}`

/** Tablets and volunteers' phones that are signed in for the day by a short code. */
export const PairDevices = () => {
  const { day } = useDay()
  return day ? <OfDay dayId={day.id} instructorIds={day.plan.instructorIds} /> : null
}

const OfDay = ({ dayId, instructorIds }: { dayId: string; instructorIds: readonly string[] }) => {
  const pairings = useQuery(pairingsQuery(dayId))
  const accounts = useQuery(accountsQuery)
  const [volunteer, setVolunteer] = useState('')
  const [accountId, setAccountId] = useState('')
  const keep = (list: Pairing[]): void => {
    queryClient.setQueryData(pairingsQuery(dayId).queryKey, list)
  }
  const pair = useMutation({
    mutationFn: (body: { id: string; accountId: string } | { id: string; volunteer: string }) =>
      call(api.pair, { params: { dayId }, body }),
    onSuccess: (list) => {
      keep(list)
      setVolunteer('')
    },
  })
  const unpair = useMutation({ mutationFn: (deviceId: string) => call(api.unpair, { params: { dayId, deviceId } }), onSuccess: keep })
  const instructors = (accounts.data ?? []).filter((a) => a.role === 'instructor' && instructorIds.includes(a.id) && !a.archivedAt)
  return (
    <Stack component="section" aria-label={say`Devices of this day`} spacing={3}>
      <Typography variant="head" component="h2">
        {say`Devices of this day`}
      </Typography>
      <Typography variant="text">
        {say`A code signs one device in until the end of the day, without a password: a tablet as its instructor, a volunteer’s phone for the corner post and the pit wall.`}
      </Typography>
      <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap', alignItems: 'flex-end' }}>
        <TextField
          label={say`Volunteer, or their place`}
          value={volunteer}
          autoComplete="off"
          onChange={(e) => setVolunteer(e.target.value)}
        />
        <Button
          variant="outlined"
          disabled={volunteer.trim().length < 2 || pair.isPending}
          onClick={() => pair.mutate({ id: uuid(), volunteer: volunteer.trim() })}
        >
          {say`Code for a volunteer`}
        </Button>
        <TextField
          select
          label={say`Tablet of`}
          value={instructors.some((a) => a.id === accountId) ? accountId : ''}
          onChange={(e) => setAccountId(e.target.value)}
          sx={{ minWidth: 200 }}
        >
          {instructors.map((a) => (
            <MenuItem key={a.id} value={a.id}>
              {a.name}
            </MenuItem>
          ))}
        </TextField>
        <Button variant="outlined" disabled={accountId === '' || pair.isPending} onClick={() => pair.mutate({ id: uuid(), accountId })}>
          {say`Code for a tablet`}
        </Button>
      </Stack>
      {instructors.length === 0 && accounts.data && (
        <Typography variant="text" color="text.secondary">
          {say`No instructor is on the list of this day; leads sign in with name and password.`}
        </Typography>
      )}
      <ProblemNote error={pairings.error ?? pair.error ?? unpair.error} />
      <Box>
        {pairings.data?.map((pairing) => (
          <OnePairing key={pairing.id} pairing={pairing} onSignOut={() => unpair.mutate(pairing.id)} />
        ))}
        {pairings.data?.length === 0 && <Typography>{say`No device is signed in for this day yet.`}</Typography>}
      </Box>
    </Stack>
  )
}

const OnePairing = ({ pairing, onSignOut }: { pairing: Pairing; onSignOut: () => void }) => {
  const { origin } = useReachable()
  const { code, name, role, usedAt } = pairing
  return (
    <Stack
      component="section"
      aria-label={name}
      direction="row"
      useFlexGap
      spacing={4}
      sx={{ borderTop: 'hair', borderColor: 'divider', py: 3, alignItems: 'center', flexWrap: 'wrap' }}
    >
      <Box sx={{ minWidth: 180 }}>
        <Box sx={{ fontWeight: 640 }}>{name}</Box>
        <Box sx={{ color: 'text.secondary' }}>{sayWhole(role)}</Box>
      </Box>
      {code ? (
        <>
          <Box
            role="status"
            aria-label={say`Code for ${name}`}
            className="figures"
            sx={{ fontSize: 'size.title', fontWeight: 700, letterSpacing: '0.06em' }}
          >
            {readable(code)}
          </Box>
          {origin && <QrAddress address={`${origin}/pair?code=${code}`} name={say`Sign in as ${name}`} size={112} />}
        </>
      ) : (
        <Box sx={{ flex: 1 }}>
          {usedAt
            ? say`Signed in since ${new Date(usedAt).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })}`
            : say`The code is too old: make another one.`}
        </Box>
      )}
      <AskFirst
        label={usedAt ? say`Sign it out` : say`Take the code back`}
        question={usedAt ? say`${name} is signed out at once; what the device has not sent stays on it.` : say`The code no longer works.`}
        yes={usedAt ? say`Sign it out` : say`Take it back`}
        onYes={onSignOut}
      />
    </Stack>
  )
}
