import { Box, MenuItem, Stack, TextField, Typography } from '@mui/material'
import {
  brakingSchools,
  formatLapTime,
  lineMethods,
  lowestGear,
  metrePrice_s,
  type PlanChoice,
  paces,
  type Surface,
  surfaces,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { memo, useCallback, useLayoutEffect, useMemo, useRef } from 'react'
import { circuitsQuery, daysQuery, vehiclesQuery } from '../data/api/queries.ts'
import { useDay } from '../data/day/day-context.tsx'
import { askAhead, usePlan } from '../data/plan/use-plan.ts'
import { brakingWords, lineWords } from '../shared/plan/line-words.ts'
import { WordHelp } from '../shared/word-help.tsx'

const surfaceWords: Record<Surface, string> = { dry: 'Dry', damp: 'Damp', wet: 'Wet', standing: 'Standing water' }
type Option = { value: string; label: string; explained?: string }
type Setting = 'circuitId' | 'vehicleId' | 'surface' | 'pace' | 'method' | 'school' | 'lowestGear' | 'perMetre_s'
/** Settings that are numbers. */
const numeric: ReadonlySet<Setting | 'day'> = new Set(['pace', 'lowestGear', 'perMetre_s'])

const surfaceOptions: readonly Option[] = Object.keys(surfaces).map((s) => ({ value: s, label: surfaceWords[s as Surface] }))
const paceOptions: readonly Option[] = [
  ...Object.entries(paces).map(([name, value]) => ({
    value: String(value),
    label: `${name[0].toUpperCase()}${name.slice(1)} ${Math.round(100 * value)}%`,
  })),
  { value: '0.92', label: 'Limit 92%' },
]
const lineOptions: readonly Option[] = lineMethods.map((m) => ({ value: m, label: lineWords[m].name, explained: lineWords[m].explained }))
const schoolOptions: readonly Option[] = brakingSchools.map((s) => ({
  value: s,
  label: brakingWords[s].name,
  explained: brakingWords[s].explained,
}))

const gearOptions: readonly Option[] = ['1st', '2nd', '3rd'].map((label, k) => ({ value: String(k + 1), label }))
/** Prices of a metre for the compact line, as the width that they buy. */
const metreOptions: readonly Option[] = [
  { value: '0.005', label: '0.005 s', explained: 'almost the fast line' },
  { value: '0.02', label: '0.02 s', explained: 'the usual price' },
  { value: '0.05', label: '0.05 s', explained: 'shorter ways' },
  { value: '0.1', label: '0.1 s', explained: 'much shorter ways, for kart tracks' },
  { value: '0.2', label: '0.2 s', explained: 'close to the shortest' },
]

/** One setting to choose; drawn again only when its own value or options change. */
const Choice = memo(
  ({
    name,
    label,
    value,
    options,
    width,
    onPick,
  }: {
    name: Setting | 'day'
    label: string
    value: string
    options: readonly Option[]
    width: number
    onPick: (name: Setting | 'day', value: string) => void
  }) => (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => onPick(name, e.target.value)}
      slotProps={{ select: { MenuProps: { transitionDuration: 0 } } }}
      sx={{
        width,
        '& .MuiSelect-select': { py: 0.2, fontWeight: 600, fontStretch: '90%' },
        '& .MuiSelect-select .explained': { display: 'none' },
      }}
    >
      {options.map((o) => (
        <MenuItem key={o.value} value={o.value}>
          {o.label}
          {o.explained && (
            <Box component="span" className="explained" sx={{ ml: 1, color: 'text.secondary' }}>
              {o.explained}
            </Box>
          )}
        </MenuItem>
      ))}
    </TextField>
  ),
)

/** For which circuit, vehicle, surface, pace and school the numbers on screen hold; change one and all follow. */
export const ContextBar = () => {
  const { day, settings, chooseDay, changeSettings } = useDay()
  const circuits = useQuery(circuitsQuery)
  const vehicles = useQuery(vehiclesQuery)
  const days = useQuery(daysQuery)
  const circuitOptions = useMemo(() => (circuits.data ?? []).map((c) => ({ value: c.id, label: c.name })), [circuits.data])
  const vehicleOptions = useMemo(() => (vehicles.data ?? []).map((v) => ({ value: v.id, label: v.name })), [vehicles.data])
  const dayOptions = useMemo(() => (days.data ?? []).map((d) => ({ value: d.id, label: d.date })), [days.data])
  const latest = useRef({ settings, chooseDay, changeSettings })
  useLayoutEffect(() => {
    latest.current = { settings, chooseDay, changeSettings }
  })
  const pick = useCallback((name: Setting | 'day', value: string): void => {
    const now = latest.current
    if (name === 'day') {
      now.chooseDay(value)
      return
    }
    const change: Partial<PlanChoice> = { [name]: numeric.has(name) ? Number(value) : value }
    if (now.settings) askAhead({ ...now.settings, ...change })
    now.changeSettings(change)
  }, [])
  if (!settings) return null
  const vehicle = vehicles.data?.find((v) => v.id === settings.vehicleId)
  return (
    <Stack
      component="section"
      aria-label="Settings behind the numbers"
      direction="row"
      spacing={2}
      sx={{ alignItems: 'flex-end', px: 2, py: 0.75, borderBottom: '1px solid', borderColor: 'divider', overflowX: 'auto' }}
    >
      {day && dayOptions.length > 1 && <Choice name="day" label="Day" value={day.id} options={dayOptions} width={128} onPick={pick} />}
      <Choice name="circuitId" label="Layout" value={settings.circuitId} options={circuitOptions} width={150} onPick={pick} />
      <Choice name="vehicleId" label="Vehicle" value={settings.vehicleId} options={vehicleOptions} width={212} onPick={pick} />
      <Choice name="surface" label="Surface" value={settings.surface} options={surfaceOptions} width={118} onPick={pick} />
      <Stack direction="row" sx={{ alignItems: 'center' }}>
        <Choice name="pace" label="Pace" value={String(settings.pace)} options={paceOptions} width={136} onPick={pick} />
        <WordHelp word="pace" />
      </Stack>
      <Choice name="method" label="Line" value={settings.method ?? 'smoothest'} options={lineOptions} width={116} onPick={pick} />
      {vehicle && settings.method === 'compact' && (
        <Choice
          name="perMetre_s"
          label="Price of a metre"
          value={String(metrePrice_s(vehicle, settings.perMetre_s))}
          options={metreOptions}
          width={112}
          onPick={pick}
        />
      )}
      {vehicle && vehicle.gears.length > 1 && (
        <Choice
          name="lowestGear"
          label="Lowest gear"
          value={String(lowestGear(vehicle, settings.lowestGear))}
          options={gearOptions.slice(0, vehicle.gears.length)}
          width={88}
          onPick={pick}
        />
      )}
      <Stack direction="row" sx={{ alignItems: 'center' }}>
        <Choice name="school" label="Braking style" value={settings.school} options={schoolOptions} width={130} onPick={pick} />
        <WordHelp word="braking-style" />
      </Stack>
      <Box sx={{ flex: 1 }} />
      <PlannedLap settings={settings} />
    </Stack>
  )
}

/** The lap time that is planned for these settings, as soon as it is there. */
const PlannedLap = ({ settings }: { settings: PlanChoice }) => {
  const { plan, computing, step } = usePlan(settings)
  const lap = plan && !computing ? formatLapTime(plan.profile.lapTime_s, 1) : null
  return (
    <Box role="status" aria-live="polite" sx={{ textAlign: 'right', whiteSpace: 'nowrap', pb: 0.3 }}>
      <Typography variant="body2" color="text.secondary" component="div" sx={{ fontSize: '0.75rem' }}>
        Planned lap
      </Typography>
      <Typography component="div" className="figures" sx={{ fontWeight: 650 }}>
        {lap ?? (step > 0 ? `line, step ${step} …` : 'computing …')}
      </Typography>
    </Box>
  )
}
