import { Box, Stack } from '@mui/material'
import { NavLink, useLocation } from 'react-router'
import { chosenLook } from '../look/chosen.ts'

/** The pages of one stage, under its name. */
export const StageTabs = ({ label, tabs }: { label: string; tabs: readonly { to: string; name: string; also?: string }[] }) => {
  const { pathname } = useLocation()
  return (
    <Stack component="nav" direction="row" aria-label={label} sx={{ flexWrap: 'wrap' }}>
      {tabs.map(({ to, name, also }) => (
        <Box
          key={to}
          component={NavLink}
          to={to}
          end
          {...(also === pathname ? { className: 'active', 'aria-current': 'page' } : {})}
          sx={{
            px: 3,
            py: 1,
            color: 'text.primary',
            textDecoration: 'none',
            fontWeight: 600,
            fontStretch: '90%',
            '&:hover': { backgroundColor: 'var(--verge)' },
            '&.active': chosenLook('below'),
          }}
        >
          {name}
        </Box>
      ))}
    </Stack>
  )
}
