import { Box, Button, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { api, type DayPlan } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { addressOf } from '../../data/api/api-client.ts'
import { runsQuery, sessionQuery, studentsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { say } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { levelName } from '../../shared/language/staff-words.ts'
import { OfflineNote } from '../../shared/offline-note.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { SyncNote } from '../../shared/sync-note.tsx'
import { useStartRun } from '../day/start-run.ts'

/** The ways to work on the track, each for one person at one place. */
const modes = [
  { to: '/run/pit-wall', name: say`Pit wall`, what: say`All cars, gaps, release, flags, stops` },
  { to: '/run/lead-follow', name: say`Lead-follow`, what: say`Two to six cars behind you, taking turns` },
  { to: '/run/corner-post', name: say`Corner post`, what: say`One corner, one tap per car` },
  { to: '/run/pad', name: say`Pad`, what: say`One exercise, attempt after attempt` },
] as const

type Slot = DayPlan['slots'][number]

/** How long until a start that is today, or how long it is overdue. */
const timeTo = (start: string, date: string | undefined): string => {
  const at = dayjs(`${date}T${start}`)
  if (!at.isValid() || !at.isSame(dayjs(), 'day')) return ''
  const minutes = at.diff(dayjs(), 'minute')
  return minutes >= 0 ? `in ${minutes} min` : say`due ${-minutes} min ago`
}

/** Which run to open: those on track now, then the next ones of the day; and the other ways to work. */
export const RunStage = () => {
  const { day } = useDay()
  const navigate = useNavigate()
  const students = useQuery(studentsQuery)
  const runs = useQuery({ ...runsQuery({ dayId: day?.id ?? '' }), enabled: day !== undefined })
  const start = useStartRun(day, (runId) => navigate(`/run/${runId}`))
  const open = runs.data?.filter((r) => !r.endedAt) ?? []
  const session = useQuery(sessionQuery)
  const me = session.data?.account?.id
  const waiting = day?.plan.slots.filter((s) => s.kind === 'run' && !runs.data?.some((r) => r.slotId === s.id)) ?? []
  // Whoever opens this page has runs of their own to begin with.
  const mine = waiting.filter((s) => s.instructorId === me)
  const [whose, setWhose] = useState<'mine' | 'all' | 'driven'>('all')
  const [whole, setWhole] = useState(false)
  const listed = whose === 'all' || mine.length === 0 ? [...mine, ...waiting.filter((s) => s.instructorId !== me)] : mine
  const next = whole ? listed : listed.slice(0, 8)
  const driven = runs.data?.filter((r) => r.endedAt) ?? []
  const studentOf = (slot: Slot) => students.data?.find((s) => s.id === slot.studentId)
  const levelOf = (slot: Slot): string => {
    const student = studentOf(slot)
    return student ? levelName(student.level) : ''
  }
  const carOf = (slot: Slot): string => {
    const car = day?.plan.cars.find((c) => c.id === slot.carId)
    return car ? say`car ${car.number}` : ''
  }
  return (
    <Stack spacing={4}>
      <StageHead stage="Run">
        <SyncNote />
      </StageHead>
      <ProblemNote error={start.error ?? runs.error} />
      <OfflineNote />
      {runs.isLoading && <Reading what={say`Reading the runs …`} />}
      <Box sx={columns('minmax(0, 3fr) minmax(0, 2fr)')}>
        <Stack spacing={5}>
          {open.length > 0 && (
            <Box>
              <Typography variant="head" gutterBottom>
                {say`On track now`}
              </Typography>
              {open.map((run) => (
                <Button key={run.id} variant="contained" sx={{ mr: 2, mb: 2 }} component={Link} to={`/run/${run.id}`}>
                  {run.studentName}
                </Button>
              ))}
            </Box>
          )}
          <Box>
            <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap', mb: 1 }}>
              <Typography variant="head">{whose === 'driven' ? say`Driven today` : say`Next in the run list: ride along`}</Typography>
              <ToggleButtonGroup
                size="small"
                exclusive
                value={whose}
                aria-label={say`Which runs`}
                onChange={(_, chosen: typeof whose | null) => chosen && setWhose(chosen)}
              >
                <ToggleButton value="mine">{say`Mine (${mine.length})`}</ToggleButton>
                <ToggleButton value="all">{say`All (${waiting.length})`}</ToggleButton>
                <ToggleButton value="driven">{say`Driven (${driven.length})`}</ToggleButton>
              </ToggleButtonGroup>
            </Stack>
            {day && me && whose !== 'driven' && mine.length > 0 && (
              <Button
                size="small"
                variant="text"
                component="a"
                href={addressOf(api.dayCalendar, { dayId: day.id }, { instructorId: me })}
                sx={{ mb: 1 }}
              >
                {say`My times into a calendar`}
              </Button>
            )}
            {whose !== 'driven' && next.length === 0 && (
              <Typography>{say`No more runs are planned. Plan them in the Day stage.`}</Typography>
            )}
            {whose === 'driven' && driven.length === 0 && <Typography>{say`Nothing was driven yet.`}</Typography>}
            {whose === 'driven' &&
              driven.map((run) => (
                <Stack
                  key={run.id}
                  direction="row"
                  useFlexGap
                  spacing={4}
                  sx={{ alignItems: 'center', flexWrap: 'wrap', py: 2, borderBottom: 'hair', borderColor: 'divider' }}
                >
                  <Typography className="figures" sx={{ width: '5ch' }}>
                    {dayjs(run.startedAt).format('HH:mm')}
                  </Typography>
                  <Box sx={{ flex: '1 1 200px' }}>
                    <Typography sx={{ fontWeight: 650 }}>{run.studentName}</Typography>
                    <Typography variant="note" color="text.secondary">
                      {run.hasLog ? say`log is there` : say`no log yet`}
                    </Typography>
                  </Box>
                  <Button variant="outlined" component={Link} to={`/debrief/${run.id}`}>
                    {say`Debrief`}
                  </Button>
                </Stack>
              ))}
            {whose !== 'driven' &&
              next.map((slot, i) => (
                <Stack
                  key={slot.id}
                  direction="row"
                  useFlexGap
                  spacing={4}
                  sx={{ alignItems: 'center', flexWrap: 'wrap', py: 2, borderBottom: 'hair', borderColor: 'divider' }}
                >
                  <Typography className="figures" sx={{ width: '5ch' }}>
                    {slot.start}
                  </Typography>
                  <Box sx={{ flex: '1 1 200px' }}>
                    <Typography sx={{ fontWeight: 650 }}>
                      {studentOf(slot)?.name}
                      {slot.instructorId === me ? say` · yours` : ''}
                    </Typography>
                    <Typography variant="note" color="text.secondary">
                      {[levelOf(slot), carOf(slot), timeTo(slot.start, day?.plan.date)].filter(Boolean).join(' · ')}
                    </Typography>
                  </Box>
                  <Button variant={i === 0 ? 'contained' : 'outlined'} disabled={start.isPending} onClick={() => start.mutate(slot)}>
                    {say`Start the run`}
                  </Button>
                </Stack>
              ))}
            {whose !== 'driven' && listed.length > next.length && (
              <Button variant="text" onClick={() => setWhole(true)}>
                {say`Show the other ${listed.length - next.length}`}
              </Button>
            )}
          </Box>
        </Stack>
        <Box component="section" aria-label={say`Other ways to work`}>
          <Typography variant="head" gutterBottom>
            {say`Not in the car?`}
          </Typography>
          <Box
            sx={{
              display: 'grid',
              gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: '1fr 1fr 1fr 1fr', md: 'minmax(0, 1fr)' },
              columnGap: 2,
            }}
          >
            {modes.map(({ to, name, what }) => (
              <Box
                key={to}
                component={Link}
                to={to}
                sx={{
                  display: 'block',
                  color: 'text.primary',
                  textDecoration: 'none',
                  py: 3,
                  px: 3,
                  mb: 2,
                  borderLeft: 'note',
                  borderColor: 'text.primary',
                  '&:hover': { backgroundColor: 'var(--verge)' },
                }}
              >
                <Box sx={{ fontWeight: 650, fontSize: 'size.head' }}>{name}</Box>
                <Box sx={{ color: 'text.secondary' }}>{what}</Box>
              </Box>
            ))}
          </Box>
          <Typography color="text.secondary">{say`All of these log to the same runs; switch whenever you like.`}</Typography>
        </Box>
      </Box>
    </Stack>
  )
}
