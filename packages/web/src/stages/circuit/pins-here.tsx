import { Button, Stack, Typography } from '@mui/material'
import { cornerOf, type Pin, type Plan, signedDistance } from '@ochote/core'
import { say } from '../../language/say.ts'
import { fineMetres, metres } from '../../language/staff-units.ts'

/** Two places nearer to each other along the road than this are one (m). */
const SAME_PLACE_M = 15

/** Pins with a mark dragged from one station to a place: what held the mark before, or lies where it goes, is let go. */
export const withPin = (pins: readonly Pin[], from_m: number, pin: Pin, length_m: number): Pin[] => [
  ...pins.filter(
    (p) =>
      Math.abs(signedDistance(p.station_m, from_m, length_m)) > SAME_PLACE_M &&
      Math.abs(signedDistance(p.station_m, pin.station_m, length_m)) > SAME_PLACE_M,
  ),
  { station_m: Math.round(pin.station_m * 10) / 10, offset_m: Math.round(pin.offset_m * 100) / 100 },
]

/** The places around a corner through which lines have to go because a mark was dragged there. */
export const PinsHere = ({
  plan,
  cornerId,
  pins,
  onChange,
}: {
  plan: Plan
  cornerId: string
  pins: readonly Pin[]
  onChange: (pins: Pin[]) => void
}) => {
  const corner = cornerOf(plan.corners, cornerId)
  if (!corner) return null
  const { length_m } = plan.circuit
  const reach_m = signedDistance(corner.start_m, corner.end_m, length_m) / 2 + 80
  const here = pins.filter((p) => Math.abs(signedDistance(corner.peak_m, p.station_m, length_m)) <= reach_m)
  if (here.length === 0)
    return (
      <Typography variant="text" color="text.secondary" sx={{ mt: 2 }}>
        {say`Drag turn-in, apex or exit in the ground view; every line will pass through that point.`}
      </Typography>
    )
  return (
    <Stack spacing={1} sx={{ mt: 2 }}>
      <Typography variant="head" component="h3">
        {say`Marks moved by hand`}
      </Typography>
      {here.map((pin) => (
        <Stack key={pin.station_m} direction="row" spacing={2} sx={{ alignItems: 'center', fontSize: 'size.text' }}>
          <span>{say`${metres(pin.station_m)}, ${fineMetres(pin.offset_m)} ${pin.offset_m >= 0 ? say`left` : say`right`} of the middle`}</span>
          <Button size="small" variant="text" onClick={() => onChange(pins.filter((p) => p !== pin))}>
            {say`Release the pin`}
          </Button>
        </Stack>
      ))}
    </Stack>
  )
}
