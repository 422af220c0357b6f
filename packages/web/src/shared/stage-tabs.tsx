import { Box, Stack } from '@mui/material'
import { NavLink } from 'react-router'

/** The pages of one stage, under its name. */
export const StageTabs = ({ label, tabs }: { label: string; tabs: readonly { to: string; name: string }[] }) => (
  <Stack component="nav" direction="row" aria-label={label} spacing={0}>
    {tabs.map(({ to, name }) => (
      <Box
        key={to}
        component={NavLink}
        to={to}
        end
        sx={{
          px: 1.25,
          py: 0.4,
          color: 'text.primary',
          textDecoration: 'none',
          fontWeight: 600,
          fontStretch: '90%',
          borderBottom: '3px solid transparent',
          '&.active': { borderColor: 'primary.main' },
          '&:hover': { backgroundColor: 'var(--verge)' },
        }}
      >
        {name}
      </Box>
    ))}
  </Stack>
)
