import { Button, Stack, TextField, Typography } from '@mui/material'
import { api, newAccountSchema } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { accountsQuery, queryClient } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** For the lead: an account for an instructor, who then belongs to this day. */
export const AddInstructor = () => {
  const { changePlan } = useDay()
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const account = { name, password, role: 'instructor' as const }
  const fits = newAccountSchema.safeParse(account).success
  const add = useMutation({
    mutationFn: () => call(api.addAccount, { body: account }),
    onSuccess: (added) => {
      setName('')
      setPassword('')
      changePlan((plan) => ({ ...plan, instructorIds: [...plan.instructorIds, added.id] }))
      return queryClient.invalidateQueries({ queryKey: accountsQuery.queryKey })
    },
  })
  const submit = (event: FormEvent): void => {
    event.preventDefault()
    if (fits) add.mutate()
  }
  return (
    <Stack component="form" spacing={2} aria-label="Add an instructor" onSubmit={submit}>
      <TextField label="Instructor’s name" value={name} autoComplete="off" onChange={(e) => setName(e.target.value)} />
      <TextField
        label="First password"
        type="password"
        value={password}
        autoComplete="new-password"
        onChange={(e) => setPassword(e.target.value)}
      />
      <Button type="submit" variant="outlined" disabled={!fits || add.isPending}>
        Add the instructor
      </Button>
      {name !== '' && password.length < 10 && (
        <Typography variant="text" color="text.secondary">
          At least 10 characters; tell it to the instructor in person.
        </Typography>
      )}
      <ProblemNote error={add.error} />
    </Stack>
  )
}
