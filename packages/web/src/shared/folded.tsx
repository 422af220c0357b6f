import { Box, Typography } from '@mui/material'
import { type ReactNode, type SyntheticEvent, useState } from 'react'

type Props = {
  name: string
  open?: boolean
  /** True for a part of a part, whose name is no heading. */
  quiet?: boolean
  children: ReactNode
}

/** A part of a page that is folded away under its name; what is folded is not there at all. */
export const Folded = ({ name, open = false, quiet = false, children }: Props) => {
  const [shown, setShown] = useState(open)
  return (
    <Box
      component="details"
      open={shown}
      onToggle={(e: SyntheticEvent<HTMLDetailsElement>) => setShown(e.currentTarget.open)}
      sx={{ '& summary': { cursor: 'pointer' } }}
    >
      <summary>
        <Typography component="span" variant={quiet ? 'text' : 'head'}>
          {name}
        </Typography>
      </summary>
      {shown && <Box sx={{ mt: quiet ? 2 : 3 }}>{children}</Box>}
    </Box>
  )
}
