import { Box, MenuItem, Stack, TextField, Typography } from '@mui/material'
import type { PlanChoice } from '@ochote/contract'
import {
  type BrakingSchool,
  brakingSchools,
  formatLapTime,
  type LineMethod,
  lineMethods,
  paces,
  type Surface,
  surfaces,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { lineWords } from '../shared/plan/line-words.ts'
import { askAhead, usePlan } from '../shared/plan/use-plan.ts'
import { useDay } from './day-context.tsx'
import { circuitsQuery, daysQuery, vehiclesQuery } from './queries.ts'

const surfaceWords: Record<Surface, string> = { dry: 'Dry', damp: 'Damp', wet: 'Wet', standing: 'Standing water' }
const schoolWords: Record<BrakingSchool, string> = { straight: 'Straight', blend: 'Blend', trail: 'Trail' }
const schoolExplained: Record<BrakingSchool, string> = {
  straight: 'all braking done before turn-in',
  blend: 'a light brake carried in',
  trail: 'easing until the apex',
}
const paceSteps = [
  ...Object.entries(paces).map(([name, value]) => ({
    value,
    label: `${name[0].toUpperCase()}${name.slice(1)} ${Math.round(100 * value)} %`,
  })),
  { value: 0.92, label: 'Ceiling 92 %' },
]

const Choice = ({
  label,
  value,
  onChange,
  width,
  children,
}: {
  label: string
  value: string
  onChange: (value: string) => void
  width: number
  children: ReactNode
}) => (
  <TextField
    select
    label={label}
    value={value}
    onChange={(e) => onChange(e.target.value)}
    slotProps={{ select: { MenuProps: { transitionDuration: 0 } } }}
    sx={{
      width,
      '& .MuiSelect-select': { py: 0.2, fontWeight: 600, fontStretch: '90%' },
      '& .MuiSelect-select .explained': { display: 'none' },
    }}
  >
    {children}
  </TextField>
)

/** For which circuit, vehicle, surface, pace and school the numbers on screen hold; change one and all follow. */
export const ContextBar = () => {
  const { day, settings, chooseDay, changeSettings: write } = useDay()
  const circuits = useQuery(circuitsQuery)
  const vehicles = useQuery(vehiclesQuery)
  const days = useQuery(daysQuery)
  if (!settings) return null
  const changeSettings = (change: Partial<PlanChoice>): void => {
    askAhead({ ...settings, ...change })
    write(change)
  }
  return (
    <Stack
      component="section"
      aria-label="What the numbers hold for"
      direction="row"
      spacing={2}
      sx={{ alignItems: 'flex-end', px: 2, py: 0.75, borderBottom: '1px solid', borderColor: 'divider', overflowX: 'auto' }}
    >
      {day && (days.data?.length ?? 0) > 1 && (
        <Choice label="Day" value={day.id} onChange={chooseDay} width={128}>
          {days.data?.map((d) => (
            <MenuItem key={d.id} value={d.id}>
              {d.date}
            </MenuItem>
          ))}
        </Choice>
      )}
      <Choice label="Layout" value={settings.circuitId} onChange={(circuitId) => changeSettings({ circuitId })} width={150}>
        {circuits.data?.map((c) => (
          <MenuItem key={c.id} value={c.id}>
            {c.name}
          </MenuItem>
        ))}
      </Choice>
      <Choice label="Vehicle" value={settings.vehicleId} onChange={(vehicleId) => changeSettings({ vehicleId })} width={212}>
        {vehicles.data?.map((v) => (
          <MenuItem key={v.id} value={v.id}>
            {v.name}
          </MenuItem>
        ))}
      </Choice>
      <Choice label="Surface" value={settings.surface} onChange={(v) => changeSettings({ surface: v as Surface })} width={118}>
        {Object.keys(surfaces).map((s) => (
          <MenuItem key={s} value={s}>
            {surfaceWords[s as Surface]}
          </MenuItem>
        ))}
      </Choice>
      <Choice label="Pace" value={String(settings.pace)} onChange={(v) => changeSettings({ pace: Number(v) })} width={136}>
        {paceSteps.map((p) => (
          <MenuItem key={p.value} value={String(p.value)}>
            {p.label}
          </MenuItem>
        ))}
      </Choice>
      <Choice label="Line" value={settings.method ?? 'smoothest'} onChange={(v) => changeSettings({ method: v as LineMethod })} width={116}>
        {lineMethods.map((m) => (
          <MenuItem key={m} value={m}>
            {lineWords[m].name}
            <Box component="span" className="explained" sx={{ ml: 1, color: 'text.secondary' }}>
              {lineWords[m].explained}
            </Box>
          </MenuItem>
        ))}
      </Choice>
      <Choice
        label="School of braking"
        value={settings.school}
        onChange={(v) => changeSettings({ school: v as BrakingSchool })}
        width={130}
      >
        {brakingSchools.map((s) => (
          <MenuItem key={s} value={s}>
            {schoolWords[s]}
            <Box component="span" className="explained" sx={{ ml: 1, color: 'text.secondary' }}>
              {schoolExplained[s]}
            </Box>
          </MenuItem>
        ))}
      </Choice>
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
