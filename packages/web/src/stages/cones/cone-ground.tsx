import { Box, ToggleButton, ToggleButtonGroup } from '@mui/material'
import { type Cone, cornerOf, type Nudge, nudgeTo, type Plan, signedDistance, stationBefore, withGroupNudged } from '@ochote/core'
import { type ReactNode, useMemo, useState } from 'react'
import { say } from '../../language/say.ts'
import { lengthOf, lengthUnit } from '../../language/staff-units.ts'
import { columns, restOfWindow } from '../../look/columns.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { SeatView } from '../../shared/seat/seat-view.tsx'
import { visibilityOn } from '../../shared/seat/visibilities.ts'

/** Seconds before a cone at which it is looked at. */
const MOMENTS = [3, 2, 1] as const
const SHOWN = { line: true, marks: false, braking: false } as const
/** Road in view on either side of a chosen group (m). */
const AROUND_M = 45

/** The road in view for a chosen group: near it while it is looked at from the seat too, else with its corner. */
const stretchOf = ({ corners, circuit }: Plan, cone: Cone, near: boolean): { from_m: number; span_m: number } => {
  const { station_m } = cone.computed
  const corner = near ? undefined : cornerOf(corners, cone.cornerId)
  const ahead_m = corner ? signedDistance(station_m, corner.end_m, circuit.length_m) : 0
  const behind_m = corner ? signedDistance(corner.start_m, station_m, circuit.length_m) : 0
  const from_m = station_m - Math.max(0, behind_m) - AROUND_M
  return { from_m, span_m: station_m + Math.max(0, ahead_m) + AROUND_M - from_m }
}

/** Moves by hand are kept to this (m). */
const STEP_M = 0.1
const inSteps = (length_m: number): number => Math.round(length_m / STEP_M) * STEP_M

/**
 * The ground with the day's cones. A chosen group can be dragged on it (`onNudge` is null where it cannot), and looked at from the seat some
 * seconds before it meanwhile, in the place of what else stands beside the ground.
 */
export const ConeGround = ({
  plan,
  cones,
  groupId,
  height,
  onNudge,
  below,
  beside,
}: {
  plan: Plan
  cones: readonly Cone[]
  groupId: string | null
  height: number | string
  onNudge: ((groupId: string, nudge: Nudge) => void) | null
  below: ReactNode
  beside: ReactNode
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
  const stretch = useMemo(() => (first ? stretchOf(plan, first, before_s > 0) : undefined), [plan, first, before_s])
  // A cone is a dot from afar: its name tells where it is.
  const labels = useMemo(
    () =>
      shown
        .filter((c) => c.groupId === groupId)
        .slice(-1)
        .map(({ id, kind, station_m: at_m, offset_m }) => ({ id, text: coneNames[kind], station_m: at_m, offset_m, above_m: 0.6 })),
    [shown, groupId],
  )
  const signed = (value_m: number): string => `${value_m < 0 ? '−' : '+'}${lengthOf(Math.abs(value_m)).toFixed(1)} ${lengthUnit}`
  const choice = first && (
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
  )
  return (
    <Box sx={columns('minmax(0, 0.7fr) minmax(0, 1.3fr)')}>
      <Box>
        {choice}
        <Box sx={{ position: 'relative' }}>
          <GroundView plan={plan} layers={layers} height={height} dragCones={drag} stretch={stretch} />
          {held && (
            <Box
              role="status"
              aria-label={say`While it is dragged`}
              className="figures"
              sx={{ position: 'absolute', right: 0, top: 0, px: 2, backgroundColor: 'background.paper', pointerEvents: 'none' }}
            >
              {say`${signed(held.along_m)} along, ${signed(held.across_m)} out`}
            </Box>
          )}
        </Box>
        {below}
      </Box>
      {first && before_s > 0 ? (
        <SeatView
          plan={plan}
          cones={shown}
          at={at}
          layers={SHOWN}
          labels={labels}
          visibility={visibilityOn(plan.settings.surface)}
          height={restOfWindow(450, 300)}
          label={say`The cone from the seat, ${before_s} s before it`}
          fallback={beside}
        />
      ) : (
        beside
      )}
    </Box>
  )
}
