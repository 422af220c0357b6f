import { Box, Stack, ToggleButton, ToggleButtonGroup } from '@mui/material'
import { type Cone, type Nudge, nudgeTo, type Plan, stationBefore, withGroupNudged } from '@ochote/core'
import { useMemo, useState } from 'react'
import { say } from '../../language/say.ts'
import { lengthOf, lengthUnit } from '../../language/staff-units.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { SeatView } from '../../shared/seat/seat-view.tsx'
import { visibilityOn } from '../../shared/seat/visibilities.ts'

/** Seconds before a cone at which it is looked at. */
const MOMENTS = [3, 2, 1] as const
const SHOWN = { line: true, marks: false, braking: false } as const
/** Moves by hand are kept to this (m). */
const STEP_M = 0.1
const inSteps = (length_m: number): number => Math.round(length_m / STEP_M) * STEP_M

/**
 * The ground with the day's cones; a chosen group can be dragged on it, and looked at from the seat some seconds before it meanwhile.
 * `onNudge` is null where it cannot be moved.
 */
export const ConeGround = ({
  plan,
  cones,
  groupId,
  height,
  onNudge,
}: {
  plan: Plan
  cones: readonly Cone[]
  groupId: string | null
  height: number | string
  onNudge: ((groupId: string, nudge: Nudge) => void) | null
}) => {
  const [before_s, setBefore] = useState<(typeof MOMENTS)[number] | 0>(0)
  const [held, setHeld] = useState<Nudge | null>(null)
  const shown = useMemo(
    () => (held && groupId ? withGroupNudged(plan.circuit, cones, groupId, held) : cones),
    [plan.circuit, cones, groupId, held],
  )
  const layers = useMemo(() => ({ cones: shown }), [shown])
  const drag = useMemo(() => {
    if (!groupId || !onNudge) return undefined
    const nudgeOf = (cone: Cone, place: { station_m: number; offset_m: number }): Nudge => {
      const { along_m, across_m } = nudgeTo(plan.circuit, cone, place)
      return { along_m: inSteps(along_m), across_m: inSteps(across_m) }
    }
    return {
      groupId,
      onHeld: (cone: Cone, place: Parameters<typeof nudgeOf>[1]): void => setHeld(nudgeOf(cone, place)),
      onLetGo: (cone: Cone, place: Parameters<typeof nudgeOf>[1] | null): void => {
        setHeld(null)
        if (place) onNudge(groupId, nudgeOf(cone, place))
      },
    }
  }, [groupId, onNudge, plan.circuit])
  const first = groupId ? cones.find((c) => c.groupId === groupId) : undefined
  // From before its computed place, so that the cone moves in the picture when a hand moves it.
  const station_m = first?.computed.station_m ?? 0
  const at = useMemo(() => ({ station_m: stationBefore(plan, station_m, before_s) }), [plan, station_m, before_s])
  const fromAbove = <GroundView plan={plan} layers={layers} height={height} dragCones={drag} />
  if (!first) return fromAbove
  const signed = (value_m: number): string => `${value_m < 0 ? '−' : '+'}${lengthOf(Math.abs(value_m)).toFixed(1)} ${lengthUnit}`
  return (
    <Stack spacing={1}>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label={say`From the seat too`}
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
      {before_s > 0 && (
        <SeatView
          plan={plan}
          cones={shown}
          at={at}
          layers={SHOWN}
          visibility={visibilityOn(plan.settings.surface)}
          height={196}
          label={say`The cone from the seat, ${before_s} s before it`}
          fallback={null}
        />
      )}
      {fromAbove}
      {held && (
        <Box role="status" aria-label={say`While it is dragged`} className="figures">
          {say`${signed(held.along_m)} along, ${signed(held.across_m)} out`}
        </Box>
      )}
    </Stack>
  )
}
