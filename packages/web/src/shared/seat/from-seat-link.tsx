import { Button } from '@mui/material'
import { Link } from 'react-router'
import { say } from '../../language/say.ts'
import { useLapSelection } from '../selection/lap-selection.tsx'

/** The way to the view from the seat, at a place of the lap and its corner. */
export const FromSeatLink = ({ cornerId, station_m }: { cornerId: string; station_m: number }) => {
  const { moveTo, selectCorner } = useLapSelection()
  return (
    <Button
      size="small"
      variant="text"
      component={Link}
      to="/circuit/seat"
      onClick={() => {
        selectCorner(cornerId)
        moveTo(station_m)
      }}
    >
      {say`See it from the seat`}
    </Button>
  )
}
