import { Box, Button, InputBase, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { api, type DayPlan, type NewDayPlan, type Run } from '@ochote/contract'
import { levelName, levels, type Slot } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useNavigate } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { accountsQuery, queryClient, runsQuery, sessionQuery, studentsQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { columns } from '../../look/columns.ts'
import { quietUntilMeant } from '../../look/quiet-until-meant.ts'
import { LinesField } from '../../shared/lines-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { AddInstructor } from './add-instructor.tsx'
import { AddStudent } from './add-student.tsx'
import { DaySheet } from './day-sheet.tsx'
import { kindWords } from './slot-words.ts'
import { useStartRun } from './start-run.ts'

/** The day: who drives when, with whom, in which car; runs start from here. */
export const DayStage = () => {
  const { day, settings, changePlan } = useDay()
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const navigate = useNavigate()
  const session = useQuery(sessionQuery)
  const runs = useQuery({ ...runsQuery({ dayId: day?.id ?? '' }), enabled: day !== undefined })
  const start = useStartRun(day, (runId) => navigate(`/run/${runId}`))
  const addDay = useMutation({
    mutationFn: (plan: NewDayPlan) => call(api.addDay, { body: plan }),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: ['days'] }),
  })
  if (!settings) return null
  const makeDay = (): void =>
    addDay.mutate(firstDay(settings, students.data?.map((s) => s.id) ?? [], accounts.data?.map((a) => a.id) ?? []))
  if (!day)
    return (
      <Stack spacing={4} sx={{ maxWidth: 640 }}>
        <StageHead stage="Day" />
        <Typography>Add your students, then create a day. Everyone gets one twenty-minute run; change it as you like.</Typography>
        <Typography>
          {students.data && students.data.length > 0 ? students.data.map((s) => s.name).join(', ') : 'No students yet.'}
        </Typography>
        <AddStudent />
        <Box>
          <Button variant="contained" disabled={!students.data?.length} onClick={makeDay}>
            Create today
          </Button>
        </Box>
        <ProblemNote error={addDay.error} />
      </Stack>
    )
  const changeSlot = (slotId: string, change: Partial<Slot>): void =>
    changePlan((plan) => ({ ...plan, slots: plan.slots.map((s) => (s.id === slotId ? { ...s, ...change } : s)) }))
  return (
    <Stack spacing={4}>
      <StageHead stage="Day" facts={`${day.plan.title} · ${dayjs(day.plan.date).format('dddd D MMMM YYYY')} · ${day.plan.weather}`}>
        <Button size="small" variant="outlined" onClick={() => window.print()}>
          Print the day
        </Button>
      </StageHead>
      <ProblemNote error={start.error} />
      <DaySheet plan={day.plan} />
      <Box className="no-print" sx={columns('minmax(0, 1fr) 270px')}>
        {day.plan.slots.length === 0 ? (
          <Typography>This day has no run list; it is kept for its runs in the record.</Typography>
        ) : (
          <RunList
            plan={day.plan}
            runs={runs.data ?? []}
            starting={start.isPending}
            onStart={(slot) => start.mutate(slot)}
            onOpen={(run) => navigate(run.endedAt ? `/debrief/${run.id}` : `/run/${run.id}`)}
            onChange={changeSlot}
          />
        )}
        <Stack spacing={5}>
          <People plan={day.plan} />
          <Cars plan={day.plan} />
          <Box>
            <Typography variant="head" sx={{ mb: 1 }}>
              Before rolling
            </Typography>
            <LinesField
              label="Checked before every run"
              lines={day.plan.checkOff}
              note="One line for each; instructors confirm all with one touch."
              onChange={(checkOff) => changePlan((plan) => ({ ...plan, checkOff: checkOff.slice(0, 12).map((l) => l.slice(0, 80)) }))}
            />
          </Box>
          {session.data?.account?.role === 'lead' && <AddInstructor />}
        </Stack>
      </Box>
    </Stack>
  )
}

const firstDay = (settings: DayPlan['settings'], studentIds: string[], instructorIds: string[]): NewDayPlan => ({
  date: dayjs().format('YYYY-MM-DD'),
  title: 'Track day',
  venue: '',
  weather: '',
  rules: ['Helmets on and belts tight before the car rolls.', 'The venue’s rules and its marshals stand above this plan.'],
  flags: [],
  settings,
  studentIds,
  instructorIds,
  cars: [{ id: 'car-1', number: '1', vehicleId: settings.vehicleId, owner: '' }],
  slots: studentIds.map((studentId, i) => {
    const start = dayjs()
      .hour(9)
      .minute(0)
      .add(i * 25, 'minute')
    return {
      id: `s${i + 1}`,
      start: start.format('HH:mm'),
      end: start.add(20, 'minute').format('HH:mm'),
      kind: 'run',
      title: 'Ride-along',
      studentId,
      instructorId: instructorIds[0],
      carId: 'car-1',
    }
  }),
})

type RunListProps = {
  plan: DayPlan
  runs: readonly Run[]
  starting: boolean
  onStart: (slot: Slot) => void
  onOpen: (run: Run) => void
  onChange: (slotId: string, change: Partial<Slot>) => void
}

const RunList = ({ plan, runs, starting, onStart, onOpen, onChange }: RunListProps) => {
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const nameOf = (id: string | undefined, list: readonly { id: string; name: string }[] | undefined): string =>
    list?.find((p) => p.id === id)?.name ?? ''
  const next = plan.slots.find((slot) => slot.kind === 'run' && slot.studentId && !runs.some((r) => r.slotId === slot.id))
  return (
    <RowTable aria-label="Run list">
      <TableHead>
        <TableRow>
          <TableCell>Time</TableCell>
          <TableCell>What</TableCell>
          <TableCell>Student</TableCell>
          <TableCell>Instructor</TableCell>
          <TableCell>Car</TableCell>
          <TableCell align="right" component="td" />
        </TableRow>
      </TableHead>
      <TableBody>
        {plan.slots.map((slot) => {
          const run = runs.find((r) => r.slotId === slot.id)
          const isRun = slot.kind === 'run'
          const isNext = slot.id === next?.id
          return (
            <TableRow key={slot.id} sx={isRun ? (isNext || run ? {} : quietUntilMeant) : { backgroundColor: 'var(--verge)' }}>
              <TableCell className="figures" sx={{ whiteSpace: 'nowrap' }}>
                <InputBase
                  key={slot.start}
                  defaultValue={slot.start}
                  inputProps={{
                    'aria-label': `Start of ${slot.title}`,
                    inputMode: 'numeric',
                    pattern: '([01]\\d|2[0-3]):[0-5]\\d',
                    title: 'A time as hh:mm',
                  }}
                  sx={{
                    width: '5ch',
                    mr: 1,
                    font: 'inherit',
                    borderBottom: 'hair',
                    borderBottomStyle: 'dotted',
                    '& input:invalid': { color: 'error.main' },
                    '& input': { p: 0, font: 'inherit' },
                    '&:hover, &.Mui-focused': { backgroundColor: 'var(--verge)' },
                  }}
                  onBlur={(e) => e.target.validity.valid && e.target.value !== slot.start && onChange(slot.id, { start: e.target.value })}
                />
                {`to ${slot.end}`}
              </TableCell>
              <TableCell colSpan={slot.studentId ? 1 : 2}>{isRun ? slot.title : `${kindWords[slot.kind]}: ${slot.title}`}</TableCell>
              {slot.studentId && (
                <TableCell sx={{ fontWeight: 600, whiteSpace: 'nowrap' }}>{nameOf(slot.studentId, students.data)}</TableCell>
              )}
              <TableCell sx={{ whiteSpace: 'nowrap' }}>{nameOf(slot.instructorId, accounts.data)}</TableCell>
              <TableCell className="figures">{plan.cars.find((c) => c.id === slot.carId)?.number ?? ''}</TableCell>
              <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
                {isRun && slot.studentId && !run && (
                  <Button size="small" variant={isNext ? 'contained' : 'outlined'} disabled={starting} onClick={() => onStart(slot)}>
                    Start the run
                  </Button>
                )}
                {run && (
                  <Button size="small" variant="outlined" onClick={() => onOpen(run)}>
                    {run.endedAt ? 'Debrief' : 'Running: open'}
                  </Button>
                )}
              </TableCell>
            </TableRow>
          )
        })}
      </TableBody>
    </RowTable>
  )
}

const People = ({ plan }: { plan: DayPlan }) => {
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const present = students.data?.filter((s) => plan.studentIds.includes(s.id)) ?? []
  return (
    <Box>
      <Typography variant="head" component="h2" gutterBottom>
        Instructors
      </Typography>
      <Typography variant="text" sx={{ mb: 3 }}>
        {accounts.data
          ?.filter((a) => plan.instructorIds.includes(a.id))
          .map((a) => (a.role === 'lead' ? `${a.name} (lead)` : a.name))
          .join(', ')}
      </Typography>
      <Typography variant="head" component="h2" gutterBottom>
        Students
      </Typography>
      {levels.map((level) => (
        <Typography key={level} variant="text" sx={{ mb: 2 }}>
          <Box component="span" sx={{ color: 'text.secondary' }}>{`${levelName(level)}: `}</Box>
          {present
            .filter((s) => s.level === level)
            .map((s) => s.name)
            .join(', ') || 'nobody'}
        </Typography>
      ))}
    </Box>
  )
}

const Cars = ({ plan }: { plan: DayPlan }) => {
  const vehicles = useQuery(vehiclesQuery)
  return (
    <Box>
      <Typography variant="head" component="h2" gutterBottom>
        Cars
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'max-content minmax(0, 1fr)', columnGap: 3, rowGap: 1 }}>
        {plan.cars.map((car) => (
          <Box key={car.id} sx={{ display: 'contents' }}>
            <Box component="span" className="figures" sx={{ fontWeight: 650, textAlign: 'right' }}>
              {car.number}
            </Box>
            <span>{`${vehicles.data?.find((v) => v.id === car.vehicleId)?.name ?? car.vehicleId}${car.owner === '' ? '' : `, ${car.owner}`}`}</span>
          </Box>
        ))}
      </Box>
    </Box>
  )
}
