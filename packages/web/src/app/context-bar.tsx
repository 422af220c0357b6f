import { Box, Button, MenuItem, Stack, TextField, type Theme, Typography, useMediaQuery } from '@mui/material'
import { formatLapTime, lineMethods, lowestGear, metrePrice_s, type PlanChoice, type Surface, surfaces } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { memo, useCallback, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { useLocation } from 'react-router'
import { circuitsQuery, daysQuery, vehiclesQuery } from '../data/api/queries.ts'
import { useDay } from '../data/day/day-context.tsx'
import { askAhead, usePlan } from '../data/plan/use-plan.ts'
import { say } from '../language/say.ts'
import { lineWords } from '../shared/plan/line-words.ts'
import { paceOptions, schoolOptions, settingInWords, surfaceWords } from '../shared/plan/setting-words.ts'
import { WordHelp } from '../shared/word-help.tsx'

type Option = { value: string; label: string; explained?: string }
type Setting = 'circuitId' | 'vehicleId' | 'surface' | 'pace' | 'method' | 'school' | 'lowestGear' | 'perMetre_s'
/** Settings that are numbers. */
const numeric: ReadonlySet<Setting | 'day'> = new Set(['pace', 'lowestGear', 'perMetre_s'])

const surfaceOptions: readonly Option[] = Object.keys(surfaces).map((s) => ({ value: s, label: surfaceWords[s as Surface] }))
const lineOptions: readonly Option[] = lineMethods.map((m) => ({ value: m, label: lineWords[m].name, explained: lineWords[m].explained }))
const gearOptions: readonly Option[] = [say`1st`, say`2nd`, say`3rd`].map((label, k) => ({ value: String(k + 1), label }))
/** Prices of a metre for the compact line, as the width that they buy. */
const metreOptions: readonly Option[] = [
  { value: '0.005', label: '0.005 s', explained: say`almost the fast line` },
  { value: '0.02', label: '0.02 s', explained: say`the usual price` },
  { value: '0.05', label: '0.05 s', explained: say`shorter ways` },
  { value: '0.1', label: '0.1 s', explained: say`much shorter ways, for kart tracks` },
  { value: '0.2', label: '0.2 s', explained: say`close to the shortest` },
]

/** One setting to choose; drawn again only when its own value or options change. */
const Choice = memo(
  ({
    name,
    label,
    value,
    options,
    onPick,
  }: {
    name: Setting | 'day'
    label: string
    value: string
    options: readonly Option[]
    onPick: (name: Setting | 'day', value: string) => void
  }) => (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => onPick(name, e.target.value)}
      slotProps={{ select: { MenuProps: { transitionDuration: 0 } } }}
      sx={{
        flex: 'none',
        '& .MuiSelect-select': { fontWeight: 600, fontStretch: '90%' },
        '& .MuiSelect-select .explained': { display: 'none' },
      }}
    >
      {options.map((o) => (
        <MenuItem key={o.value} value={o.value}>
          {o.label}
          {o.explained && (
            <Box component="span" className="explained" sx={{ ml: 2, color: 'text.secondary' }}>
              {o.explained}
            </Box>
          )}
        </MenuItem>
      ))}
    </TextField>
  ),
)

/** Pages on which other numbers rule than the day's: those of a drive, of a person, of the school. */
const others = [
  '/circuit/vehicles',
  '/circuit/all',
  '/circuit/new',
  '/day/all',
  '/school',
  '/guide',
  '/run/devices',
  '/run/history',
  '/debrief',
  '/record',
]
const rules = (pathname: string): boolean => !others.some((path) => pathname.startsWith(path))

/** For which circuit, vehicle, surface, pace and school the numbers on screen hold; change one and all follow. The day’s plan stays until somebody says otherwise. */
export const ContextBar = () => {
  const { day, settings, chooseDay, lookAt } = useDay()
  const circuits = useQuery(circuitsQuery)
  const vehicles = useQuery(vehiclesQuery)
  const days = useQuery(daysQuery)
  const circuitOptions = useMemo(
    () =>
      (circuits.data ?? [])
        .filter((c) => c.archivedAt === null || c.id === settings?.circuitId)
        .map((c) => ({ value: c.id, label: c.name })),
    [circuits.data, settings?.circuitId],
  )
  const vehicleOptions = useMemo(() => (vehicles.data ?? []).map((v) => ({ value: v.id, label: v.name })), [vehicles.data])
  const dayOptions = useMemo(
    () =>
      (days.data ?? [])
        .filter((d) => !d.template)
        .map((d) => ({ value: d.id, label: dayjs(d.date).format(say`D MMM YYYY`), explained: d.title })),
    [days.data],
  )
  const latest = useRef({ settings, chooseDay, lookAt })
  useLayoutEffect(() => {
    latest.current = { settings, chooseDay, lookAt }
  })
  const pick = useCallback((name: Setting | 'day', value: string): void => {
    const now = latest.current
    if (name === 'day') {
      now.chooseDay(value)
      return
    }
    const change: Partial<PlanChoice> = { [name]: numeric.has(name) ? Number(value) : value }
    if (now.settings) askAhead({ ...now.settings, ...change })
    now.lookAt(change)
  }, [])
  const narrow = useMediaQuery((theme: Theme) => theme.breakpoints.down('md'))
  const [open, setOpen] = useState(false)
  const { pathname } = useLocation()
  if (!settings || !rules(pathname)) return null
  const vehicle = vehicles.data?.find((v) => v.id === settings.vehicleId)
  const labelIn = (options: readonly Option[], value: string): string => options.find((o) => o.value === value)?.label ?? ''
  const words = [
    labelIn(circuitOptions, settings.circuitId),
    vehicle?.name,
    surfaceWords[settings.surface],
    labelIn(paceOptions, String(settings.pace)),
    labelIn(lineOptions, settings.method ?? 'smoothest'),
    labelIn(schoolOptions, settings.school),
  ]
  return (
    <Stack
      component="section"
      aria-label={say`Settings behind the numbers`}
      direction="row"
      useFlexGap
      spacing={2}
      sx={{
        alignItems: 'flex-end',
        flexWrap: 'wrap',
        px: 4,
        py: 2,
        borderBottom: 'hair',
        borderColor: 'divider',
        '@media print': { display: 'none' },
      }}
    >
      {narrow && (
        <Button
          variant="text"
          color="secondary"
          size="small"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          sx={{ flex: 1, justifyContent: 'flex-start', textAlign: 'left', px: 0 }}
        >
          {`${words.filter(Boolean).join(' · ')}: ${open ? say`close` : say`change`}`}
        </Button>
      )}
      {!(narrow && !open) && (
        <>
          {day && dayOptions.length > 1 && <Choice name="day" label={say`Day`} value={day.id} options={dayOptions} onPick={pick} />}
          <Choice name="circuitId" label={say`Layout`} value={settings.circuitId} options={circuitOptions} onPick={pick} />
          <Choice name="vehicleId" label={say`Vehicle`} value={settings.vehicleId} options={vehicleOptions} onPick={pick} />
          <Choice name="surface" label={say`Surface`} value={settings.surface} options={surfaceOptions} onPick={pick} />
          <Stack direction="row" sx={{ alignItems: 'center' }}>
            <Choice name="pace" label={say`Pace`} value={String(settings.pace)} options={paceOptions} onPick={pick} />
            <WordHelp word="pace" />
          </Stack>
          <Choice name="method" label={say`Line`} value={settings.method ?? 'smoothest'} options={lineOptions} onPick={pick} />
          {vehicle && settings.method === 'compact' && (
            <Choice
              name="perMetre_s"
              label={say`Price of a metre`}
              value={String(metrePrice_s(vehicle, settings.perMetre_s))}
              options={metreOptions}
              onPick={pick}
            />
          )}
          {vehicle && vehicle.gears.length > 1 && (
            <Choice
              name="lowestGear"
              label={say`Lowest gear`}
              value={String(lowestGear(vehicle, settings.lowestGear))}
              options={gearOptions.slice(0, vehicle.gears.length)}
              onPick={pick}
            />
          )}
          <Stack direction="row" sx={{ alignItems: 'center' }}>
            <Choice name="school" label={say`Braking style`} value={settings.school} options={schoolOptions} onPick={pick} />
            <WordHelp word="braking-style" />
          </Stack>
        </>
      )}
      {!narrow && <Box sx={{ flex: 1 }} />}
      <PlannedLap settings={settings} />
      <OnlyLookedAt />
    </Stack>
  )
}

/** Says that the pages show other settings than the day’s plan, and asks whether the day is to be planned with them. */
const OnlyLookedAt = () => {
  const { day, settings, lookedAt, lookBack, changeSettings } = useDay()
  const circuits = useQuery(circuitsQuery)
  const vehicles = useQuery(vehiclesQuery)
  if (!day || !settings || lookedAt.length === 0) return null
  const names = {
    circuit: (id: string) => circuits.data?.find((c) => c.id === id)?.name ?? id,
    vehicle: (id: string) => vehicles.data?.find((v) => v.id === id)?.name ?? id,
  }
  const inFew = (of: PlanChoice): string => lookedAt.map((key) => settingInWords(key, of, names)).join(', ')
  return (
    <Stack
      component="section"
      aria-label={say`Only looked at`}
      direction="row"
      useFlexGap
      spacing={3}
      sx={{ flexBasis: '100%', alignItems: 'center', flexWrap: 'wrap', borderLeft: 'note', borderColor: 'warning.main', pl: 3 }}
    >
      <Typography role="status" sx={{ flex: '1 1 240px' }}>
        {say`You are looking at ${inFew(settings)}. The day is planned for ${inFew(day.plan.settings)}.`}
      </Typography>
      <Button
        size="small"
        variant="contained"
        onClick={() => changeSettings(Object.fromEntries(lookedAt.map((key) => [key, settings[key]])))}
      >
        {say`Plan the day with this, for everybody`}
      </Button>
      <Button size="small" variant="outlined" onClick={lookBack}>
        {say`Back to the plan`}
      </Button>
    </Stack>
  )
}

/** The lap time that is planned for these settings, as soon as it is there. */
const PlannedLap = ({ settings }: { settings: PlanChoice }) => {
  const { plan, computing, step } = usePlan(settings)
  const lap = plan && !computing ? formatLapTime(plan.profile.lapTime_s, 1) : null
  return (
    <Box role="status" aria-live="polite" sx={{ textAlign: 'right', whiteSpace: 'nowrap', pb: 1 }}>
      <Typography variant="text" color="text.secondary" component="div" sx={{ fontSize: 'size.note' }}>
        {say`Planned lap`}
      </Typography>
      <Typography component="div" className="figures" sx={{ fontWeight: 650 }}>
        {lap ?? (step > 0 ? say`line, step ${step} …` : say`computing …`)}
      </Typography>
    </Box>
  )
}
