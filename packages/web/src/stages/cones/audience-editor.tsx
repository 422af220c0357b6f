import { Button, Stack, TableBody, TableCell, TableHead, TableRow, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import type { StoredConeWork } from '@ochote/contract'
import {
  cornerName,
  type Level,
  type LineMethod,
  levels,
  lineMethods,
  type Plan,
  paces,
  type SharedGroup,
  type Vehicle,
} from '@ochote/core'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { inside, say } from '../../language/say.ts'
import { fineMetres, metres } from '../../language/staff-units.ts'
import { levelName } from '../../shared/language/staff-words.ts'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { lineWords } from '../../shared/plan/line-words.ts'
import { RowTable } from '../../shared/row-table.tsx'

/** The pace at which a level usually drives, where the school says nothing else. */
const usualPace: Record<Level, number> = { 'first-day': paces.building, building: paces.steady, steady: paces.quick }

const usePaceOf = (): ((level: Level) => number) => {
  const { byLevel } = useSchoolSettings().schoolSettings.defaults
  return (level) => byLevel[level]?.pace ?? usualPace[level]
}

type Props = {
  plan: Plan
  work: StoredConeWork
  shared: readonly SharedGroup[]
  vehicles: readonly Vehicle[]
  /** For whom they stand by the day's groups; null on a day without any. */
  byGroups: Pick<StoredConeWork, 'served' | 'lines'> | null
  canChange: boolean
  onChange: (change: Partial<Pick<StoredConeWork, 'served' | 'lines' | 'clearance_m'>>) => void
}

/** Other vehicles and levels that drive to these cones, and what the compromise means for each. */
export const AudienceEditor = ({ plan, work, shared, vehicles, byGroups, canChange, onChange }: Props) => {
  const paceOf = usePaceOf()
  const nameOf = (cornerId: string): string => cornerName(plan.corners, cornerId)
  const failing = shared.filter((g) => !g.fits)
  const add = (): void => {
    const vehicle = vehicles.find((v) => v.id !== plan.vehicle.id) ?? plan.vehicle
    onChange({ served: [...work.served, { vehicleId: vehicle.id, level: 'building', pace: paceOf('building') }] })
  }
  return (
    <Stack spacing={2}>
      <Typography variant="text">
        {say`These cones stand for the plan’s ${plan.vehicle.name} at the level “${levelName(work.level)}”. Add everyone else who drives to them.`}
      </Typography>
      {work.served.map((served, i) => (
        <ServedRow
          // biome-ignore lint/suspicious/noArrayIndexKey: the order is theirs
          key={i}
          served={served}
          vehicles={vehicles}
          paceOf={paceOf}
          onChange={(next) => onChange({ served: work.served.map((s, k) => (k === i ? next : s)) })}
          onRemove={() => onChange({ served: work.served.filter((_, k) => k !== i) })}
        />
      ))}
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        <Button size="small" variant="outlined" disabled={!canChange || work.served.length >= MAX_SERVED} onClick={add}>
          {say`Add a vehicle and level`}
        </Button>
        {byGroups && (
          <Button
            size="small"
            variant="outlined"
            disabled={!canChange}
            onClick={() =>
              onChange({
                served: byGroups.served.slice(0, MAX_SERVED),
                lines: [...new Set([...work.lines, ...byGroups.lines])].slice(0, 6),
              })
            }
          >
            {say`As the day’s groups drive`}
          </Button>
        )}
      </Stack>
      <Clearance work={work} canChange={canChange} onChange={onChange} />
      {failing.length > 0 && (
        <Typography variant="text" role="note" sx={{ color: 'warning.main', fontWeight: 600 }}>
          {say`One set does not fit everyone at ${[...new Set(failing.map((g) => say`${inside(coneNames[g.kind])} of ${nameOf(g.cornerId)}`))].join(', ')}. Run the groups separately, or use a second colour there.`}
        </Typography>
      )}
      {shared.length > 0 && <SharedTable shared={shared} nameOf={nameOf} />}
    </Stack>
  )
}

/** Maximum number of others that one set of cones serves. */
const MAX_SERVED = 8

type Served = StoredConeWork['served'][number]
type ServedProps = {
  served: Served
  vehicles: readonly Vehicle[]
  paceOf: (level: Level) => number
  onChange: (served: Served) => void
  onRemove: () => void
}

const ServedRow = ({ served, vehicles, paceOf, onChange, onRemove }: ServedProps) => (
  <Stack direction="row" spacing={2} sx={{ alignItems: 'flex-end' }}>
    <PickField
      label={say`Vehicle`}
      value={served.vehicleId}
      options={vehicles.map((v) => [v.id, v.name] as const)}
      onPick={(vehicleId) => onChange({ ...served, vehicleId })}
      width="grow"
    />
    <PickField
      label={say`Level`}
      value={served.level}
      options={levels.map((level) => [level, levelName(level)] as const)}
      onPick={(level) => onChange({ ...served, level, pace: paceOf(level) })}
      width={104}
    />
    <PickField
      label={say`Pace`}
      value={String(served.pace)}
      options={Object.values(paces).map((pace) => [String(pace), `${Math.round(100 * pace)}%`] as const)}
      onPick={(pace) => onChange({ ...served, pace: Number(pace) })}
      width={84}
    />
    <Button size="small" variant="text" onClick={onRemove}>
      {say`Remove`}
    </Button>
  </Stack>
)

/** Lines that cones stay clear of beside the plan's own, and by how much. */
const Clearance = ({ work, canChange, onChange }: Pick<Props, 'work' | 'canChange' | 'onChange'>) => (
  <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
    <Typography variant="text">{say`Also clear of these lines:`}</Typography>
    <ToggleButtonGroup
      size="small"
      aria-label={say`Lines in use`}
      value={work.lines}
      disabled={!canChange}
      onChange={(_, lines: LineMethod[]) => onChange({ lines })}
    >
      {lineMethods.map((method) => (
        <ToggleButton key={method} value={method} sx={{ py: 0 }}>
          {lineWords[method].name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
    <PickField
      label={say`Kept free of wheels`}
      value={String(work.clearance_m)}
      disabled={!canChange}
      options={[...new Set([0.3, 0.6, 1, 1.5, work.clearance_m])].sort().map((m) => [String(m), fineMetres(m)] as const)}
      onPick={(metres) => onChange({ clearance_m: Number(metres) })}
      width={130}
    />
  </Stack>
)

/** Every shared cone with what it means for each whom it serves. */
const SharedTable = ({ shared, nameOf }: { shared: readonly SharedGroup[]; nameOf: (cornerId: string) => string }) => (
  <RowTable aria-label={say`Shared cones`} sx={{ '& .MuiTableCell-root': { px: 2, py: 0 } }}>
    <TableHead>
      <TableRow>
        <TableCell>{say`Corner`}</TableCell>
        <TableCell>{say`Cone`}</TableCell>
        {shared[0].audience.map((f) => (
          <TableCell key={f.label}>{f.label}</TableCell>
        ))}
      </TableRow>
    </TableHead>
    <TableBody>
      {shared.map((g) => (
        <TableRow key={g.groupId} sx={g.fits ? {} : { '& td': { color: 'warning.main', fontWeight: 600 } }}>
          <TableCell>{nameOf(g.cornerId)}</TableCell>
          <TableCell>{coneNames[g.kind]}</TableCell>
          {g.audience.map((f) => (
            <TableCell key={f.label} className="figures">
              {sharedInWords(f)}
            </TableCell>
          ))}
        </TableRow>
      ))}
    </TableBody>
  </RowTable>
)

/** Meaning of a shared cone for one of those it serves. */
const sharedInWords = ({ wait_s, off_m }: SharedGroup['audience'][number]): string => {
  if (off_m === null) return say`not needed`
  if (wait_s !== null) return wait_s < 0.15 ? say`at the cone` : say`${wait_s.toFixed(1)} s after the cone`
  const whole = Math.abs(Math.round(off_m))
  return whole === 0 ? say`at the cone` : say`the cone is ${metres(whole)} ${off_m < 0 ? say`early` : say`late`}`
}
