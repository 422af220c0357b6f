import { Box, Button, Stack, Typography } from '@mui/material'
import type { DayPlanning } from '@ochote/core'
import { useState } from 'react'
import { say } from '../../language/say.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ClockField } from '../../shared/time-fields.tsx'

/** Kinds of what differs from the usual, as it is known before the day or happens on it. */
const kinds = ['late', 'leaves', 'car-out', 'instructor-from', 'instructor-to', 'break', 'track-closed', 'rain'] as const
type Kind = (typeof kinds)[number]

const kindNames: Record<Kind, string> = {
  late: say`Student comes at`,
  leaves: say`Student leaves at`,
  'car-out': say`Car out`,
  'instructor-from': say`Instructor comes at`,
  'instructor-to': say`Instructor leaves at`,
  break: say`Instructor’s break`,
  'track-closed': say`Track closed`,
  rain: say`Rain due`,
}

type Who = readonly (readonly [string, string])[]
type Props = {
  planning: DayPlanning
  students: Who
  instructors: Who
  cars: Who
  /** When something that happens now begins, where the day runs. */
  now: string | null
  onChange: (change: Partial<DayPlanning>) => void
}

/** One line of what differs, and the planning without it. */
type Line = { key: string; words: string; without: () => Partial<DayPlanning> }

const nameIn = (who: Who, id: string): string => who.find(([one]) => one === id)?.[1] ?? id
const minus = <T,>(list: readonly T[], at: number): T[] => list.filter((_, k) => k !== at)

const linesOf = ({ planning, students, instructors, cars }: Props): Line[] => {
  const staff = planning.staff
  const setStaff = (id: string, change: Partial<DayPlanning['staff'][string]>): Partial<DayPlanning> => ({
    staff: { ...staff, [id]: { ...(staff[id] ?? { breaks: [] }), ...change } },
  })
  return [
    ...Object.entries(planning.people).flatMap(([id, { arrives, leaves }]): Line[] => [
      ...(arrives === undefined
        ? []
        : [
            {
              key: `a${id}`,
              words: say`${nameIn(students, id)} comes at ${arrives}`,
              without: () => ({ people: { ...planning.people, [id]: leaves === undefined ? {} : { leaves } } }),
            },
          ]),
      ...(leaves === undefined
        ? []
        : [
            {
              key: `l${id}`,
              words: say`${nameIn(students, id)} leaves at ${leaves}`,
              without: () => ({ people: { ...planning.people, [id]: arrives === undefined ? {} : { arrives } } }),
            },
          ]),
    ]),
    ...Object.entries(planning.cars).flatMap(([id, car]) =>
      car.out.map(
        (span, k): Line => ({
          key: `c${id}${k}`,
          words: say`Car ${nameIn(cars, id)} is out from ${span.from} to ${span.to}`,
          without: () => ({ cars: { ...planning.cars, [id]: { ...car, out: minus(car.out, k) } } }),
        }),
      ),
    ),
    ...Object.entries(staff).flatMap(([id, { from, to, breaks }]): Line[] => [
      ...(from === undefined
        ? []
        : [{ key: `f${id}`, words: say`${nameIn(instructors, id)} comes at ${from}`, without: () => setStaff(id, { from: undefined }) }]),
      ...(to === undefined
        ? []
        : [{ key: `t${id}`, words: say`${nameIn(instructors, id)} leaves at ${to}`, without: () => setStaff(id, { to: undefined }) }]),
      ...breaks.map((span, k) => ({
        key: `b${id}${k}`,
        words: say`${nameIn(instructors, id)} has a break from ${span.from} to ${span.to}`,
        without: () => setStaff(id, { breaks: minus(breaks, k) }),
      })),
    ]),
    ...planning.closed.map((span, k) => ({
      key: `x${k}`,
      words: say`The track is closed from ${span.from} to ${span.to}`,
      without: () => ({ closed: minus(planning.closed, k) }),
    })),
    ...planning.rain.map((span, k) => ({
      key: `r${k}`,
      words: say`Rain is due from ${span.from} to ${span.to}`,
      without: () => ({ rain: minus(planning.rain, k) }),
    })),
  ]
}

/** The planning with one thing more that differs. */
const withOne = (planning: DayPlanning, kind: Kind, id: string, from: string, to: string): Partial<DayPlanning> => {
  const staff = planning.staff[id] ?? { breaks: [] }
  const person = planning.people[id] ?? {}
  const car = planning.cars[id] ?? { cooling_min: 10, fuel_laps: null, out: [] }
  switch (kind) {
    case 'late':
      return { people: { ...planning.people, [id]: { ...person, arrives: from } } }
    case 'leaves':
      return { people: { ...planning.people, [id]: { ...person, leaves: from } } }
    case 'car-out':
      return { cars: { ...planning.cars, [id]: { ...car, out: [...car.out, { from, to }] } } }
    case 'instructor-from':
      return { staff: { ...planning.staff, [id]: { ...staff, from } } }
    case 'instructor-to':
      return { staff: { ...planning.staff, [id]: { ...staff, to: from } } }
    case 'break':
      return { staff: { ...planning.staff, [id]: { ...staff, breaks: [...staff.breaks, { from, to }] } } }
    case 'track-closed':
      return { closed: [...planning.closed, { from, to }] }
    case 'rain':
      return { rain: [...planning.rain, { from, to }] }
  }
}

/** What differs from the usual: who comes late, which car is out, when it rains. Each is entered in one line, before the day or while it runs. */
export const PlanExceptions = (props: Props) => {
  const { planning, students, instructors, cars, now, onChange } = props
  const [kind, setKind] = useState<Kind>('late')
  const [chosen, setChosen] = useState('')
  const [from, setFrom] = useState(now ?? planning.from)
  const [to, setTo] = useState(planning.to)
  const whom: Partial<Record<Kind, Who>> = {
    late: students,
    leaves: students,
    'car-out': cars,
    'instructor-from': instructors,
    'instructor-to': instructors,
    break: instructors,
  }
  const who = whom[kind]
  const id = who?.find(([one]) => one === chosen)?.[0] ?? who?.[0]?.[0] ?? ''
  const spans = kind === 'car-out' || kind === 'break' || kind === 'track-closed' || kind === 'rain'
  const fits = (!who || id !== '') && (!spans || from < to)
  const lines = linesOf(props)
  return (
    <Box component="section" aria-label={say`What differs`}>
      <Typography variant="head" component="h2">
        {say`What differs`}
      </Typography>
      {lines.length === 0 && <Typography variant="text">{say`Nothing: everybody and everything is there all day.`}</Typography>}
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {lines.map(({ key, words, without }) => (
          <Stack key={key} component="li" direction="row" spacing={2} sx={{ alignItems: 'center' }}>
            <span>{words}</span>
            <Button size="small" variant="text" aria-label={say`Take back: ${words}`} onClick={() => onChange(without())}>
              {say`Take back`}
            </Button>
          </Stack>
        ))}
      </Box>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'flex-end', mt: 2 }}>
        <PickField
          label={say`Something that differs`}
          value={kind}
          options={kinds.map((k) => [k, kindNames[k]] as const)}
          onPick={setKind}
          width={190}
        />
        {who && <PickField label={say`Who or which`} value={id} options={who} onPick={setChosen} width={200} />}
        <ClockField key={`f${from}`} label={spans ? say`From` : say`At`} value={from} width={88} onChange={setFrom} />
        {spans && <ClockField key={`t${to}`} label={say`To`} value={to} width={88} onChange={setTo} />}
        <Button size="small" variant="outlined" disabled={!fits} onClick={() => onChange(withOne(planning, kind, id, from, to))}>
          {say`Add it`}
        </Button>
      </Stack>
      {spans && from >= to && <Typography variant="text" sx={{ color: 'warning.main' }}>{say`It ends before it begins.`}</Typography>}
    </Box>
  )
}
