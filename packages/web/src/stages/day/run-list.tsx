import { Box, Button, Stack, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material'
import type { DayPlan, Run } from '@ochote/contract'
import { checkDay, clockOf, type DayProblem, fillRuns, firstName, isSameSession, minutesOf, type Slot, slotKinds } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { accountsQuery, carsQuery, studentsQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { quietUntilMeant } from '../../look/quiet-until-meant.ts'
import { isGrounded } from '../../shared/condition-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { ClockField } from '../../shared/time-fields.tsx'
import { kindWords } from './slot-words.ts'

type Props = {
  plan: DayPlan
  runs: readonly Run[]
  starting: boolean
  onStart: (slot: Slot) => void
  onOpen: (run: Run) => void
  onChange: (change: (plan: DayPlan) => DayPlan) => void
}

/** Lines of a planned exercise that several do together stand as one: that of the first of them, with the ids of all. */
export const exercisesAsOne = (slots: readonly Slot[]): { slot: Slot; studentIds: string[] }[] => {
  const isSame = (a: Slot, b: Slot): boolean => a.kind === 'pad' && isSameSession(a, b)
  return slots
    .filter((slot, k) => !slots.slice(0, k).some((before) => isSame(before, slot)))
    .map((slot) => ({ slot, studentIds: slots.filter((s) => s === slot || isSame(s, slot)).flatMap((s) => s.studentId ?? []) }))
}

/** Slots in the order of their times. */
const inOrder = (slots: readonly Slot[]): Slot[] => slots.toSorted((a, b) => minutesOf(a.start) - minutesOf(b.start))

const useProblems = (plan: DayPlan): readonly DayProblem[] => {
  const students = useQuery(studentsQuery)
  const cars = useQuery(carsQuery)
  return checkDay({
    slots: plan.slots,
    students: students.data ?? [],
    cars: cars.data ?? [],
    grounded: new Set(cars.data?.filter((c) => c.condition && isGrounded(c.condition)).map((c) => c.id)),
  })
}

const problemWords: Record<DayProblem['kind'], (withTime: string) => string> = {
  'ends-before-start': () => say`ends before it starts`,
  'student-twice': (t) => say`this student drives at ${t} too`,
  'car-twice': (t) => say`this car is out at ${t} too`,
  'instructor-twice': (t) => say`this instructor is busy at ${t} too`,
  'no-car': () => say`no car`,
  'no-student': () => say`nobody drives`,
  'may-not-drive': () => say`this student may not drive this car`,
  grounded: () => say`this car came back with “do not drive”`,
}

/** Who drives when, with whom, in what: the list of the day, changed in place; what does not fit is told where it stands. */
export const RunList = ({ plan, runs, starting, onStart, onOpen, onChange }: Props) => {
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const [editing, setEditing] = useState<string | null>(null)
  const problems = useProblems(plan)
  const nameOf = (id: string | undefined, list: readonly { id: string; name: string }[] | undefined): string =>
    list?.find((p) => p.id === id)?.name ?? ''
  const slots = inOrder(plan.slots)
  const next = slots.find((slot) => slot.kind === 'run' && slot.studentId && !runs.some((r) => r.slotId === slot.id))
  const put = (slotId: string, change: Partial<Slot>): void =>
    onChange((now) => ({ ...now, slots: inOrder(now.slots.map((s) => (s.id === slotId ? { ...s, ...change } : s))) }))
  const told = (slotId: string): string =>
    problems
      .filter((p) => p.slotId === slotId)
      .map((p) => problemWords[p.kind](plan.slots.find((s) => s.id === p.with)?.start ?? ''))
      .join('; ')
  return (
    <Stack spacing={3}>
      <AddSlots plan={plan} onChange={onChange} onAdded={setEditing} />
      {problems.length > 0 && (
        <Typography role="status" sx={{ color: 'warning.main', fontWeight: 640 }}>
          {say`${problems.length} ${problems.length === 1 ? say`thing does` : say`things do`} not fit; each is told in its line.`}
        </Typography>
      )}
      {slots.length > 0 && (
        <RowTable aria-label={say`Run list`}>
          <TableHead>
            <TableRow>
              <TableCell>{say`Time`}</TableCell>
              <TableCell>{say`What`}</TableCell>
              <TableCell>{say`Student`}</TableCell>
              <TableCell>{say`Instructor`}</TableCell>
              <TableCell>{say`Car`}</TableCell>
              <TableCell align="right" component="td" />
            </TableRow>
          </TableHead>
          <TableBody>
            {exercisesAsOne(slots).map(({ slot, studentIds }) => {
              const run = runs.find((r) => r.slotId === slot.id)
              const isRun = slot.kind === 'run'
              const isNext = slot.id === next?.id
              const wrong = told(slot.id)
              if (editing === slot.id)
                return (
                  <TableRow key={slot.id}>
                    <TableCell colSpan={6}>
                      <SlotForm
                        plan={plan}
                        slot={slot}
                        driven={run !== undefined}
                        wrong={wrong}
                        onChange={(change) => put(slot.id, change)}
                        onDone={() => setEditing(null)}
                        onRemove={() => {
                          setEditing(null)
                          onChange((now) => ({ ...now, slots: now.slots.filter((s) => s.id !== slot.id) }))
                        }}
                      />
                    </TableCell>
                  </TableRow>
                )
              return (
                <TableRow
                  key={slot.id}
                  sx={isRun ? (isNext || run ? {} : quietUntilMeant) : { backgroundColor: 'var(--verge)', ...quietUntilMeant }}
                >
                  <TableCell className="figures" sx={{ whiteSpace: 'nowrap' }}>
                    {say`${slot.start} to ${slot.end}`}
                  </TableCell>
                  <TableCell colSpan={slot.studentId ? 1 : 2} sx={{ whiteSpace: wrong ? 'normal' : 'nowrap' }}>
                    {isRun ? slot.title : `${kindWords[slot.kind]}: ${slot.title}`}
                    {wrong && <Box sx={{ color: 'warning.main', fontWeight: 620 }}>{wrong}</Box>}
                  </TableCell>
                  {slot.studentId && (
                    <TableCell sx={{ fontWeight: 600, whiteSpace: studentIds.length > 1 ? 'normal' : 'nowrap' }}>
                      {studentIds.length > 1
                        ? studentIds.map((id) => firstName(nameOf(id, students.data))).join(', ')
                        : nameOf(slot.studentId, students.data)}
                    </TableCell>
                  )}
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{nameOf(slot.instructorId, accounts.data)}</TableCell>
                  <TableCell className="figures">{plan.cars.find((c) => c.id === slot.carId)?.number ?? ''}</TableCell>
                  <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
                    {studentIds.length <= 1 && (
                      <Button
                        size="small"
                        variant="text"
                        aria-label={say`Change ${slot.start} ${nameOf(slot.studentId, students.data) || slot.title}`}
                        onClick={() => setEditing(slot.id)}
                      >
                        {say`Change`}
                      </Button>
                    )}
                    {isRun && slot.studentId && !run && (
                      <Button size="small" variant={isNext ? 'contained' : 'outlined'} disabled={starting} onClick={() => onStart(slot)}>
                        {say`Start the run`}
                      </Button>
                    )}
                    {run && (
                      <Button size="small" variant="outlined" onClick={() => onOpen(run)}>
                        {run.endedAt ? say`Debrief` : say`Running: open`}
                      </Button>
                    )}
                  </TableCell>
                </TableRow>
              )
            })}
          </TableBody>
        </RowTable>
      )}
    </Stack>
  )
}

/** Runs and other slots added to the list: one for each who has none, or single ones after the last. */
const AddSlots = ({ plan, onChange, onAdded }: Pick<Props, 'plan' | 'onChange'> & { onAdded: (slotId: string) => void }) => {
  const students = useQuery(studentsQuery)
  const cars = useQuery(carsQuery)
  const present = students.data?.filter((s) => plan.studentIds.includes(s.id)) ?? []
  const without = present.filter((s) => !plan.slots.some((slot) => slot.kind === 'run' && slot.studentId === s.id))
  // A car of the day that is not among the school's is open to everybody.
  const carsHere = plan.cars.map(
    (c) => cars.data?.find((known) => known.id === c.id) ?? { id: c.id, studentId: null, mayDrive: { levels: [], studentIds: [] } },
  )
  const after = plan.slots.reduce((last, slot) => Math.max(last, minutesOf(slot.end)), 9 * 60 - 5) + 5
  const add = (kind: Slot['kind'], title: string, minutes: number): void => {
    const slot: Slot = { id: uuid(), start: clockOf(after), end: clockOf(after + minutes), kind, title }
    onChange((now) => ({ ...now, slots: [...now.slots, slot] }))
    onAdded(slot.id)
  }
  return (
    <Stack
      direction="row"
      useFlexGap
      spacing={2}
      sx={{ flexWrap: 'wrap', alignItems: 'center' }}
      role="group"
      aria-label={say`Add to the run list`}
    >
      {without.length > 0 && (
        <Button
          size="small"
          variant={plan.slots.length === 0 ? 'contained' : 'outlined'}
          onClick={() =>
            onChange((now) => ({
              ...now,
              slots: fillRuns({
                slots: now.slots,
                students: without,
                instructorIds: now.instructorIds,
                cars: carsHere,
                title: say`Ride-along`,
                idOf: () => uuid(),
              }),
            }))
          }
        >
          {without.length === 1 ? say`A run for ${without[0].name}` : say`A run for each of ${without.length} without one`}
        </Button>
      )}
      <Button size="small" variant="outlined" onClick={() => add('run', say`Ride-along`, 20)}>
        {say`Add a run`}
      </Button>
      <Button size="small" variant="outlined" onClick={() => add('briefing', say`Briefing`, 30)}>
        {say`Add a briefing`}
      </Button>
      <Button size="small" variant="outlined" onClick={() => add('break', say`Break`, 30)}>
        {say`Add a break`}
      </Button>
      {present.length === 0 && <Typography color="text.secondary">{say`Nobody is in this day yet: add students at the right.`}</Typography>}
    </Stack>
  )
}

const NOBODY = 'nobody'

type FormProps = {
  plan: DayPlan
  slot: Slot
  driven: boolean
  wrong: string
  onChange: (change: Partial<Slot>) => void
  onDone: () => void
  onRemove: () => void
}

const SlotForm = ({ plan, slot, driven, wrong, onChange, onDone, onRemove }: FormProps) => {
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const time = (label: string, key: 'start' | 'end') => (
    <ClockField key={`${key} ${slot[key]}`} label={label} value={slot[key]} width={90} onChange={(clock) => onChange({ [key]: clock })} />
  )
  const some = (list: readonly { id: string; name: string }[] | undefined, ids: readonly string[]) =>
    list?.filter((one) => ids.includes(one.id)).map((one) => [one.id, one.name] as const) ?? []
  const pick = (
    label: string,
    value: string | undefined,
    options: readonly (readonly [string, string])[],
    key: 'studentId' | 'instructorId' | 'carId',
  ) => (
    <PickField
      label={label}
      value={value !== undefined && options.some(([id]) => id === value) ? value : NOBODY}
      options={[[NOBODY, 'none'] as const, ...options]}
      onPick={(id) => onChange({ [key]: id === NOBODY ? undefined : id })}
      width={170}
      disabled={driven && key === 'studentId'}
    />
  )
  return (
    <Stack spacing={2} component="section" aria-label={say`Change the slot of ${slot.start}`} sx={{ py: 1 }}>
      <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap', alignItems: 'flex-end' }}>
        {time(say`Starts`, 'start')}
        {time(say`Ends`, 'end')}
        <PickField
          label={say`Kind`}
          value={slot.kind}
          options={slotKinds.map((k) => [k, kindWords[k]] as const)}
          onPick={(kind) => onChange({ kind })}
          width={120}
          disabled={driven}
        />
        <TextField
          key={slot.title}
          label={say`What`}
          defaultValue={slot.title}
          slotProps={{ htmlInput: { maxLength: 80 } }}
          onBlur={(e) => e.target.value !== slot.title && onChange({ title: e.target.value })}
          sx={{ width: 170 }}
        />
        {pick(say`Student`, slot.studentId, some(students.data, plan.studentIds), 'studentId')}
        {pick(say`Instructor`, slot.instructorId, some(accounts.data, plan.instructorIds), 'instructorId')}
        {pick(
          say`Car`,
          slot.carId,
          plan.cars.map((c) => [c.id, c.number] as const),
          'carId',
        )}
      </Stack>
      {wrong && <Typography sx={{ color: 'warning.main', fontWeight: 620 }}>{wrong}</Typography>}
      <Stack direction="row" spacing={2} sx={{ pt: 2 }}>
        <Button size="small" variant="outlined" onClick={onDone}>
          {say`Done`}
        </Button>
        <Button size="small" variant="text" disabled={driven} onClick={onRemove}>
          {driven ? say`Was driven: stays` : say`Take it out of the list`}
        </Button>
      </Stack>
    </Stack>
  )
}
