import { Autocomplete, Box, Button, Stack, TextField, Typography } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import { levels } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { accountsQuery, studentsQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { ChooseSome } from '../../shared/choose-some.tsx'
import { levelName } from '../../shared/language/staff-words.ts'
import { DayGroups } from './day-groups.tsx'

type Props = { plan: DayPlan; onChange: (change: Partial<DayPlan>) => void }

/** Who is here today: instructors and students, and the groups they are in. */
export const DayPeople = ({ plan, onChange }: Props) => {
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const present = students.data?.filter((s) => plan.studentIds.includes(s.id)) ?? []
  const others = students.data?.filter((s) => s.archivedAt === null && !plan.studentIds.includes(s.id)) ?? []
  const leave = (id: string): void =>
    onChange({
      studentIds: plan.studentIds.filter((s) => s !== id),
      groups: plan.groups.map((g) => ({ ...g, studentIds: g.studentIds.filter((s) => s !== id) })),
      slots: plan.slots.filter((slot) => slot.studentId !== id),
    })
  const inRuns = new Set(plan.slots.flatMap((slot) => (slot.studentId ? [slot.studentId] : [])))
  return (
    <Stack spacing={3} component="section" aria-label={say`People of the day`}>
      <ChooseSome
        label={say`Instructors`}
        none={say`nobody yet`}
        options={
          accounts.data?.filter((a) => a.archivedAt === null || plan.instructorIds.includes(a.id)).map((a) => [a.id, a.name] as const) ?? []
        }
        chosen={plan.instructorIds}
        onChoose={(instructorIds) => onChange({ instructorIds })}
      />
      <Box>
        <Typography variant="head" component="h2">{say`Students (${present.length})`}</Typography>
        {levels.map((level) => {
          const here = present.filter((s) => s.level === level)
          return here.length === 0 ? null : (
            <Box key={level} sx={{ mt: 1 }}>
              <Box sx={{ fontSize: 'size.note', color: 'text.secondary' }}>{levelName(level)}</Box>
              <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: 'wrap' }}>
                {here.map((s) => (
                  <Button
                    key={s.id}
                    size="small"
                    variant="outlined"
                    color="secondary"
                    aria-label={say`Take ${s.name} off this day`}
                    title={inRuns.has(s.id) ? say`Takes them and their runs off this day` : say`Takes them off this day`}
                    onClick={() => leave(s.id)}
                  >
                    {`${s.name} ×`}
                  </Button>
                ))}
              </Stack>
            </Box>
          )
        })}
      </Box>
      {others.length > 0 && (
        <Stack direction="row" useFlexGap spacing={2} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
          <AddOne others={others} onAdd={(id) => onChange({ studentIds: [...plan.studentIds, id] })} />
          <Button
            size="small"
            variant="outlined"
            onClick={() => onChange({ studentIds: [...plan.studentIds, ...others.map((s) => s.id)] })}
          >
            {others.length === 1 ? say`Add the other one` : say`Add all ${others.length} others`}
          </Button>
        </Stack>
      )}
      <Typography variant="text">
        <Link to="/school">{students.data?.length ? say`More students` : say`No students yet: add them first`}</Link>
      </Typography>
      <DayGroups plan={plan} students={present} onChange={onChange} />
    </Stack>
  )
}

const AddOne = ({ others, onAdd }: { others: readonly { id: string; name: string }[]; onAdd: (id: string) => void }) => {
  const [text, setText] = useState('')
  return (
    <Autocomplete
      options={others}
      getOptionLabel={(s) => s.name}
      getOptionKey={(s) => s.id}
      value={null}
      inputValue={text}
      blurOnSelect={false}
      onInputChange={(_, next, why) => why !== 'reset' && setText(next)}
      onChange={(_, chosen) => {
        setText('')
        if (chosen) onAdd(chosen.id)
      }}
      renderInput={(params) => <TextField {...params} label={say`Add a student to this day`} />}
      sx={{ flex: '1 1 170px' }}
    />
  )
}
