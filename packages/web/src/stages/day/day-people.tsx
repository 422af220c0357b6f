import { Autocomplete, Box, Button, Stack, TextField, Typography } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import { brakingSchools, levels } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { v7 as uuid } from 'uuid'
import { accountsQuery, studentsQuery } from '../../data/api/queries.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say } from '../../language/say.ts'
import { ChooseSome } from '../../shared/choose-some.tsx'
import { levelName } from '../../shared/language/staff-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { brakingWords } from '../../shared/plan/line-words.ts'
import { paceOptions } from '../../shared/plan/setting-words.ts'

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
      <Groups plan={plan} onChange={onChange} />
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

type Group = DayPlan['groups'][number]
const AS_DAY = 'day'

/** At which pace a group drives and how it brakes, where not as the day does. Its runs are called, briefed and judged by it. */
const GroupPace = ({ group, onChange }: { group: Group; onChange: (change: Partial<Group>) => void }) => (
  <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', mt: 1 }}>
    <PickField
      label={say`Pace of ${group.name}`}
      value={group.pace === undefined ? AS_DAY : String(group.pace)}
      options={[[AS_DAY, say`as the day`] as const, ...paceOptions.map((o) => [o.value, o.label] as const)]}
      onPick={(pace) => onChange({ pace: pace === AS_DAY ? undefined : Number(pace) })}
      width={150}
    />
    <PickField
      label={say`Braking of ${group.name}`}
      value={group.school ?? AS_DAY}
      options={[[AS_DAY, say`as the day`] as const, ...brakingSchools.map((s) => [s, brakingWords[s].name] as const)]}
      onPick={(school) => onChange({ school: brakingSchools.find((s) => s === school) })}
      width={150}
    />
  </Stack>
)

/** Groups of the day: some of its students who do things together. */
const Groups = ({ plan, onChange }: Props) => {
  const students = useQuery(studentsQuery)
  const present = students.data?.filter((s) => plan.studentIds.includes(s.id)) ?? []
  const { schoolSettings: school } = useSchoolSettings()
  const [openId, setOpenId] = useState<string | null>(null)
  const put = (groupId: string, change: Partial<Group>): void =>
    onChange({ groups: plan.groups.map((g) => (g.id === groupId ? { ...g, ...change } : g)) })
  const byLevel = (): void =>
    onChange({
      groups: levels.flatMap((level) => {
        const ids = present.filter((s) => s.level === level).map((s) => s.id)
        return ids.length > 0 ? [{ id: uuid(), name: levelName(level), studentIds: ids, ...school.defaults.byLevel[level] }] : []
      }),
    })
  return (
    <Box role="group" aria-label={say`Groups`}>
      <Typography variant="head" component="h2">
        {say`Groups`}
      </Typography>
      {plan.groups.length === 0 && <Typography variant="text">{say`None: everybody drives as one group.`}</Typography>}
      {plan.groups.map((group) => (
        <Box key={group.id} sx={{ borderTop: 'hair', borderColor: 'divider', py: 1 }}>
          <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
            <TextField
              key={group.name}
              label={say`Group`}
              defaultValue={group.name}
              slotProps={{ htmlInput: { maxLength: 40 } }}
              sx={{ flex: 1 }}
              onBlur={(e) =>
                e.target.value.trim() !== '' && e.target.value !== group.name && put(group.id, { name: e.target.value.trim() })
              }
            />
            <Button
              size="small"
              variant="text"
              aria-expanded={openId === group.id}
              onClick={() => setOpenId(openId === group.id ? null : group.id)}
            >
              {say`${group.studentIds.length} in it`}
            </Button>
            <Button
              size="small"
              variant="text"
              aria-label={say`Take away the group ${group.name}`}
              onClick={() => onChange({ groups: plan.groups.filter((g) => g.id !== group.id) })}
            >
              {say`Take away`}
            </Button>
          </Stack>
          <GroupPace group={group} onChange={(change) => put(group.id, change)} />
          {openId === group.id && (
            <ChooseSome
              label={say`Who is in it`}
              none="nobody"
              options={present.map((s) => [s.id, s.name] as const)}
              chosen={group.studentIds}
              onChoose={(studentIds) => put(group.id, { studentIds })}
            />
          )}
        </Box>
      ))}
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', mt: 1 }}>
        <Button
          size="small"
          variant="outlined"
          disabled={plan.groups.length >= 20}
          onClick={() => onChange({ groups: [...plan.groups, { id: uuid(), name: say`Group ${plan.groups.length + 1}`, studentIds: [] }] })}
        >
          {say`Add a group`}
        </Button>
        {plan.groups.length === 0 && present.length > 1 && (
          <Button size="small" variant="outlined" onClick={byLevel}>
            {say`Groups by level`}
          </Button>
        )}
      </Stack>
    </Box>
  )
}
