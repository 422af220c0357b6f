import { Box, Button, Stack, Typography } from '@mui/material'
import { api, type StoredStudent, type StudentLink } from '@ochote/contract'
import { type BriefingPart, briefingParts, cornerName, type Plan } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { queryClient, sessionQuery } from '../../data/api/queries.ts'
import { useStudents } from '../../data/school/use-students.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { wordsIn } from '../../shared/language/words.ts'
import { LostFields } from '../../shared/lost-fields.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { StudentFields } from '../../shared/student-fields.tsx'

const partNames = wordsIn('en').phone.parts

type Props = {
  student: StoredStudent
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

/** What is known of the student; saved as it is changed. */
const Profile = ({ student }: { student: StoredStudent }) => {
  const { fields } = useStudents()
  return (
    <>
      <ProblemNote error={fields.error} />
      <LostFields lost={fields.lost} onSeen={fields.forgetLost} />
      <StudentFields student={student} onChange={(next) => fields.put(student, next)} />
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

/** Erases a student with all that is kept of them. */
const Erase = ({ studentId, onGone }: { studentId: string; onGone: () => void }) => {
  const erase = useMutation({
    mutationFn: () => call(api.eraseStudent, { params: { studentId } }),
    onSuccess: () => {
      onGone()
      void queryClient.invalidateQueries()
    },
  })
  return (
    <>
      <ProblemNote error={erase.error} />
      <AskFirst
        label="Erase this student"
        question="Runs, logs, answers: nothing of it comes back."
        yes="Erase everything"
        pending={erase.isPending}
        onYes={() => erase.mutate()}
      />
    </>
  )
}
