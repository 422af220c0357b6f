import { Box } from '@mui/material'
import type { ReactNode } from 'react'
import { Link } from 'react-router'

/** A row of a list that leads somewhere; `columns`: widths of its cells as a grid template. */
export const RowLink = ({ to, columns, children }: { to: string; columns: string; children: ReactNode }) => (
  <Box
    component={Link}
    to={to}
    sx={{
      display: 'grid',
      gridTemplateColumns: columns,
      gap: 2,
      py: 0.6,
      borderBottom: '1px solid',
      borderColor: 'divider',
      color: 'inherit',
      textDecoration: 'none',
      fontSize: '0.95rem',
      '&:hover': { backgroundColor: 'var(--verge)' },
    }}
  >
    {children}
  </Box>
)
