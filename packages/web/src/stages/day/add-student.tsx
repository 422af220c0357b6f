import { Button, MenuItem, Stack, TextField } from '@mui/material'
import { api, levelSchema, newStudentSchema } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { queryClient, studentsQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { staffUnits } from '../../language/staff-units.ts'
import { levelName } from '../../shared/language/staff-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'

type Level = (typeof levelSchema.options)[number]

/** Adds one student: a name and a level are enough. Pressed twice it adds one all the same: the id changes only once it is added. */
export const AddStudent = ({ onAdded }: { onAdded?: (id: string) => void }) => {
  const [id, setId] = useState(() => uuid())
  const [name, setName] = useState('')
  const [level, setLevel] = useState<Level>('first-day')
  const student = { id, name, level, talk: 'guided' as const, units: staffUnits }
  const fits = newStudentSchema.safeParse(student).success
  const add = useMutation({
    mutationFn: () => call(api.addStudent, { body: student }),
    onSuccess: (added) => {
      setName('')
      setId(uuid())
      onAdded?.(added.id)
      return queryClient.invalidateQueries({ queryKey: studentsQuery.queryKey })
    },
  })
  const submit = (event: FormEvent): void => {
    event.preventDefault()
    if (fits) add.mutate()
  }
  return (
    <Stack
      component="form"
      aria-label={say`Add a student`}
      direction="row"
      useFlexGap
      spacing={4}
      sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}
      onSubmit={submit}
    >
      <TextField label={say`Student’s name`} value={name} onChange={(e) => setName(e.target.value)} sx={{ width: 240 }} />
      <TextField select label={say`Level`} value={level} onChange={(e) => setLevel(levelSchema.parse(e.target.value))} sx={{ width: 120 }}>
        {levelSchema.options.map((l) => (
          <MenuItem key={l} value={l}>
            {levelName(l)}
          </MenuItem>
        ))}
      </TextField>
      <Button type="submit" variant="outlined" disabled={!fits || add.isPending}>
        {say`Add the student`}
      </Button>
      <ProblemNote error={add.error} />
    </Stack>
  )
}
