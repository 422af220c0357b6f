import { Box, Button, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { type DayCosts, type DayPlanning, type DayRules, usualRules } from '@ochote/core'
import { type ReactNode, useState } from 'react'
import { say } from '../../language/say.ts'
import { CountField } from '../../shared/count-field.tsx'
import { Folded } from '../../shared/folded.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { ClockField } from '../../shared/time-fields.tsx'
import { FaultAt } from './plan-faults.tsx'
import { formatName } from './plan-words.ts'

type OrderProps = {
  planning: DayPlanning
  groups: readonly { id: string; name: string }[]
  onChange: (change: Partial<DayPlanning>) => void
}

const ALL = 'all'

/** What comes before what: for everybody, or for one group. */
export const PlanOrder = ({ planning, groups, onChange }: OrderProps) => {
  const { order, formats } = planning
  const [groupId, setGroupId] = useState(ALL)
  const [first, setFirst] = useState('')
  const [then, setThen] = useState('')
  if (formats.length < 2) return null
  const options = formats.map((f) => [f.id, formatName(f)] as const)
  const nameOf = (id: string): string => options.find(([one]) => one === id)?.[1] ?? id
  const firstId = options.find(([id]) => id === first)?.[0] ?? options[0][0]
  const thenId = options.find(([id]) => id === then && id !== firstId)?.[0] ?? options.find(([id]) => id !== firstId)?.[0] ?? ''
  const group = groups.find((g) => g.id === groupId && g.name !== '')
  const known = order.some((o) => o.first === firstId && o.second === thenId && o.groupId === (group?.id ?? null))
  return (
    <Folded name={say`What comes first`}>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {order.map((o) => {
          const who = o.groupId === null ? say`All` : (groups.find((g) => g.id === o.groupId)?.name ?? o.groupId)
          const words = say`${who}: ${nameOf(o.first)} before ${nameOf(o.second)}`
          return (
            <Stack key={words} component="li" direction="row" spacing={2} sx={{ alignItems: 'center' }}>
              <span>{words}</span>
              <Button
                size="small"
                variant="text"
                aria-label={say`Take back: ${words}`}
                onClick={() => onChange({ order: order.filter((one) => one !== o) })}
              >
                {say`Take back`}
              </Button>
            </Stack>
          )
        })}
      </Box>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'flex-end' }}>
        {groups.some((g) => g.name !== '') && (
          <PickField
            label={say`For whom`}
            value={group?.id ?? ALL}
            options={[[ALL, say`all`] as const, ...groups.filter((g) => g.name !== '').map((g) => [g.id, g.name] as const)]}
            onPick={setGroupId}
            width={140}
          />
        )}
        <PickField label={say`First`} value={firstId} options={options} onPick={setFirst} width={250} />
        <PickField label={say`Then`} value={thenId} options={options.filter(([id]) => id !== firstId)} onPick={setThen} width={250} />
        <Button
          size="small"
          variant="outlined"
          disabled={known}
          onClick={() => onChange({ order: [...order, { groupId: group?.id ?? null, first: firstId, second: thenId }] })}
        >
          {say`Add it`}
        </Button>
      </Stack>
    </Folded>
  )
}

/** One rule with its setting and what it means. */
const Rule = ({ name, means, children }: { name: string; means: string; children: ReactNode }) => (
  <TableRow>
    <TableCell sx={{ fontWeight: 600, width: 230 }}>{name}</TableCell>
    <TableCell sx={{ width: 260 }}>{children}</TableCell>
    <TableCell sx={{ color: 'text.secondary' }}>{means}</TableCell>
  </TableRow>
)

const YesNo = ({ label, on, onPick }: { label: string; on: boolean; onPick: (on: boolean) => void }) => (
  <PickField
    label={label}
    hideLabel
    value={on ? 'yes' : 'no'}
    options={[
      ['yes', say`yes`],
      ['no', say`no`],
    ]}
    onPick={(v) => onPick(v === 'yes')}
    width={90}
  />
)

const yesNoRules = [
  ['oneGroupOnTrack', say`One group on the track`, say`Groups are never on the track together.`],
  ['briefingFirst', say`Briefing first`, say`Nobody rolls before their briefing.`],
  ['sightingFirst', say`Sighting first`, say`Who gets sighting laps has them before any drive at a pace.`],
  ['lastNotFaster', say`Last drive not faster`, say`A group’s pace does not grow in the last drive of the day.`],
  ['passengers', say`Passengers`, say`Students may ride along on sighting laps, where the venue allows it.`],
  ['languages', say`Languages`, say`A student’s instructor speaks their language.`],
] as const satisfies readonly (readonly [keyof DayRules, string, string])[]

const minuteRules = [
  ['restBetweenDrives_min', say`Rest between drives (min)`, say`From the end of a drive to the next one of the same student.`],
  ['beforeLeaving_min', say`Before leaving (min)`, say`From the last drive to an early departure.`],
] as const satisfies readonly (readonly [keyof DayRules, string, string])[]

const Hard = ({ rules, onChange }: RulesProps) => {
  const { lunch } = rules
  return (
    <RowTable aria-label={say`What always holds`} sx={{ '& .MuiTableCell-root': { px: 2, py: 2 } }}>
      <TableHead>
        <TableRow>
          {[say`Always holds`, say`Set to`, say`Means`].map((name) => (
            <TableCell key={name}>{name}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {yesNoRules.map(([key, name, means]) => (
          <Rule key={key} name={name} means={means}>
            <YesNo label={name} on={rules[key]} onPick={(on) => onChange({ [key]: on })} />
          </Rule>
        ))}
        {minuteRules.map(([key, name, means]) => (
          <Rule key={key} name={name} means={means}>
            <CountField
              key={rules[key]}
              label={name}
              value={rules[key]}
              min={0}
              max={240}
              onChange={(value) => onChange({ [key]: value })}
            />
          </Rule>
        ))}
        <Rule name={say`Cars out at most`} means={say`On the track at once, leaders’ cars included.`}>
          <PickField
            label={say`Cars out at most`}
            hideLabel
            value={rules.maxCarsOut === null ? 'any' : String(rules.maxCarsOut)}
            options={[
              ['any', say`as many as there are`] as const,
              ...Array.from({ length: 15 }, (_, k) => [String(k + 1), String(k + 1)] as const),
            ]}
            onPick={(v) => onChange({ maxCarsOut: v === 'any' ? null : Number(v) })}
            width={170}
          />
        </Rule>
        <Rule name={say`Lunch`} means={say`Everybody has that many minutes free between these times.`}>
          <Stack direction="row" spacing={2} useFlexGap sx={{ flexWrap: 'wrap' }}>
            <YesNo label={say`Lunch`} on={lunch !== null} onPick={(on) => onChange({ lunch: on ? usualRules.lunch : null })} />
            {lunch && (
              <>
                <ClockField
                  key={`a${lunch.from}`}
                  label={say`Lunch from`}
                  value={lunch.from}
                  width={96}
                  onChange={(from) => onChange({ lunch: { ...lunch, from } })}
                />
                <ClockField
                  key={`b${lunch.to}`}
                  label={say`Lunch to`}
                  value={lunch.to}
                  width={88}
                  onChange={(to) => onChange({ lunch: { ...lunch, to } })}
                />
                <CountField
                  key={lunch.minutes}
                  label={say`Minutes of lunch`}
                  value={lunch.minutes}
                  min={10}
                  max={180}
                  onChange={(minutes) => onChange({ lunch: { ...lunch, minutes } })}
                />
                <FaultAt field="rules.lunch" />
              </>
            )}
          </Stack>
        </Rule>
      </TableBody>
    </RowTable>
  )
}

/** What is disliked, each as so many minutes of waiting that one would rather accept. */
const dislikes = [
  ['leftOut', say`Left out`, say`A drive or exercise that somebody does not get.`],
  ['moved', say`Moved`, say`A drive or exercise at another time than announced.`],
  ['otherInstructor', say`Another instructor`, say`A student’s drive with another instructor than their first one.`],
  ['wish', say`Wishes not met`, say`A drive against a wish for or against an instructor.`],
  ['unevenLoad', say`Uneven load`, say`Per session between the instructors with most and fewest.`],
  ['unevenLaps', say`Uneven laps`, say`Per lap beyond one by which laps differ within a group.`],
  ['groupChange', say`Change of group`, say`Each time that the track goes over to another group.`],
  ['wrongWeather', say`Wrong weather`, say`A wet exercise outside rain, or another exercise in it.`],
] as const satisfies readonly (readonly [keyof DayCosts, string, string])[]

/** Share of a minute that a field for hundredths stands for. */
const HUNDREDTH = 100

const Soft = ({ rules, onChange }: RulesProps) => {
  const { cost } = rules
  const put = (change: Partial<DayCosts>): void => onChange({ cost: { ...cost, ...change } })
  const { wait, rest } = cost
  return (
    <RowTable aria-label={say`What is disliked`} sx={{ '& .MuiTableCell-root': { px: 2, py: 2 } }}>
      <TableHead>
        <TableRow>
          {[say`Disliked`, say`Minutes of waiting instead (0: nobody minds)`, say`Means`].map((name) => (
            <TableCell key={name}>{name}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {dislikes.map(([key, name, means]) => (
          <Rule key={key} name={name} means={means}>
            <CountField key={cost[key]} label={name} value={cost[key]} min={0} max={10_000} onChange={(value) => put({ [key]: value })} />
          </Rule>
        ))}
        <Rule name={say`Waiting (min in a row)`} means={say`Up to the first figure nobody minds; beyond the second a minute counts more.`}>
          <Stack direction="row" spacing={2}>
            <CountField
              key={`f${wait.free_min}`}
              label={say`Waiting that nobody minds (min)`}
              value={wait.free_min}
              min={0}
              max={480}
              onChange={(free_min) => put({ wait: { ...wait, free_min, long_min: Math.max(free_min, wait.long_min) } })}
            />
            <CountField
              key={`l${wait.long_min}`}
              label={say`Waiting that is long (min)`}
              value={wait.long_min}
              min={wait.free_min}
              max={480}
              onChange={(long_min) => put({ wait: { ...wait, long_min } })}
            />
          </Stack>
        </Rule>
        <Rule
          name={say`Waiting counts (hundredths)`}
          means={say`A minute of waiting beyond the first figure, and what comes on top beyond the second.`}
        >
          <Stack direction="row" spacing={2}>
            <CountField
              key={`e${wait.each}`}
              label={say`A minute’s wait (hundredths)`}
              value={Math.round(HUNDREDTH * wait.each)}
              min={0}
              max={1000}
              onChange={(each) => put({ wait: { ...wait, each: each / HUNDREDTH } })}
            />
            <CountField
              key={`m${wait.more}`}
              label={say`On top of it beyond (hundredths)`}
              value={Math.round(HUNDREDTH * wait.more)}
              min={0}
              max={1000}
              onChange={(more) => put({ wait: { ...wait, more: more / HUNDREDTH } })}
            />
          </Stack>
        </Rule>
        <Rule
          name={say`Instructors without rest`}
          means={say`Busy for more than the first figure of minutes within the second; the third is what five minutes too many cost.`}
        >
          <Stack direction="row" spacing={2}>
            <CountField
              key={`b${rest.busy_min}`}
              label={say`Busy minutes that are fine`}
              value={rest.busy_min}
              min={5}
              max={480}
              onChange={(busy_min) => put({ rest: { ...rest, busy_min, within_min: Math.max(busy_min, rest.within_min) } })}
            />
            <CountField
              key={`w${rest.within_min}`}
              label={say`Within minutes`}
              value={rest.within_min}
              min={rest.busy_min}
              max={480}
              onChange={(within_min) => put({ rest: { ...rest, within_min } })}
            />
            <CountField
              key={`r${rest.each}`}
              label={say`Too little rest`}
              value={rest.each}
              min={0}
              max={1000}
              onChange={(each) => put({ rest: { ...rest, each } })}
            />
          </Stack>
        </Rule>
      </TableBody>
    </RowTable>
  )
}

type RulesProps = { rules: DayRules; onChange: (change: Partial<DayRules>) => void }

/** What always holds, and what is disliked and how much; each with what it means. */
export const PlanRules = (props: RulesProps) => (
  <Folded name={say`Rules`}>
    <Stack spacing={4}>
      <Hard {...props} />
      <Soft {...props} />
      <Box>
        <Button size="small" variant="outlined" onClick={() => props.onChange(usualRules)}>
          {say`Rules as most schools have them`}
        </Button>
      </Box>
      <Typography variant="text" color="text.secondary">
        {say`The instructor and the venue’s rules stand above the plan.`}
      </Typography>
    </Stack>
  </Folded>
)
