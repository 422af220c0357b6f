import { Box, Button, Stack, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { api, type StudentLink } from '@ochote/contract'
import { briefingParts, cornerName, type DayEvent, type Preparation, preparationOf, quizGaps, type Student } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { dayEventsQuery, linksQuery, queryClient, studentsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayEvents } from '../../data/events/use-day-events.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { columns, restOfWindow } from '../../look/columns.ts'
import { levelName } from '../../shared/language/staff-words.ts'
import { lastRoundInWords } from '../../shared/memory-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { OneStudent } from './one-student.tsx'

/** The links of a day's students, with how to create and withdraw them. */
const useLinks = (dayId: string | undefined) => {
  const id = dayId ?? ''
  const links = useQuery({ ...linksQuery(id), enabled: dayId !== undefined, refetchInterval: 20_000 })
  const put = (next: StudentLink[]): unknown => dayId && queryClient.setQueryData(linksQuery(dayId).queryKey, next)
  const create = useMutation({
    mutationFn: (studentId: string) => call(api.giveLink, { params: { dayId: id, studentId } }),
    onSuccess: (link) => put([...(links.data ?? []).filter((l) => l.studentId !== link.studentId), link]),
  })
  const withdraw = useMutation({
    mutationFn: (studentId: string) => call(api.withdrawLink, { params: { dayId: id, studentId } }),
    onSuccess: put,
  })
  const giveAll = useMutation({ mutationFn: () => call(api.giveLinks, { params: { dayId: id } }), onSuccess: put })
  return {
    giveAll: () => giveAll.mutate(),
    givingAll: giveAll.isPending,
    linkOf: (studentId: string): StudentLink | undefined => links.data?.find((l) => l.studentId === studentId),
    create: create.mutate,
    withdraw: withdraw.mutate,
    error: links.error ?? create.error ?? withdraw.error ?? giveAll.error,
  }
}

/** How much of a student's preparation is still open. */
const gapsOf = (events: readonly DayEvent[], studentId: string): number => {
  const { acknowledged, radioHeard, answers } = preparationOf(events, studentId)
  return briefingParts.length - Object.keys(acknowledged).length + (radioHeard ? 0 : 1) + (answers.length > 0 ? 0 : 1)
}

/** Place in an order; whoever came later stands at its end. */
const rankIn = (order: readonly string[], id: string): number => {
  const at = order.indexOf(id)
  return at < 0 ? order.length : at
}

/** Ids of the day's students, the least ready first, as it was when the page opened: no row moves under a finger. */
const useOrderOnce = (day: ReturnType<typeof useDay>['day'], students: readonly Student[] | undefined): readonly string[] | null => {
  const [order, setOrder] = useState<readonly string[] | null>(null)
  const read = useQuery({ ...dayEventsQuery(day?.id ?? ''), enabled: day !== undefined })
  const known = students !== undefined && (read.isFetched || read.fetchStatus === 'paused')
  useEffect(() => {
    if (known && order === null) setOrder(students.map((s) => s.id).sort((a, b) => gapsOf(read.data ?? [], b) - gapsOf(read.data ?? [], a)))
  }, [known, order, students, read.data])
  return order
}

/** Students before anybody rolls: profile, acknowledgements, radio, quiz and links. */
export const StudentsPage = () => {
  const { day, settings } = useDay()
  const { plan } = usePlan(settings)
  const students = useQuery(studentsQuery)
  const { events, tell, waiting } = useDayEvents(day?.id ?? '')
  const links = useLinks(day?.id)
  const [chosen, setChosen] = useState<string | null>(null)
  const order = useOrderOnce(day, students.data)
  if (!day) return <Typography>{say`Make a day first: students are asked for it.`}</Typography>
  const ofDay = (students.data ?? [])
    .filter((s) => day.plan.studentIds.includes(s.id))
    .sort((a, b) => rankIn(order ?? [], a.id) - rankIn(order ?? [], b.id))
  const student = ofDay.find((s) => s.id === chosen) ?? ofDay[0]
  const nameOf = (cornerId: string | null): string =>
    cornerId === null ? say`flags, cones, emergencies` : cornerName(plan?.corners ?? [], cornerId)
  const without = ofDay.filter((s) => !links.linkOf(s.id)).length
  const heard = ofDay.filter((s) => preparationOf(events, s.id).radioHeard).length
  return (
    <Stack spacing={3}>
      <StageHead
        stage="Brief"
        facts={say`${heard} of ${ofDay.length} radios checked${waiting > 0 ? say` · ${waiting} saved here, not sent yet` : ''}`}
      >
        {without > 0 && (
          <Button size="small" variant="outlined" disabled={links.givingAll} onClick={links.giveAll}>
            {without === ofDay.length ? say`Give all ${without} a link` : say`Give the other ${without} a link`}
          </Button>
        )}
        <Button size="small" variant="outlined" component={Link} to="/brief/slips">
          {say`Slips to print`}
        </Button>
      </StageHead>
      <ProblemNote error={students.error ?? links.error} />
      {order === null && <Reading what={say`Reading the day …`} />}
      {order !== null && ofDay.length === 0 && <Typography>{say`No students on this day yet. Add them in the Day stage.`}</Typography>}
      <Box sx={columns('minmax(0, 1.5fr) minmax(0, 1fr)')}>
        <Box role="region" aria-label={say`Students, scroll`} tabIndex={0} sx={{ maxHeight: { md: restOfWindow(190) }, overflow: 'auto' }}>
          <Table size="small" stickyHeader aria-label={say`Students of the day`} sx={{ '& .MuiTableCell-root': { px: 2, py: 1 } }}>
            <TableHead>
              <TableRow>
                {[say`Student`, say`Level`, say`Briefing`, say`Radio`, say`Recall quiz`, 'Link'].map((name) => (
                  <TableCell key={name}>{name}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {(order === null ? [] : ofDay).map((s) => (
                <StudentRow
                  key={s.id}
                  student={s}
                  preparation={preparationOf(events, s.id)}
                  hasLink={links.linkOf(s.id) !== undefined}
                  nameOf={nameOf}
                  chosen={s.id === student?.id}
                  onChoose={() => setChosen(s.id)}
                  onHeard={() => tell({ kind: 'radio-heard', studentId: s.id })}
                  onCreateLink={() => links.create(s.id)}
                  onWithdrawLink={() => links.withdraw(s.id)}
                />
              ))}
            </TableBody>
          </Table>
        </Box>
        {student ? (
          <OneStudent
            key={student.id}
            student={student}
            plan={plan}
            link={links.linkOf(student.id)}
            acknowledged={preparationOf(events, student.id).acknowledged}
            onAcknowledge={(part) => tell({ kind: 'acknowledged', studentId: student.id, part })}
            onGone={() => setChosen(null)}
          />
        ) : (
          <Typography color="text.secondary">
            {say`Choose a student to see their profile, what they have acknowledged, their link and pocket card.`}
          </Typography>
        )}
      </Box>
    </Stack>
  )
}

type RowProps = {
  student: Student
  preparation: Preparation
  hasLink: boolean
  /** Name of a corner; of what is about no corner for null. */
  nameOf: (cornerId: string | null) => string
  chosen: boolean
  onChoose: () => void
  onHeard: () => void
  onCreateLink: () => void
  onWithdrawLink: () => void
}

const nameButton = {
  border: 0,
  background: 'none',
  font: 'inherit',
  fontWeight: 600,
  color: 'inherit',
  p: 0,
  cursor: 'pointer',
  textAlign: 'left',
}

const StudentRow = ({ student, preparation, hasLink, nameOf, chosen, onChoose, onHeard, onCreateLink, onWithdrawLink }: RowProps) => {
  const { acknowledged, radioHeard, answers, rounds } = preparation
  return (
    <TableRow hover selected={chosen} onClick={onChoose} sx={{ cursor: 'pointer' }}>
      <TableCell sx={{ fontWeight: 600 }}>
        <Box component="button" type="button" onClick={onChoose} sx={nameButton}>
          {student.name}
        </Box>
      </TableCell>
      <TableCell>{levelName(student.level)}</TableCell>
      <TableCell className="figures">{say`${Object.keys(acknowledged).length} of ${briefingParts.length}`}</TableCell>
      <TableCell>
        {radioHeard ? (
          say`heard ${radioHeard.slice(11, 16)}`
        ) : (
          <RowButton label={say`${student.name} heard the radio`} words={say`Heard`} onPress={onHeard} />
        )}
      </TableCell>
      <TableCell>{quizInWords({ answers, rounds }, nameOf)}</TableCell>
      <TableCell sx={{ whiteSpace: 'nowrap' }}>
        {hasLink ? (
          <RowButton label={say`Withdraw the link of ${student.name}`} words={say`Withdraw`} quiet onPress={onWithdrawLink} />
        ) : (
          <RowButton
            label={say`Create a link for ${student.name}`}
            words={say`Create link`}
            onPress={() => {
              onChoose()
              onCreateLink()
            }}
          />
        )}
      </TableCell>
    </TableRow>
  )
}

/** A button in a row that does not also choose the row. */
const RowButton = ({ label, words, quiet = false, onPress }: { label: string; words: string; quiet?: boolean; onPress: () => void }) => (
  <Button
    size="small"
    variant={quiet ? 'text' : 'outlined'}
    aria-label={label}
    sx={{ ...(quiet ? { px: 1 } : {}) }}
    onClick={(e) => {
      e.stopPropagation()
      onPress()
    }}
  >
    {words}
  </Button>
)

const quizInWords = ({ answers, rounds }: Pick<Preparation, 'answers' | 'rounds'>, nameOf: RowProps['nameOf']): string => {
  const fromMemory = rounds.length > 0 ? say` · from memory: ${lastRoundInWords(rounds)}` : ''
  if (answers.length === 0) return say`not taken${fromMemory}`
  const gaps = quizGaps(answers)
  const gapWords = gaps.length > 0 ? say` · gaps: ${gaps.map((g) => nameOf(g.cornerId)).join(', ')}` : ''
  return say`${answers.filter((a) => a.right).length} of ${answers.length}${gapWords}${fromMemory}`
}
