import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import type { DaySummary } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { v7 as uuid } from 'uuid'
import { circuitsQuery, dayQuery, daysQuery, queryClient, sessionQuery, venuesQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { copyOfPlan, useDays } from '../../data/day/use-days.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say } from '../../language/say.ts'
import { chosenLook } from '../../look/chosen.ts'
import { columns } from '../../look/columns.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { MonthOfDays } from '../../shared/time-fields.tsx'
import { newDay } from './new-day.ts'

const today = (): string => dayjs().format('YYYY-MM-DD')

/** All days: past, today and to come; new ones are made here, from nothing, from another day, or from a template. */
export const DaysPage = () => {
  const days = useQuery(daysQuery)
  const { day, chooseDay } = useDay()
  const [date, setDate] = useState(today)
  const [search, setSearch] = useState('')
  const real = days.data?.filter((d) => !d.template) ?? []
  const templates = days.data?.filter((d) => d.template) ?? []
  const found = real.filter((d) => `${d.title} ${d.venue} ${d.date}`.toLowerCase().includes(search.trim().toLowerCase()))
  const ahead = found.filter((d) => d.date >= today()).sort((a, b) => (a.date < b.date ? -1 : 1))
  const past = found.filter((d) => d.date < today())
  const list = (title: string, items: readonly DaySummary[]) =>
    items.length > 0 && (
      <Box component="section" aria-label={title}>
        <Typography variant="head" component="h2" gutterBottom>
          {title}
        </Typography>
        {items.map((d) => (
          <DayRow key={d.id} day={d} chosen={d.id === day?.id} date={date} onChoose={() => chooseDay(d.id)} />
        ))}
      </Box>
    )
  return (
    <Stack spacing={4}>
      <StageHead stage="Day" facts={days.data && `${real.length} ${real.length === 1 ? say`day` : say`days`}`} />
      <ProblemNote error={days.error} />
      {days.isLoading && <Reading what={say`Reading the days …`} />}
      <Box sx={columns('320px minmax(0, 1fr)')}>
        <Stack spacing={3}>
          <MonthOfDays date={date} marked={new Set(real.map((d) => d.date))} onDate={setDate} />
          <NewDay date={date} />
        </Stack>
        <Stack spacing={5}>
          {real.length > 5 && (
            <TextField
              label={say`Search title, venue or date`}
              value={search}
              onChange={(e) => setSearch(e.target.value)}
              sx={{ maxWidth: 320 }}
            />
          )}
          {days.data && real.length === 0 && <Typography>{say`No day yet. Choose its date and make it.`}</Typography>}
          {list(say`Today and ahead`, ahead)}
          {list(say`Past`, past)}
          {list(say`Templates`, templates)}
        </Stack>
      </Box>
    </Stack>
  )
}

/** Makes a day on the chosen date. The id is made once, so that a button pressed twice makes one day. */
const NewDay = ({ date }: { date: string }) => {
  const { settings } = useDay()
  const { schoolSettings } = useSchoolSettings()
  const session = useQuery(sessionQuery)
  const circuits = useQuery(circuitsQuery)
  const venues = useQuery(venuesQuery)
  const navigate = useNavigate()
  const { add, error } = useDays()
  const [id, setId] = useState(() => uuid())
  const isLead = session.data?.account?.role === 'lead'
  const make = (): void => {
    if (!settings) return
    const circuit = circuits.data?.find((c) => c.id === settings.circuitId)
    const venue = venues.data?.find((v) => v.id === circuit?.venueId)
    const plan = newDay({
      date,
      settings,
      school: schoolSettings,
      venue,
      circuitName: circuit?.name ?? '',
      leadId: session.data?.account?.id,
    })
    add.mutate(
      { id, plan },
      {
        onSuccess: () => {
          setId(uuid())
          navigate('/day')
        },
      },
    )
  }
  return (
    <Stack spacing={2}>
      <Button variant="contained" disabled={!settings || !isLead || add.isPending} onClick={make}>
        {say`Make a day on ${dayjs(date).format(say`D MMMM YYYY`)}`}
      </Button>
      {!isLead && <Typography color="text.secondary">{say`The lead makes days.`}</Typography>}
      <ProblemNote error={error} />
    </Stack>
  )
}

const inWords = (d: DaySummary): string =>
  [
    d.venue,
    d.weather,
    `${d.students} ${d.students === 1 ? say`student` : say`students`}`,
    `${d.cars} ${d.cars === 1 ? say`car` : say`cars`}`,
    d.driven > 0
      ? d.runs > 0
        ? say`${d.driven} driven of ${d.runs} planned`
        : say`${d.driven} driven`
      : say`${d.runs} ${d.runs === 1 ? say`run` : say`runs`} planned`,
  ]
    .filter(Boolean)
    .join(' · ')

type RowProps = { day: DaySummary; chosen: boolean; date: string; onChoose: () => void }

/** One day of the list: opened, opened beside, copied to the date of the calendar, kept as a template, removed. */
const DayRow = ({ day, chosen, date, onChoose }: RowProps) => {
  const { add, remove, error } = useDays()
  const session = useQuery(sessionQuery)
  const navigate = useNavigate()
  const [copyId, setCopyId] = useState(() => uuid())
  const isLead = session.data?.account?.role === 'lead'
  const copy = async (change: { template: boolean }): Promise<void> => {
    const { plan } = await queryClient.fetchQuery(dayQuery(day.id))
    const copied = copyOfPlan(plan, { ...change, date, ...(change.template ? { studentIds: [], slots: [], groups: [], weather: '' } : {}) })
    await add.mutateAsync({ id: copyId, plan: copied })
    setCopyId(uuid())
    if (!change.template) navigate('/day')
  }
  const open = (): void => {
    onChoose()
    navigate('/day')
  }
  return (
    <Box
      component="article"
      aria-label={`${day.title}, ${dayjs(day.date).format(say`D MMMM YYYY`)}`}
      sx={{ borderTop: 'hair', borderColor: 'divider', py: 2, pl: 2, ...(chosen ? chosenLook('left') : {}) }}
    >
      <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography className="figures" sx={{ width: '15ch', fontWeight: 640 }}>
          {day.template ? say`Template` : dayjs(day.date).format(say`ddd D MMM YYYY`)}
        </Typography>
        <Box sx={{ flex: '1 1 220px', minWidth: 0 }}>
          <Typography sx={{ fontWeight: 640 }}>{day.title}</Typography>
          <Typography variant="text" color="text.secondary">
            {inWords(day)}
          </Typography>
        </Box>
        <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: 'wrap' }}>
          {!day.template && (
            <>
              <Button size="small" variant="outlined" onClick={open}>
                {say`Open`}
              </Button>
              <Button size="small" variant="text" component="a" href={`/day?day=${day.id}`} target="_blank" rel="noreferrer">
                {say`Open beside`}
              </Button>
            </>
          )}
          {isLead && (
            <Button size="small" variant="text" disabled={add.isPending} onClick={() => void copy({ template: false }).catch(() => {})}>
              {say`${day.template ? say`Make a day of it` : say`Copy`} on ${dayjs(date).format(say`D MMM`)}`}
            </Button>
          )}
          {isLead && !day.template && (
            <Button size="small" variant="text" disabled={add.isPending} onClick={() => void copy({ template: true }).catch(() => {})}>
              {say`Keep as a template`}
            </Button>
          )}
          {isLead && day.driven === 0 && (
            <AskFirst
              label={say`Remove`}
              question={say`${day.title} of ${dayjs(day.date).format(say`D MMMM`)} and its links are gone then. Nothing was driven.`}
              yes={say`Remove the day`}
              pending={remove.isPending}
              onYes={() => remove.mutate(day.id)}
            />
          )}
        </Stack>
      </Stack>
      <ProblemNote error={error} />
    </Box>
  )
}
