import { Button, Stack, TextField, Typography } from '@mui/material'
import { type Account, api, newAccountSchema } from '@ochote/contract'
import { languages, levels } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { accountsQuery, queryClient, sessionQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useVersioned } from '../../data/merge/use-versioned.ts'
import { say, sayWhole } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { ChooseSome } from '../../shared/choose-some.tsx'
import { levelName } from '../../shared/language/staff-words.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { LostFields } from '../../shared/lost-fields.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'

const roleOptions = [
  ['instructor', say`instructor`],
  ['lead', say`lead`],
] as const

/** Lead and instructors: their accounts, and whom they teach in what. */
export const InstructorsPage = () => {
  const accounts = useQuery(accountsQuery)
  const session = useQuery(sessionQuery)
  const isLead = session.data?.account?.role === 'lead'
  const here = accounts.data?.filter((a) => a.archivedAt === null) ?? []
  const away = accounts.data?.filter((a) => a.archivedAt !== null) ?? []
  return (
    <Stack spacing={4}>
      <StageHead
        stage="School"
        facts={accounts.data ? say`${here.length} with an account${away.length > 0 ? say`, ${away.length} closed` : ''}` : undefined}
      />
      <ProblemNote error={accounts.error} />
      {accounts.isLoading && <Reading what={say`Reading the accounts …`} />}
      <Stack spacing={0}>
        {[...here, ...away].map((account) => (
          <OneAccount key={account.id} account={account} mayChange={isLead} isMe={session.data?.account?.id === account.id} />
        ))}
      </Stack>
      {isLead ? <AddInstructor /> : <Typography color="text.secondary">{say`The lead adds and changes accounts.`}</Typography>}
    </Stack>
  )
}

const useAccounts = () =>
  useVersioned<Account>({
    key: accountsQuery.queryKey,
    write: ({ id, name, role, teaching, archivedAt }, version) =>
      call(api.changeAccount, { params: { accountId: id }, body: { name, role, teaching, archived: archivedAt !== null, version } }),
    list: () => call(api.accounts),
  })

const OneAccount = ({ account, mayChange, isMe }: { account: Account; mayChange: boolean; isMe: boolean }) => {
  const vehicles = useQuery(vehiclesQuery)
  const { put, error, lost, forgetLost } = useAccounts()
  const { teaching } = account
  const teach = (next: Partial<Account['teaching']>): void => put(account, { ...account, teaching: { ...teaching, ...next } })
  return (
    <Stack component="section" aria-label={account.name} spacing={2} sx={{ borderTop: 'hair', borderColor: 'divider', py: 3 }}>
      <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="head" component="h2" sx={{ minWidth: 180 }}>
          {account.name}
        </Typography>
        <Typography color="text.secondary" sx={{ flex: '1 1 160px' }}>
          {[sayWhole(account.role), isMe ? say`you` : '', account.archivedAt ? say`closed` : account.canSignIn ? '' : say`cannot sign in`]
            .filter(Boolean)
            .join(' · ')}
        </Typography>
        {mayChange && (
          <>
            <PickField
              label={say`Role`}
              value={account.role}
              options={roleOptions}
              onPick={(role) => put(account, { ...account, role })}
              width={120}
            />
            <NewPassword account={account} />
            {account.canSignIn && <SignOut account={account} />}
            {account.archivedAt === null ? (
              <AskFirst
                label={say`Close the account`}
                question={say`${account.name} cannot sign in any more; what they logged stays.`}
                yes={say`Close it`}
                disabled={isMe}
                onYes={() => put(account, { ...account, archivedAt: new Date().toISOString() })}
              />
            ) : (
              <Button size="small" variant="outlined" onClick={() => put(account, { ...account, archivedAt: null })}>
                {say`Open it again`}
              </Button>
            )}
          </>
        )}
      </Stack>
      <ProblemNote error={error} />
      <LostFields lost={lost} onSeen={forgetLost} />
      <Stack sx={columns('minmax(0, 1fr) minmax(0, 1fr) minmax(0, 1fr)')}>
        <ChooseSome
          label={say`Levels`}
          none={say`all levels`}
          options={levels.map((l) => [l, levelName(l)] as const)}
          chosen={teaching.levels}
          disabled={!mayChange}
          onChoose={(chosen) => teach({ levels: chosen })}
        />
        <ChooseSome
          label={say`Languages`}
          none={say`not said`}
          options={languages.map((l) => [l, wordsIn(l).language] as const)}
          chosen={teaching.languages}
          disabled={!mayChange}
          onChoose={(chosen) => teach({ languages: chosen })}
        />
        <ChooseSome
          label={say`Vehicles`}
          none={say`all vehicles`}
          options={vehicles.data?.map((v) => [v.id, v.name] as const) ?? []}
          chosen={teaching.vehicleIds}
          disabled={!mayChange}
          onChoose={(chosen) => teach({ vehicleIds: chosen })}
        />
      </Stack>
    </Stack>
  )
}

/** Signs somebody out everywhere, with their authenticator if they lost it. */
const SignOut = ({ account }: { account: Account }) => {
  const signOut = useMutation({
    mutationFn: (codes: boolean) => call(api.signOutAccount, { params: { accountId: account.id }, body: { codes } }),
    onSuccess: (list) => queryClient.setQueryData(accountsQuery.queryKey, list),
  })
  return (
    <>
      <AskFirst
        label={signOut.isSuccess ? say`Signed out` : say`Sign out everywhere`}
        question={say`${account.name} is signed out on every device at once; what these have not sent stays on them.`}
        yes={say`Sign out`}
        onYes={() => signOut.mutate(false)}
      />
      {account.codes && (
        <AskFirst
          label={say`Lost authenticator`}
          question={say`${account.name} then signs in by password alone, on every device anew.`}
          yes={say`Take it away`}
          onYes={() => signOut.mutate(true)}
        />
      )}
      <ProblemNote error={signOut.error} />
    </>
  )
}

/** Sets a new password for somebody who forgot theirs. */
const NewPassword = ({ account }: { account: Account }) => {
  const [open, setOpen] = useState(false)
  const [password, setPassword] = useState('')
  const set = useMutation({
    mutationFn: () =>
      call(api.changeAccount, {
        params: { accountId: account.id },
        body: {
          version: account.version,
          name: account.name,
          role: account.role,
          teaching: account.teaching,
          archived: account.archivedAt !== null,
          password,
        },
      }),
    onSuccess: () => {
      setOpen(false)
      setPassword('')
      return queryClient.invalidateQueries({ queryKey: accountsQuery.queryKey })
    },
  })
  if (!open)
    return (
      <Button size="small" variant="text" onClick={() => setOpen(true)}>
        {set.isSuccess ? say`New password: set` : say`New password`}
      </Button>
    )
  return (
    <Stack
      component="form"
      direction="row"
      spacing={2}
      sx={{ alignItems: 'flex-end' }}
      onSubmit={(event: FormEvent) => {
        event.preventDefault()
        if (password.length >= 10) set.mutate()
      }}
    >
      <TextField
        label={say`New password of ${account.name}`}
        type="password"
        value={password}
        autoComplete="new-password"
        onChange={(e) => setPassword(e.target.value)}
      />
      <Button type="submit" size="small" variant="outlined" disabled={password.length < 10 || set.isPending}>
        {say`Set it`}
      </Button>
      <ProblemNote error={set.error} />
    </Stack>
  )
}

/** For the lead: an account for an instructor or another lead. */
const AddInstructor = () => {
  const [id, setId] = useState(() => uuid())
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const [role, setRole] = useState<Account['role']>('instructor')
  const account = { id, name, password, role }
  const fits = newAccountSchema.safeParse(account).success
  const add = useMutation({
    mutationFn: () => call(api.addAccount, { body: account }),
    onSuccess: () => {
      setName('')
      setPassword('')
      setId(uuid())
      return queryClient.invalidateQueries({ queryKey: accountsQuery.queryKey })
    },
  })
  return (
    <Stack
      component="form"
      spacing={2}
      aria-label={say`Add an instructor`}
      onSubmit={(event: FormEvent) => {
        event.preventDefault()
        if (fits) add.mutate()
      }}
    >
      <Typography variant="head" component="h2">
        {say`Another instructor`}
      </Typography>
      <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <TextField label={say`Instructor’s name`} value={name} autoComplete="off" onChange={(e) => setName(e.target.value)} />
        <TextField
          label={say`First password`}
          type="password"
          value={password}
          autoComplete="new-password"
          onChange={(e) => setPassword(e.target.value)}
        />
        <PickField label={say`Role`} value={role} options={roleOptions} onPick={setRole} width={120} />
        <Button type="submit" variant="outlined" disabled={!fits || add.isPending}>
          {say`Add the instructor`}
        </Button>
      </Stack>
      <Typography variant="text" color="text.secondary">
        {name !== '' && password.length < 10
          ? say`A password has at least 10 characters; tell it to the instructor in person.`
          : say`An instructor runs and logs; a lead plans and administers as well.`}
      </Typography>
      <ProblemNote error={add.error} />
    </Stack>
  )
}
