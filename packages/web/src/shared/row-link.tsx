import { Box } from '@mui/material'
import type { ReactNode } from 'react'
import { Link } from 'react-router'

/** A row of a list that leads somewhere; `columns`: widths of its cells as a grid template. */
export const RowLink = ({ to, columns, children }: { to: string; columns: string | Record<string, string>; children: ReactNode }) => (
  <Box
    component={Link}
    to={to}
    sx={{
      display: 'grid',
      gridTemplateColumns: columns,
      gap: 4,
      py: 1,
      borderBottom: 'hair',
      borderColor: 'divider',
      color: 'inherit',
      textDecoration: 'none',
      fontSize: 'size.text',
      '&:hover': { backgroundColor: 'var(--verge)' },
    }}
  >
    {children}
  </Box>
)
