import { Box, type Theme, useMediaQuery } from '@mui/material'
import { Outlet } from 'react-router'
import { At } from '../look/theme-choice.tsx'

/** Pages on the knee of an instructor, in a car or beside the track. */
export const OnTheKnee = () => (
  <At distance="knee">
    <Outlet />
  </At>
)

/** Pages for a room; on a phone they are read there. */
export const OnTheWall = () => {
  const inHand = useMediaQuery((theme: Theme) => theme.breakpoints.down('sm'))
  return (
    <At distance={inHand ? 'phone' : 'projector'}>
      <Outlet />
    </At>
  )
}

/** Pages that a student opens once, on a phone, or that are filled in standing. */
export const InTheHand = () => (
  <At distance="phone">
    <Outlet />
  </At>
)

/** Pages that are printed. */
export const OnPaper = () => (
  <At distance="paper">
    {/* On a screen narrower than the sheet, the sheet moves and not the page. */}
    <Box sx={{ '@media screen': { overflowX: 'auto', minHeight: '100dvh', backgroundColor: 'background.default' } }}>
      <Outlet />
    </Box>
  </At>
)
