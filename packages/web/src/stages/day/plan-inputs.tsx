import { Box, Button, Stack, TableBody, TableCell, TableHead, TableRow, TextField } from '@mui/material'
import { type DayPlanning, type Format, type FormatKind, formatKinds, usualFormats, wantsOfGroup } from '@ochote/core'
import { v7 as uuid } from 'uuid'
import { say } from '../../language/say.ts'
import { CountField } from '../../shared/count-field.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { ClockField } from '../../shared/time-fields.tsx'
import { FaultAt } from './plan-faults.tsx'
import { PlanMeans } from './plan-means.tsx'
import { PlanOrder, PlanRules } from './plan-rules.tsx'
import { formatName, formatNames } from './plan-words.ts'

/** A change of what a day gives: what is different, or how that is made from what the day holds then. */
export type PlanningChange = Partial<DayPlanning> | ((now: DayPlanning) => Partial<DayPlanning>)

type Props = {
  planning: DayPlanning
  /** The day's groups; with only one its name is left out. */
  groups: readonly { id: string; name: string }[]
  onChange: (change: PlanningChange) => void
}

/** What a day gives its people: hours, what is done how long, and how often each group gets it. */
export const PlanInputs = ({ planning, groups, cars, onChange }: Props & { cars: readonly (readonly [string, string])[] }) => (
  <Stack spacing={4} component="section" aria-label={say`What the day gives`}>
    <Hours planning={planning} onChange={onChange} />
    <Formats planning={planning} groups={groups} onChange={onChange} />
    <PlanOrder planning={planning} groups={groups} onChange={onChange} />
    <PlanMeans planning={planning} cars={cars} onChange={onChange} />
    <PlanRules rules={planning.rules} onChange={(rules) => onChange({ rules: { ...planning.rules, ...rules } })} />
  </Stack>
)

const Hours = ({ planning, onChange }: Omit<Props, 'groups'>) => {
  const window = (place: 'track' | 'pad') => planning.windows.find((w) => w.place === place)
  const set = (place: 'track' | 'pad', change: { from?: string; to?: string }): void =>
    onChange({ windows: planning.windows.map((w) => (w === window(place) ? { ...w, ...change } : w)) })
  // Rooms are open as long as the day is; the track and the pad keep hours of their own.
  const day = (change: { from?: string; to?: string }): void =>
    onChange({
      ...change,
      windows: planning.windows.map((w) => (w.place === 'classroom' ? { ...w, ...change } : w)),
      // What is held when the day begins goes along.
      ...(change.from === undefined
        ? {}
        : { formats: planning.formats.map((f) => (f.at === planning.from ? { ...f, at: change.from ?? null } : f)) }),
    })
  const [track, pad] = [window('track'), window('pad')]
  return (
    <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }}>
      <ClockField key={`a${planning.from}`} label={say`Day from`} value={planning.from} width={88} onChange={(from) => day({ from })} />
      <ClockField key={`b${planning.to}`} label={say`Day to`} value={planning.to} width={88} onChange={(to) => day({ to })} />
      {track && (
        <>
          <ClockField
            key={`c${track.from}`}
            label={say`Track from`}
            value={track.from}
            width={96}
            onChange={(from) => set('track', { from })}
          />
          <ClockField key={`d${track.to}`} label={say`Track to`} value={track.to} width={88} onChange={(to) => set('track', { to })} />
        </>
      )}
      {pad && (
        <>
          <ClockField key={`e${pad.from}`} label={say`Pad from`} value={pad.from} width={88} onChange={(from) => set('pad', { from })} />
          <ClockField key={`f${pad.to}`} label={say`Pad to`} value={pad.to} width={88} onChange={(to) => set('pad', { to })} />
        </>
      )}
      {['to', 'windows track', 'windows pad'].map((field) => (
        <FaultAt key={field} field={field} />
      ))}
    </Stack>
  )
}

const Formats = ({ planning, groups, onChange }: Props) => {
  // Changes are made from what the day holds by then: the page may not be drawn yet with the one before.
  // The same kind may be there more often: two lessons, two exercises.
  const add = (kind: FormatKind): void =>
    onChange(({ formats }) => {
      const same = formats.filter((f) => f.kind === kind).length
      const more = same === 0 ? { id: kind } : { id: `${kind}-${uuid().slice(-8)}`, name: `${formatNames[kind]} ${same + 1}` }
      return { formats: [...formats, { ...usualFormats[kind], ...more }] }
    })
  const put = (id: string, to: Partial<Format>): void =>
    onChange(({ formats }) => ({ formats: formats.map((f) => (f.id === id ? { ...f, ...to } : f)) }))
  const want = (groupId: string, formatId: string, count: number): void =>
    onChange((now) => ({ wants: { ...now.wants, [groupId]: { ...wantsOfGroup(now, groupId), [formatId]: count } } }))
  return (
    <Box>
      <RowTable aria-label={say`What is done, and how often`} sx={{ '& .MuiTableCell-root': { px: 2, py: 2 } }}>
        <TableHead>
          <TableRow>
            <TableCell>{say`What`}</TableCell>
            <TableCell>{say`Begins`}</TableCell>
            <TableCell>{say`Minutes`}</TableCell>
            <TableCell>{say`Students at once`}</TableCell>
            {groups.map((g) => (
              <TableCell key={g.id}>{g.name || say`Times each`}</TableCell>
            ))}
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {planning.formats.map((format) => {
            const name = formatName(format)
            return (
              <TableRow key={format.id}>
                <TableCell>
                  <TextField
                    key={name}
                    defaultValue={name}
                    slotProps={{ htmlInput: { 'aria-label': say`Name of ${name}`, maxLength: 60 } }}
                    onBlur={(e) => {
                      const text = e.target.value.trim()
                      if (text !== name) put(format.id, { name: text === '' || text === formatNames[format.kind] ? undefined : text })
                    }}
                    sx={{ width: 250, '& input': { fontWeight: 600 } }}
                  />
                </TableCell>
                <TableCell>
                  <Begins format={format} name={name} from={planning.from} onChange={(at) => put(format.id, { at })} />
                </TableCell>
                <TableCell>
                  <CountField
                    key={format.minutes}
                    label={say`Minutes of ${name}`}
                    value={format.minutes}
                    min={5}
                    max={240}
                    onChange={(minutes) => put(format.id, { minutes })}
                  />
                  <FaultAt field={`formats ${format.id} minutes`} />
                </TableCell>
                <TableCell>
                  {format.kind === 'ride-along' ? (
                    say`1, beside an instructor`
                  ) : (
                    <CountField
                      key={format.max}
                      label={say`Most in ${name}`}
                      value={format.max}
                      min={format.min}
                      max={200}
                      onChange={(max) => put(format.id, { max })}
                    />
                  )}
                  <FaultAt field={`formats ${format.id} min`} />
                  <FaultAt field={`formats ${format.id} max`} />
                </TableCell>
                {groups.map((g) => {
                  const count = wantsOfGroup(planning, g.id)[format.id] ?? 0
                  return (
                    <TableCell key={g.id}>
                      <CountField
                        key={count}
                        label={say`${name}, times each${g.name ? say` in ${g.name}` : ''}`}
                        value={count}
                        min={0}
                        max={10}
                        onChange={(next) => want(g.id, format.id, next)}
                      />
                    </TableCell>
                  )
                })}
                <TableCell>
                  <Button
                    size="small"
                    variant="text"
                    aria-label={say`Take ${name} out`}
                    onClick={() => onChange(({ formats }) => ({ formats: formats.filter((f) => f.id !== format.id) }))}
                  >
                    {say`Take out`}
                  </Button>
                </TableCell>
              </TableRow>
            )
          })}
        </TableBody>
      </RowTable>
      <Box sx={{ mt: 2 }}>
        <PickField
          label={say`Add`}
          value={'none' as FormatKind | 'none'}
          options={[['none', say`choose what else is done`] as const, ...formatKinds.map((kind) => [kind, formatNames[kind]] as const)]}
          onPick={(kind) => kind !== 'none' && add(kind)}
          width={240}
        />
      </Box>
    </Box>
  )
}

/** When a format is held: at any time, or at one for all who are there. */
const Begins = ({
  format,
  name,
  from,
  onChange,
}: {
  format: Format
  name: string
  from: string
  onChange: (at: string | null) => void
}) => (
  <Stack direction="row" spacing={2}>
    <PickField
      label={say`When ${name} begins`}
      hideLabel
      value={format.at === null ? 'any' : 'at'}
      options={[
        ['any', say`at any time`],
        ['at', say`for all at`],
      ]}
      onPick={(when) => onChange(when === 'any' ? null : from)}
      width={130}
    />
    {format.at !== null && <ClockField key={format.at} label="" value={format.at} width={76} onChange={onChange} />}
  </Stack>
)
