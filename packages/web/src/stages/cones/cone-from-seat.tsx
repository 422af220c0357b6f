import { Box, Stack, ToggleButton, ToggleButtonGroup } from '@mui/material'
import { type Cone, type Plan, stationBefore } from '@ochote/core'
import { type ReactNode, useMemo, useState } from 'react'
import { say } from '../../language/say.ts'
import { SeatView } from '../../shared/seat/seat-view.tsx'
import { visibilityOn } from '../../shared/seat/visibilities.ts'

/** Seconds before a cone at which it is looked at. */
const MOMENTS = [3, 2, 1] as const
const SHOWN = { line: true, marks: false, braking: false } as const

/** The ground around a chosen group of cones, from above, or from the seat some seconds before it: it moves as the group is moved. */
export const ConeFromSeat = ({
  plan,
  cones,
  group,
  fromAbove,
}: {
  plan: Plan
  cones: readonly Cone[]
  group: readonly Cone[]
  fromAbove: ReactNode
}) => {
  const [before_s, setBefore] = useState<(typeof MOMENTS)[number] | 0>(0)
  const [first] = group
  // From before its computed place, so that the cone moves in the picture when a hand moves it.
  const station_m = first?.computed.station_m ?? 0
  const at = useMemo(() => ({ station_m: stationBefore(plan, station_m, before_s) }), [plan, station_m, before_s])
  if (!first) return fromAbove
  return (
    <Stack spacing={1}>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label={say`How to look at the cone`}
        value={before_s}
        onChange={(_, next: typeof before_s | null) => next !== null && setBefore(next)}
      >
        <ToggleButton value={0} sx={{ py: 0 }}>
          {say`From above`}
        </ToggleButton>
        {MOMENTS.map((moment) => (
          <ToggleButton key={moment} value={moment} sx={{ py: 0 }}>
            {say`${moment} s before`}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {before_s === 0 ? (
        fromAbove
      ) : (
        <Box>
          <SeatView
            plan={plan}
            cones={cones}
            at={at}
            side="left"
            layers={SHOWN}
            visibility={visibilityOn(plan.settings.surface)}
            height={196}
            label={say`The cone from the seat, ${before_s} s before it`}
            fallback={fromAbove}
          />
        </Box>
      )}
    </Stack>
  )
}
