import { Box, Button, Stack, Typography } from '@mui/material'
import { type DayPlanning, type DifferenceKind, differenceKinds, lastingKinds, timelessKinds, withDifference } from '@ochote/core'
import { useState } from 'react'
import { say } from '../../language/say.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ClockField } from '../../shared/time-fields.tsx'
import { FaultAt } from './plan-faults.tsx'

/** Sizes of helmets. */
const sizes = ['XS', 'S', 'M', 'L', 'XL', 'XXL'].map((s) => [s, s] as const)

const kindNames: Record<DifferenceKind, string> = {
  late: say`Student comes at`,
  leaves: say`Student leaves at`,
  helmet: say`Student borrows a helmet`,
  keep: say`Student keeps an instructor`,
  avoid: say`Student avoids an instructor`,
  'car-out': say`Car out`,
  'instructor-from': say`Instructor comes at`,
  'instructor-to': say`Instructor leaves at`,
  break: say`Instructor’s break`,
  'track-closed': say`Track closed`,
  'track-shared': say`Track shared with others`,
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
type Line = { key: string; words: string; fault?: string; without: () => Partial<DayPlanning> }

const nameIn = (who: Who, id: string): string => who.find(([one]) => one === id)?.[1] ?? id
const minus = <T,>(list: readonly T[], at: number): T[] => list.filter((_, k) => k !== at)

const linesOf = ({ planning, students, instructors, cars }: Props): Line[] => {
  const staff = planning.staff
  const setStaff = (id: string, change: Partial<DayPlanning['staff'][string]>): Partial<DayPlanning> => ({
    staff: { ...staff, [id]: { ...(staff[id] ?? { breaks: [] }), ...change } },
  })
  return [
    ...Object.entries(planning.people).flatMap(([id, person]): Line[] => {
      const { arrives, leaves, helmet } = person
      const line = (field: keyof typeof person, words: string): Line => {
        const { [field]: _, ...rest } = person
        return { key: `${field}${id}`, words, fault: `students ${id}`, without: () => ({ people: { ...planning.people, [id]: rest } }) }
      }
      return [
        ...(arrives === undefined ? [] : [line('arrives', say`${nameIn(students, id)} comes at ${arrives}`)]),
        ...(leaves === undefined ? [] : [line('leaves', say`${nameIn(students, id)} leaves at ${leaves}`)]),
        ...(helmet === undefined ? [] : [line('helmet', say`${nameIn(students, id)} borrows a helmet, size ${helmet}`)]),
      ]
    }),
    ...planning.pairs.map(
      ({ studentId, instructorId, wish }, k): Line => ({
        key: `p${studentId}${instructorId}`,
        words:
          wish === 'keep'
            ? say`${nameIn(students, studentId)} keeps ${nameIn(instructors, instructorId)}`
            : say`${nameIn(students, studentId)} avoids ${nameIn(instructors, instructorId)}`,
        without: () => ({ pairs: minus(planning.pairs, k) }),
      }),
    ),
    ...Object.entries(planning.cars).flatMap(([id, car]) =>
      car.out.map(
        (span, k): Line => ({
          key: `c${id}${k}`,
          words: say`Car ${nameIn(cars, id)} is out from ${span.from} to ${span.to}`,
          fault: `cars ${id} ${k}`,
          without: () => ({ cars: { ...planning.cars, [id]: { ...car, out: minus(car.out, k) } } }),
        }),
      ),
    ),
    ...Object.entries(staff).flatMap(([id, { from, to, breaks }]): Line[] => [
      ...(from === undefined
        ? []
        : [
            {
              key: `f${id}`,
              words: say`${nameIn(instructors, id)} comes at ${from}`,
              fault: `instructors ${id}`,
              without: () => setStaff(id, { from: undefined }),
            },
          ]),
      ...(to === undefined
        ? []
        : [
            {
              key: `t${id}`,
              words: say`${nameIn(instructors, id)} leaves at ${to}`,
              fault: `instructors ${id}`,
              without: () => setStaff(id, { to: undefined }),
            },
          ]),
      ...breaks.map((span, k) => ({
        key: `b${id}${k}`,
        words: say`${nameIn(instructors, id)} has a break from ${span.from} to ${span.to}`,
        fault: `instructors ${id} ${k}`,
        without: () => setStaff(id, { breaks: minus(breaks, k) }),
      })),
    ]),
    ...planning.closed.map((span, k) => ({
      key: `x${k}`,
      words: say`The track is closed from ${span.from} to ${span.to}`,
      without: () => ({ closed: minus(planning.closed, k) }),
    })),
    ...planning.shared.map((span, k) => ({
      key: `h${k}`,
      words: say`The track is shared from ${span.from} to ${span.to}: at most ${span.maxCars} of our cars are out`,
      without: () => ({ shared: minus(planning.shared, k) }),
    })),
    ...planning.rain.map((span, k) => ({
      key: `r${k}`,
      words: say`Rain is due from ${span.from} to ${span.to}`,
      fault: `rain[${k}]`,
      without: () => ({ rain: minus(planning.rain, k) }),
    })),
  ]
}

/** What differs from the usual: who comes late, which car is out, when it rains. Each is entered in one line, before the day or while it runs. */
export const PlanExceptions = (props: Props) => {
  const { planning, students, instructors, cars, now, onChange } = props
  const [kind, setKind] = useState<DifferenceKind>('late')
  const [chosen, setChosen] = useState('')
  const [other, setOther] = useState('')
  const [from, setFrom] = useState(now ?? planning.from)
  const [to, setTo] = useState(planning.to)
  const [maxCars, setMaxCars] = useState(3)
  const whom: Partial<Record<DifferenceKind, Who>> = {
    late: students,
    leaves: students,
    helmet: students,
    keep: students,
    avoid: students,
    'car-out': cars,
    'instructor-from': instructors,
    'instructor-to': instructors,
    break: instructors,
  }
  const others: Partial<Record<DifferenceKind, { label: string; who: Who }>> = {
    helmet: { label: say`Size`, who: sizes },
    keep: { label: say`Which instructor`, who: instructors },
    avoid: { label: say`Which instructor`, who: instructors },
  }
  const who = whom[kind]
  const second = others[kind]
  const firstOf = (list: Who | undefined, wished: string): string => list?.find(([one]) => one === wished)?.[0] ?? list?.[0]?.[0] ?? ''
  const id = firstOf(who, chosen)
  const otherId = firstOf(second?.who, other)
  const spans = lastingKinds.has(kind)
  const fits = (!who || id !== '') && (!second || otherId !== '') && (!spans || from < to)
  const lines = linesOf(props)
  return (
    <Box component="section" aria-label={say`What differs`}>
      <Typography variant="head" component="h2">
        {say`What differs`}
      </Typography>
      {lines.length === 0 && <Typography variant="text">{say`Nothing: everybody and everything is there all day.`}</Typography>}
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {lines.map(({ key, words, fault, without }) => (
          <Stack key={key} component="li" direction="row" useFlexGap spacing={2} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
            <span>{words}</span>
            <Button size="small" variant="text" aria-label={say`Take back: ${words}`} onClick={() => onChange(without())}>
              {say`Take back`}
            </Button>
            {fault !== undefined && <FaultAt field={fault} />}
          </Stack>
        ))}
      </Box>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'flex-end', mt: 2 }}>
        <PickField
          label={say`Something that differs`}
          value={kind}
          options={differenceKinds.map((k) => [k, kindNames[k]] as const)}
          onPick={setKind}
          width={210}
        />
        {who && <PickField label={say`Who or which`} value={id} options={who} onPick={setChosen} width={200} />}
        {second && <PickField label={second.label} value={otherId} options={second.who} onPick={setOther} width={180} />}
        {!timelessKinds.has(kind) && (
          <ClockField key={`f${from}`} label={spans ? say`From` : say`At`} value={from} width={88} onChange={setFrom} />
        )}
        {spans && <ClockField key={`t${to}`} label={say`To`} value={to} width={88} onChange={setTo} />}
        {kind === 'track-shared' && (
          <PickField
            label={say`Our cars out`}
            value={String(maxCars)}
            options={Array.from({ length: 16 }, (_, k) => [String(k), String(k)] as const)}
            onPick={(n) => setMaxCars(Number(n))}
            width={110}
          />
        )}
        <Button
          size="small"
          variant="outlined"
          disabled={!fits}
          onClick={() => onChange(withDifference(planning, { kind, id, other: otherId, from, to, maxCars }))}
        >
          {say`Add it`}
        </Button>
      </Stack>
      {spans && from >= to && <Typography variant="text" sx={{ color: 'warning.main' }}>{say`It ends before it begins.`}</Typography>}
    </Box>
  )
}
