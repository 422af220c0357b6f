import { Box, Button, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { api, type DayPlan } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useState } from 'react'
import { flushSync } from 'react-dom'
import { Link, useNavigate } from 'react-router'
import { addressOf } from '../../data/api/api-client.ts'
import { runsQuery, studentsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { usePlanHistory } from '../../data/day/use-plan-history.ts'
import { say } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { LinesField } from '../../shared/lines-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { Announce } from './announce.tsx'
import { DayCars } from './day-cars.tsx'
import { DayFacts } from './day-facts.tsx'
import { DayPeople } from './day-people.tsx'
import { DaySheet, type SheetSize } from './day-sheet.tsx'
import { RunList } from './run-list.tsx'
import { useStartRun } from './start-run.ts'

const panels = { people: say`People`, cars: say`Cars`, day: say`The day`, checks: say`Checks` } as const
type Panel = keyof typeof panels

/** The day: who drives when, with whom, in which car; runs start from here. */
export const DayStage = () => {
  const { day } = useDay()
  const { change, undo, redo } = usePlanHistory()
  const navigate = useNavigate()
  const runs = useQuery({ ...runsQuery({ dayId: day?.id ?? '' }), enabled: day !== undefined })
  const students = useQuery(studentsQuery)
  const start = useStartRun(day, (runId) => navigate(`/run/${runId}`))
  const [panel, setPanel] = useState<Panel>('people')
  const [sheet, setSheet] = useState<SheetSize>('A4')
  if (!day)
    return (
      <Stack spacing={4} sx={{ maxWidth: 640 }}>
        <StageHead stage="Day" />
        <Typography>{say`No day yet. Choose its date; people, cars and times come next.`}</Typography>
        <Box>
          <Button variant="contained" component={Link} to="/day/all">
            {say`Make a day`}
          </Button>
        </Box>
      </Stack>
    )
  const print = (size: SheetSize): void => {
    flushSync(() => setSheet(size))
    window.print()
  }
  const put = (next: Partial<DayPlan>): void => change((plan) => ({ ...plan, ...next }))
  return (
    <Stack spacing={4}>
      <StageHead
        stage="Day"
        facts={[day.plan.title, dayjs(day.plan.date).format(say`dddd D MMMM YYYY`), day.plan.venue, day.plan.weather]
          .filter(Boolean)
          .join(' · ')}
      >
        <UndoRedo undo={undo} redo={redo} />
        <Button size="small" variant="outlined" onClick={() => print('A4')}>
          {say`Print the day`}
        </Button>
        <Button size="small" variant="outlined" component="a" href={addressOf(api.dayCalendar, { dayId: day.id }, undefined)}>
          {say`Calendar file`}
        </Button>
        <Button size="small" variant="outlined" onClick={() => print('A3')}>
          {say`Board, A3`}
        </Button>
      </StageHead>
      <ProblemNote error={start.error} />
      <Announce plan={day.plan} nameOf={(id) => students.data?.find((s) => s.id === id)?.name ?? id} onChange={change} />
      <DaySheet plan={day.plan} size={sheet} />
      <Box className="no-print" sx={columns('minmax(0, 1fr) 320px')}>
        <RunList
          plan={day.plan}
          runs={runs.data ?? []}
          starting={start.isPending}
          onStart={(slot) => start.mutate(slot)}
          onOpen={(run) => navigate(run.endedAt ? `/debrief/${run.id}` : `/run/${run.id}`)}
          onChange={change}
        />
        <Stack spacing={3}>
          <ToggleButtonGroup
            size="small"
            exclusive
            aria-label={say`Beside the run list`}
            value={panel}
            onChange={(_, next: Panel | null) => next && setPanel(next)}
          >
            {(Object.keys(panels) as Panel[]).map((name) => (
              <ToggleButton key={name} value={name}>
                {panels[name]}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          {panel === 'people' && <DayPeople plan={day.plan} onChange={put} />}
          {panel === 'cars' && <DayCars plan={day.plan} onChange={put} />}
          {panel === 'day' && <DayFacts plan={day.plan} onChange={put} />}
          {panel === 'checks' && (
            <LinesField
              label={say`Checked before every run`}
              lines={day.plan.checkOff}
              note={say`One line for each; instructors confirm all with one touch.`}
              onChange={(checkOff) => put({ checkOff: checkOff.slice(0, 12).map((l) => l.slice(0, 80)) })}
            />
          )}
        </Stack>
      </Box>
    </Stack>
  )
}
