import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import { brakingSchools, levels, lineMethods, type Student } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { vehiclesQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { usePlan } from '../../data/plan/use-plan.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say, sayWhole } from '../../language/say.ts'
import { ChooseSome } from '../../shared/choose-some.tsx'
import { Folded } from '../../shared/folded.tsx'
import { levelName } from '../../shared/language/staff-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { brakingWords, lineWords } from '../../shared/plan/line-words.ts'
import { paceOptions } from '../../shared/plan/setting-words.ts'

type Group = DayPlan['groups'][number]
const AS_DAY = 'day'
type GroupProps = { group: Group; onChange: (change: Partial<Group>) => void }

/** Paces from the second drive on: each field that is set offers the next one. */
const LaterPaces = ({ group: { name, pace, laterPaces = [] }, onChange }: GroupProps) => {
  if (pace === undefined) return null
  const set = (k: number, value: string): void =>
    onChange({
      laterPaces: value === AS_DAY ? laterPaces.slice(0, k) : laterPaces.slice(0, k).concat(Number(value), laterPaces.slice(k + 1)),
    })
  const drives = [2, 3, 4, 5].slice(0, laterPaces.length + 1)
  return drives.map((drive, k) => (
    <PickField
      key={drive}
      label={say`Drive ${drive} of ${name}`}
      value={laterPaces[k] === undefined ? AS_DAY : String(laterPaces[k])}
      options={[[AS_DAY, say`as before`] as const, ...paceOptions.map((o) => [o.value, o.label] as const)]}
      onPick={(value) => set(k, value)}
      width={150}
    />
  ))
}

/** How a group drives where not as the day does. Its runs are called, briefed and judged by it. */
const GroupDriving = ({ group, onChange }: GroupProps) => (
  <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', mt: 1 }}>
    <PickField
      label={say`Pace of ${group.name}`}
      value={group.pace === undefined ? AS_DAY : String(group.pace)}
      options={[[AS_DAY, say`as the day`] as const, ...paceOptions.map((o) => [o.value, o.label] as const)]}
      onPick={(pace) => onChange(pace === AS_DAY ? { pace: undefined, laterPaces: undefined } : { pace: Number(pace) })}
      width={150}
    />
    <PickField
      label={say`Braking of ${group.name}`}
      value={group.school ?? AS_DAY}
      options={[[AS_DAY, say`as the day`] as const, ...brakingSchools.map((s) => [s, brakingWords[s].name] as const)]}
      onPick={(school) => onChange({ school: brakingSchools.find((s) => s === school) })}
      width={150}
    />
    <LaterPaces group={group} onChange={onChange} />
  </Stack>
)

/** A group's line, vehicle and cones, and the corners that it works on. */
const GroupMore = ({ group, onChange }: GroupProps) => {
  const vehicles = useQuery(vehiclesQuery)
  const { schemes } = useSchoolSettings()
  const { settings } = useDay()
  const { plan } = usePlan(settings)
  const asDay = [AS_DAY, say`as the day`] as const
  return (
    <Stack spacing={2}>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        <PickField
          label={say`Line of ${group.name}`}
          value={group.method ?? AS_DAY}
          options={[asDay, ...lineMethods.map((m) => [m, lineWords[m].name] as const)]}
          onPick={(method) => onChange({ method: lineMethods.find((m) => m === method) })}
          width={150}
        />
        <PickField
          label={say`Vehicle of ${group.name}`}
          value={group.vehicleId ?? AS_DAY}
          options={[asDay, ...(vehicles.data?.map((v) => [v.id, v.name] as const) ?? [])]}
          onPick={(vehicleId) => onChange({ vehicleId: vehicleId === AS_DAY ? undefined : vehicleId })}
          width={150}
        />
        <PickField
          label={say`Cones of ${group.name}`}
          value={group.schemeId ?? AS_DAY}
          options={[asDay, ...schemes.map((s) => [s.id, sayWhole(s.name)] as const)]}
          onPick={(schemeId) => onChange({ schemeId: schemeId === AS_DAY ? undefined : schemeId })}
          width={308}
        />
      </Stack>
      <Typography variant="text" color="text.secondary">
        {say`The vehicle counts for whoever has no car of the day; brake cones stand for one pace: tell faster groups.`}
      </Typography>
      {plan && (
        <ChooseSome
          label={say`Corners to work on`}
          none={say`the whole lap`}
          options={plan.corners.map((c) => [c.id, c.name] as const)}
          chosen={group.cornerIds ?? []}
          onChoose={(cornerIds) => onChange({ cornerIds: cornerIds.length > 0 ? cornerIds : undefined })}
        />
      )}
    </Stack>
  )
}

type Props = {
  plan: DayPlan
  /** Students of the day. */
  students: readonly Pick<Student, 'id' | 'name' | 'level'>[]
  onChange: (change: Partial<DayPlan>) => void
}

/** Groups of the day: some of its students who do things together. */
export const DayGroups = ({ plan, students, onChange }: Props) => {
  const { schoolSettings: school } = useSchoolSettings()
  const [openId, setOpenId] = useState<string | null>(null)
  const put = (groupId: string, change: Partial<Group>): void =>
    onChange({ groups: plan.groups.map((g) => (g.id === groupId ? { ...g, ...change } : g)) })
  const byLevel = (): void =>
    onChange({
      groups: levels.flatMap((level) => {
        const ids = students.filter((s) => s.level === level).map((s) => s.id)
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
          <GroupDriving group={group} onChange={(change) => put(group.id, change)} />
          <Box sx={{ mt: 2 }}>
            <Folded name={say`Line, vehicle, cones, corners`} quiet>
              <GroupMore group={group} onChange={(change) => put(group.id, change)} />
            </Folded>
          </Box>
          {openId === group.id && (
            <ChooseSome
              label={say`Who is in it`}
              none={say`nobody yet`}
              options={students.map((s) => [s.id, s.name] as const)}
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
        {plan.groups.length === 0 && students.length > 1 && (
          <Button size="small" variant="outlined" onClick={byLevel}>
            {say`Groups by level`}
          </Button>
        )}
      </Stack>
    </Box>
  )
}
