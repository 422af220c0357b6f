import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api, type StudentLink } from '@ochote/contract'
import {
  type BriefingPart,
  briefingParts,
  cornerName,
  intensities,
  languages,
  levelName,
  levels,
  type Plan,
  type Student,
} from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { queryClient, sessionQuery, studentsQuery } from '../../data/api/queries.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'

const partNames = wordsIn('en').phone.parts

const unitOptions = [
  ['metric', 'metric'],
  ['imperial', 'imperial'],
] as const
const languageOptions = [['none', 'not said: English'] as const, ...languages.map((l) => [l, wordsIn(l).language] as const)]

type Props = {
  student: Student
  plan: Plan | undefined
  link: StudentLink | undefined
  acknowledged: Partial<Record<BriefingPart, string>>
  onAcknowledge: (part: BriefingPart) => void
  onGone: () => void
}

/** A student's profile, what they have acknowledged, their link, and their prints. */
export const OneStudent = ({ student, plan, link, acknowledged, onAcknowledge, onGone }: Props) => {
  const session = useQuery(sessionQuery)
  const { worries } = student.profile
  return (
    <Stack component="section" aria-label={`About ${student.name}`} spacing={3}>
      <Typography variant="head">{student.name}</Typography>
      <Profile student={student} />
      <Typography variant="text">
        {worries.length > 0
          ? `Feels wrong at: ${worries.map((id) => cornerName(plan?.corners ?? [], id)).join(', ')}`
          : 'No corner worries them.'}
      </Typography>
      <Acknowledged acknowledged={acknowledged} onAcknowledge={onAcknowledge} />
      {link && <LinkAddress address={`${window.location.origin}/s/${link.token}`} />}
      <Stack direction="row" spacing={2}>
        <Button size="small" variant="outlined" component={Link} to={`/brief/card?student=${student.id}`}>
          Pocket card
        </Button>
        <Button size="small" variant="outlined" component={Link} to={`/brief/handout?student=${student.id}`}>
          Hand-out
        </Button>
        <Box sx={{ flex: 1 }} />
        {session.data?.account?.role === 'lead' && <Erase studentId={student.id} onGone={onGone} />}
      </Stack>
    </Stack>
  )
}

/** Level, amount of talk, units, language, and what the student says of themselves; saved as it is changed. */
const Profile = ({ student }: { student: Student }) => {
  const change = useMutation({
    mutationFn: ({ id, ...body }: Student) => call(api.changeStudent, { params: { studentId: id }, body }),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: studentsQuery.queryKey }),
  })
  const { profile } = student
  const put = (next: Partial<Student>): void => change.mutate({ ...student, ...next })
  const text = (label: string, key: 'experience' | 'car' | 'goals') => (
    <TextField
      key={`${key} ${profile[key]}`}
      label={label}
      defaultValue={profile[key]}
      multiline={key !== 'car'}
      slotProps={{ htmlInput: { maxLength: key === 'car' ? 80 : 300 } }}
      onBlur={(e) => e.target.value !== profile[key] && put({ profile: { ...profile, [key]: e.target.value } })}
    />
  )
  return (
    <>
      <ProblemNote error={change.error} />
      <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }}>
        <PickField
          label="Level"
          value={student.level}
          options={levels.map((l) => [l, levelName(l)] as const)}
          onPick={(level) => put({ level })}
          width={110}
        />
        <PickField
          label="Talk"
          value={student.talk}
          options={intensities.map((t) => [t, t] as const)}
          onPick={(talk) => put({ talk })}
          width={100}
        />
        <PickField label="Units" value={student.units} options={unitOptions} onPick={(units) => put({ units })} width={100} />
        <PickField
          label="Language"
          value={profile.language ?? 'none'}
          options={languageOptions}
          onPick={(l) => put({ profile: { ...profile, language: l === 'none' ? null : l } })}
          width={150}
        />
      </Stack>
      {text('Experience', 'experience')}
      {text('Own car', 'car')}
      {text('Wants from the day', 'goals')}
    </>
  )
}

/** Parts of the briefing: those acknowledged with their time, the others as buttons. */
const Acknowledged = ({ acknowledged, onAcknowledge }: Pick<Props, 'acknowledged' | 'onAcknowledge'>) => (
  <Box>
    <Typography variant="head" component="h3" sx={{ mb: 1 }}>
      Acknowledged
    </Typography>
    <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
      {briefingParts.map((part) => {
        const time = acknowledged[part]
        return time ? (
          <Box key={part} sx={{ borderLeft: 'note', borderColor: 'divider', pl: 2, pr: 3, py: 1, fontSize: 'size.text' }}>
            {`${partNames[part]} ${time.slice(11, 16)}`}
          </Box>
        ) : (
          <Button key={part} size="small" variant="outlined" onClick={() => onAcknowledge(part)}>
            {partNames[part]}
          </Button>
        )
      })}
    </Stack>
  </Box>
)

const LinkAddress = ({ address }: { address: string }) => (
  <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
    <Box component="a" href={address} sx={{ fontSize: 'size.note', overflowWrap: 'anywhere', color: 'primary.main' }}>
      {address}
    </Box>
    <Button size="small" variant="outlined" onClick={() => void navigator.clipboard?.writeText(address)}>
      Copy
    </Button>
  </Stack>
)

/** Erases a student after a second press. */
const Erase = ({ studentId, onGone }: { studentId: string; onGone: () => void }) => {
  const [sure, setSure] = useState(false)
  const erase = useMutation({
    mutationFn: () => call(api.eraseStudent, { params: { studentId } }),
    onSuccess: () => {
      onGone()
      void queryClient.invalidateQueries()
    },
  })
  if (!sure)
    return (
      <Button size="small" variant="text" onClick={() => setSure(true)}>
        Erase this student
      </Button>
    )
  return (
    <>
      <ProblemNote error={erase.error} />
      <Button size="small" variant="contained" color="error" disabled={erase.isPending} onClick={() => erase.mutate()}>
        Erase everything: runs, logs, answers
      </Button>
      <Button size="small" variant="text" onClick={() => setSure(false)}>
        Cancel
      </Button>
    </>
  )
}
