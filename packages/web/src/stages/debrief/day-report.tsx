import { Box, Button, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import type { Day, Group, Run } from '@ochote/contract'
import { formatDate, formatLapTime, groupPicture, padStandings, standing } from '@ochote/core'
import { useIsFetching, useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { useNavigate, useParams } from 'react-router'
import {
  accountsQuery,
  carConditionsQuery,
  circuitQuery,
  dayEventsQuery,
  dayQuery,
  groupQuery,
  runsQuery,
  vehiclesQuery,
} from '../../data/api/queries.ts'
import { inside, say, staffLanguage } from '../../language/say.ts'
import { mistakeName, staffWords } from '../../shared/language/staff-words.ts'
import { standingInWords } from '../../shared/pad/pad-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { dayEventInWords } from '../run/day-event-words.ts'
import { changesOf, GroupTable } from './group-picture.tsx'

/** The report of a day on paper: conditions, who drove what, what the group got wrong and what was changed, incidents, cars. */
export const DayReport = () => {
  const { dayId = '' } = useParams()
  const day = useQuery(dayQuery(dayId))
  const group = useQuery(groupQuery(dayId))
  const navigate = useNavigate()
  // Half a report on paper would look like a whole one.
  const reading = useIsFetching() > 0
  if (!day.data || !group.data) return <ProblemNote error={day.error ?? group.error} />
  return (
    <Stack
      component="main"
      spacing={5}
      sx={{ width: 'min(190mm, calc(100vw - 32px))', mx: 'auto', my: 4, '@media print': { my: 0, width: '182mm' } }}
    >
      <Stack direction="row" spacing={2} className="no-print">
        <Button variant="contained" disabled={reading} onClick={() => window.print()}>
          {reading ? say`Reading the runs …` : say`Print`}
        </Button>
        <Button variant="outlined" onClick={() => navigate('/debrief')}>
          {say`Back to the debrief`}
        </Button>
      </Stack>
      <Report day={day.data} group={group.data} />
    </Stack>
  )
}

const Report = ({ day, group }: { day: Day; group: Group }) => {
  const { plan } = day
  const runs = useQuery(runsQuery({ dayId: day.id }))
  const circuit = useQuery(circuitQuery(plan.settings.circuitId))
  const events = useQuery(dayEventsQuery(day.id))
  const accounts = useQuery(accountsQuery)
  const cars = useQuery(carConditionsQuery(day.id))
  const nameOf = (id: string): string => circuit.data?.notes.cornerNames[id] ?? id
  const valid = useMemo(() => standing(events.data ?? []), [events.data])
  const changes = useMemo(() => changesOf(valid, group.passes), [valid, group.passes])
  const all = group.drove.length + group.formerDrove
  const oldestFirst = [...(runs.data ?? [])].reverse()
  const of = (kinds: readonly string[]) => valid.filter((e) => kinds.includes(e.kind))
  const watched = (cars.data ?? []).filter((c) => [c.brakes, c.tyres, c.other].some((v) => v !== 'good'))
  const sections = [
    {
      title: say`Incidents, flags and stops`,
      without: say`incidents, flags or stops`,
      items: of(['incident', 'flag', 'stop', 'restart']).map((e) => `${e.at.slice(11, 16)} ${dayEventInWords(e, nameOf)}`),
    },
    {
      title: say`Weather as it came`,
      without: say`weather from a station (as forecast otherwise)`,
      items: of(['weather']).map((e) => `${e.at.slice(11, 16)} ${dayEventInWords(e, nameOf)}`),
    },
    {
      title: say`On the pad`,
      without: say`attempts on the pad`,
      items: padStandings(
        valid.flatMap((e) => (e.kind === 'drill' ? [{ date: plan.date, drill: e.drill, result: e.result, said: null }] : [])),
      ).map(standingInWords),
    },
    {
      title: say`Cars to look at`,
      without: say`notes on cars`,
      items: watched.map(
        (c) =>
          say`${plan.cars.find((car) => car.id === c.carId)?.number ?? c.carId}: brakes ${c.brakes}, tyres ${c.tyres}, other ${c.other}`,
      ),
    },
  ]
  const told = sections.filter(({ items }) => items.length > 0)
  const none = sections.filter(({ items }) => items.length === 0).map(({ without }) => without)
  return (
    <>
      <Box>
        <Typography variant="title">{`${plan.title}, ${formatDate(plan.date, staffLanguage)}`}</Typography>
        <Typography>{say`${[plan.venue, circuit.data?.name].filter((name, i, all) => name && all.indexOf(name) === i).join(', ')}. ${plan.weather.charAt(0).toUpperCase()}${plan.weather.slice(1)}. Planned for ${staffWords.surfaces[plan.settings.surface]}, pace ${Math.round(plan.settings.pace * 100)}%.`}</Typography>
        <Typography>{`${plan.instructorIds.map((id) => accounts.data?.find((a) => a.id === id)?.name ?? id).join(', ')}.`}</Typography>
      </Box>
      <Section title={say`Runs`}>
        {oldestFirst.length === 0 && <Typography>{say`Nobody drove.`}</Typography>}
        {oldestFirst.length > 0 && (
          <RunsOfDay
            runs={oldestFirst}
            came={group.runs}
            nameOf={nameOf}
            instructorOf={(id) => accounts.data?.find((a) => a.id === id)?.name ?? ''}
          />
        )}
      </Section>
      {all > 0 && <GroupTable picture={groupPicture(group.seen, all, group.former)} drove={all} nameOf={nameOf} changes={changes} />}
      {told.map(({ title, items }) => (
        <Section key={title} title={title}>
          <Lines items={items} />
        </Section>
      ))}
      {none.length > 0 && <Typography>{say`No ${none.join(', no ')}.`}</Typography>}
    </>
  )
}

const Section = ({ title, children }: { title: string; children: React.ReactNode }) => (
  <Box component="section" aria-label={title} className="keep-together">
    <Typography variant="head" gutterBottom>
      {title}
    </Typography>
    {children}
  </Box>
)

const Lines = ({ items }: { items: readonly string[] }) =>
  items.map((line, i) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: lines are only listed
    <Typography key={i}>{line}</Typography>
  ))

/** A run a line: who, in what, how many laps, the quickest, and the root that came back most. */
const RunsOfDay = ({
  runs,
  came,
  nameOf,
  instructorOf,
}: {
  runs: readonly Run[]
  came: Group['runs']
  nameOf: (id: string) => string
  instructorOf: (id: string) => string
}) => {
  const resultOf = new Map(came.map((one) => [one.runId, one]))
  const vehicles = useQuery(vehiclesQuery)
  return (
    <RowTable aria-label={say`Runs of the day`} className="figures">
      <TableHead>
        <TableRow>
          {[say`At`, say`Student`, say`With`, say`Car`, say`Laps`, say`Quickest`, say`Most frequent mistake`].map((head) => (
            <TableCell key={head}>{head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {runs.map((run) => {
          const { laps = null, best_s = null, most: max = null } = resultOf.get(run.id) ?? {}
          return (
            <TableRow key={run.id}>
              <TableCell>{run.startedAt.slice(11, 16)}</TableCell>
              <TableCell>{run.studentName}</TableCell>
              <TableCell>{run.instructorId ? instructorOf(run.instructorId) : run.submitted ? say`sent in` : ''}</TableCell>
              <TableCell>{vehicles.data?.find((v) => v.id === run.settings.vehicleId)?.name ?? ''}</TableCell>
              <TableCell>{laps ?? (run.submitted ? '' : say`no log`)}</TableCell>
              <TableCell>{best_s === null ? '' : formatLapTime(best_s)}</TableCell>
              <TableCell>{max ? `${nameOf(max.cornerId)}: ${inside(mistakeName(max.code))} (${max.times})` : ''}</TableCell>
            </TableRow>
          )
        })}
      </TableBody>
    </RowTable>
  )
}
