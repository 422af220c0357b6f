import { Box, Button, Stack, Table, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material'
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
  preparationOf,
  quizGaps,
  type Student,
} from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { linksQuery, queryClient, sessionQuery, studentsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayEvents } from '../../data/events/use-day-events.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { BriefTabs } from './brief-tabs.tsx'

const partNames = wordsIn('en').phone.parts

const unitOptions = [
  ['metric', 'metric'],
  ['imperial', 'imperial'],
] as const
const languageOptions = [['none', 'not said: English'] as const, ...languages.map((l) => [l, wordsIn(l).language] as const)]

/** Who has told what, acknowledged what, and remembers what, before anybody rolls. */
export const StudentsPage = () => {
  const { day, settings } = useDay()
  const { plan } = usePlan(settings)
  const students = useQuery(studentsQuery)
  const { events, tell, waiting } = useDayEvents(day?.id ?? '')
  const links = useQuery({ ...linksQuery(day?.id ?? ''), enabled: day !== undefined, refetchInterval: 20_000 })
  const [chosen, setChosen] = useState<string | null>(null)
  const put = (next: StudentLink[] | undefined): unknown => day && queryClient.setQueryData(linksQuery(day.id).queryKey, next)
  const give = useMutation({
    mutationFn: (studentId: string) => call(api.giveLink, { params: { dayId: day?.id ?? '', studentId } }),
    onSuccess: (link) => put([...(links.data ?? []).filter((l) => l.studentId !== link.studentId), link]),
  })
  const withdraw = useMutation({
    mutationFn: (studentId: string) => call(api.withdrawLink, { params: { dayId: day?.id ?? '', studentId } }),
    onSuccess: put,
  })
  if (!day) return <Typography>Make a day first: students are asked for it.</Typography>
  const own = (students.data ?? []).filter((s) => day.plan.studentIds.includes(s.id))
  const student = own.find((s) => s.id === chosen)
  const nameOf = (cornerId: string | null): string =>
    cornerId === null ? 'flags, cones, emergencies' : cornerName(plan?.corners ?? [], cornerId)
  return (
    <Stack spacing={1.5}>
      <Stack direction="row" useFlexGap spacing={1.5} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="h1">Students</Typography>
        <BriefTabs />
        <Typography color="text.secondary" role="status">
          {`${own.filter((s) => preparationOf(events, s.id).radioHeard).length} of ${own.length} radios checked${waiting > 0 ? ` · ${waiting} saved here, not sent yet` : ''}`}
        </Typography>
      </Stack>
      <ProblemNote error={students.error ?? links.error ?? give.error ?? withdraw.error} />
      {own.length === 0 && <Typography>No students on this day yet. Add them in the Day stage.</Typography>}
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.5fr) minmax(0, 1fr)', gap: 3 }}>
        <Box role="region" aria-label="Students, scroll" tabIndex={0} sx={{ maxHeight: 640, overflow: 'auto' }}>
          <Table size="small" stickyHeader aria-label="Students of the day" sx={{ '& .MuiTableCell-root': { px: 0.75, py: 0.4 } }}>
            <TableHead>
              <TableRow>
                <TableCell>Student</TableCell>
                <TableCell>Level</TableCell>
                <TableCell>Briefing</TableCell>
                <TableCell>Radio</TableCell>
                <TableCell>Recall quiz</TableCell>
                <TableCell>Link</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {own.map((s) => {
                const { acknowledged, radioHeard, answers } = preparationOf(events, s.id)
                const gaps = quizGaps(answers)
                const link = links.data?.find((l) => l.studentId === s.id)
                return (
                  <TableRow key={s.id} hover selected={s.id === chosen} onClick={() => setChosen(s.id)} sx={{ cursor: 'pointer' }}>
                    <TableCell sx={{ fontWeight: 600 }}>
                      <Box
                        component="button"
                        type="button"
                        onClick={() => setChosen(s.id)}
                        sx={{
                          border: 0,
                          background: 'none',
                          font: 'inherit',
                          fontWeight: 600,
                          color: 'inherit',
                          p: 0,
                          cursor: 'pointer',
                          textAlign: 'left',
                        }}
                      >
                        {s.name}
                      </Box>
                    </TableCell>
                    <TableCell>{levelName(s.level)}</TableCell>
                    <TableCell className="figures">{`${Object.keys(acknowledged).length} of ${briefingParts.length}`}</TableCell>
                    <TableCell>
                      {radioHeard ? (
                        `heard ${radioHeard.slice(11, 16)}`
                      ) : (
                        <Button
                          size="small"
                          variant="outlined"
                          aria-label={`${s.name} heard the radio`}
                          sx={{ minHeight: 0, py: 0 }}
                          onClick={(e) => {
                            e.stopPropagation()
                            tell({ kind: 'radio-heard', studentId: s.id })
                          }}
                        >
                          Heard
                        </Button>
                      )}
                    </TableCell>
                    <TableCell>
                      {answers.length === 0
                        ? 'not taken'
                        : `${answers.filter((a) => a.right).length} of ${answers.length}${gaps.length > 0 ? ` · gaps: ${gaps.map((g) => nameOf(g.cornerId)).join(', ')}` : ''}`}
                    </TableCell>
                    <TableCell sx={{ whiteSpace: 'nowrap' }}>
                      {link ? (
                        <Button
                          size="small"
                          variant="text"
                          sx={{ minHeight: 0, py: 0, px: 0.5 }}
                          onClick={(e) => {
                            e.stopPropagation()
                            withdraw.mutate(s.id)
                          }}
                        >
                          Withdraw
                        </Button>
                      ) : (
                        <Button
                          size="small"
                          variant="outlined"
                          aria-label={`Give ${s.name} a link`}
                          sx={{ minHeight: 0, py: 0 }}
                          onClick={(e) => {
                            e.stopPropagation()
                            setChosen(s.id)
                            give.mutate(s.id)
                          }}
                        >
                          Create link
                        </Button>
                      )}
                    </TableCell>
                  </TableRow>
                )
              })}
            </TableBody>
          </Table>
        </Box>
        {student ? (
          <OneStudent
            key={student.id}
            student={student}
            plan={plan}
            link={links.data?.find((l) => l.studentId === student.id)}
            acknowledged={preparationOf(events, student.id).acknowledged}
            onAcknowledge={(part) => tell({ kind: 'acknowledged', studentId: student.id, part })}
            onGone={() => setChosen(null)}
          />
        ) : (
          <Typography color="text.secondary">
            Choose a student to see their profile, what they have acknowledged, their link and pocket card.
          </Typography>
        )}
      </Box>
    </Stack>
  )
}

const OneStudent = ({
  student,
  plan,
  link,
  acknowledged,
  onAcknowledge,
  onGone,
}: {
  student: Student
  plan: Plan | undefined
  link: StudentLink | undefined
  acknowledged: Partial<Record<BriefingPart, string>>
  onAcknowledge: (part: BriefingPart) => void
  onGone: () => void
}) => {
  const session = useQuery(sessionQuery)
  const [sure, setSure] = useState(false)
  const change = useMutation({
    mutationFn: ({ id, ...body }: Student) => call(api.changeStudent, { params: { studentId: id }, body }),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: studentsQuery.queryKey }),
  })
  const erase = useMutation({
    mutationFn: () => call(api.eraseStudent, { params: { studentId: student.id } }),
    onSuccess: () => {
      onGone()
      void queryClient.invalidateQueries()
    },
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
  const address = link ? `${window.location.origin}/s/${link.token}` : null
  return (
    <Stack component="section" aria-label={`About ${student.name}`} spacing={1.5}>
      <Typography variant="h2">{student.name}</Typography>
      <ProblemNote error={change.error ?? erase.error} />
      <Stack direction="row" useFlexGap spacing={1.5} sx={{ flexWrap: 'wrap' }}>
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
      <Typography variant="body2">
        {profile.worries.length > 0
          ? `Feels wrong at: ${profile.worries.map((id) => cornerName(plan?.corners ?? [], id)).join(', ')}`
          : 'No corner worries them.'}
      </Typography>
      <Box>
        <Typography variant="h3" sx={{ mb: 0.5 }}>
          Acknowledged
        </Typography>
        <Stack direction="row" useFlexGap spacing={0.75} sx={{ flexWrap: 'wrap' }}>
          {briefingParts.map((part) => {
            const at = acknowledged[part]
            return at ? (
              <Box key={part} sx={{ borderLeft: '4px solid', borderColor: 'primary.main', pl: 1, pr: 1.5, py: 0.5, fontSize: '0.88rem' }}>
                {`${partNames[part]} ${at.slice(11, 16)}`}
              </Box>
            ) : (
              <Button key={part} size="small" variant="outlined" onClick={() => onAcknowledge(part)}>
                {partNames[part]}
              </Button>
            )
          })}
        </Stack>
      </Box>
      {address && (
        <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
          <Box component="a" href={address} sx={{ fontSize: '0.8rem', overflowWrap: 'anywhere', color: 'primary.main' }}>
            {address}
          </Box>
          <Button size="small" variant="outlined" onClick={() => void navigator.clipboard?.writeText(address)}>
            Copy
          </Button>
        </Stack>
      )}
      <Stack direction="row" spacing={1}>
        <Button size="small" variant="outlined" component={Link} to={`/brief/card?student=${student.id}`}>
          Pocket card
        </Button>
        <Button size="small" variant="outlined" component={Link} to={`/brief/handout?student=${student.id}`}>
          Hand-out
        </Button>
        <Box sx={{ flex: 1 }} />
        {session.data?.account?.role === 'lead' &&
          (sure ? (
            <>
              <Button size="small" variant="contained" color="error" disabled={erase.isPending} onClick={() => erase.mutate()}>
                Erase everything: runs, logs, answers
              </Button>
              <Button size="small" variant="text" onClick={() => setSure(false)}>
                Cancel
              </Button>
            </>
          ) : (
            <Button size="small" variant="text" onClick={() => setSure(true)}>
              Erase this student
            </Button>
          ))}
      </Stack>
    </Stack>
  )
}
