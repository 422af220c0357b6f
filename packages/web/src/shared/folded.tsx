import { Box, Typography } from '@mui/material'
import { type ReactNode, type SyntheticEvent, useState } from 'react'

/** A part of a page that is folded away under its name; what is folded is not there at all. */
export const Folded = ({ name, open = false, children }: { name: string; open?: boolean; children: ReactNode }) => {
  const [shown, setShown] = useState(open)
  return (
    <Box
      component="details"
      open={shown}
      onToggle={(e: SyntheticEvent<HTMLDetailsElement>) => setShown(e.currentTarget.open)}
      sx={{ '& summary': { cursor: 'pointer' } }}
    >
      <summary>
        <Typography component="span" variant="head">
          {name}
        </Typography>
      </summary>
      {shown && <Box sx={{ mt: 3 }}>{children}</Box>}
    </Box>
  )
}
