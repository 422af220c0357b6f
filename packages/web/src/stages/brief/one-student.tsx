import { Box, Button, Stack, Typography } from '@mui/material'
import type { StoredStudent, StudentLink } from '@ochote/contract'
import { type BriefingPart, briefingParts, cornerName, type Plan } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { sessionQuery } from '../../data/api/queries.ts'
import { useStudents } from '../../data/school/use-students.ts'
import { say } from '../../language/say.ts'
import { EraseStudent } from '../../shared/erase-student.tsx'
import { staffWords } from '../../shared/language/staff-words.ts'
import { LostFields } from '../../shared/lost-fields.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { PhoneAddress } from '../../shared/qr-address.tsx'
import { StudentFields } from '../../shared/student-fields.tsx'

const partNames = staffWords.phone.parts

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
    <Stack component="section" aria-label={say`About ${student.name}`} spacing={3}>
      <Typography variant="head">{student.name}</Typography>
      <Profile student={student} />
      <Typography variant="text">
        {worries.length > 0
          ? say`Feels wrong at: ${worries.map((id) => cornerName(plan?.corners ?? [], id)).join(', ')}`
          : say`No corner worries them.`}
      </Typography>
      <Acknowledged acknowledged={acknowledged} onAcknowledge={onAcknowledge} />
      {link?.token && <PhoneAddress path={`/s/${link.token}`} name={say`The page of ${student.name}`} size={120} />}
      <Stack direction="row" spacing={2}>
        <Button size="small" variant="outlined" component={Link} to={`/brief/card?student=${student.id}`}>
          {say`Pocket card`}
        </Button>
        <Button size="small" variant="outlined" component={Link} to={`/brief/handout?student=${student.id}`}>
          {say`Hand-out`}
        </Button>
        <Box sx={{ flex: 1 }} />
        {session.data?.account?.role === 'lead' && <EraseStudent studentId={student.id} onGone={onGone} />}
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
      {say`Acknowledged`}
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
