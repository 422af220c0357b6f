import { Box, Stack, Typography } from '@mui/material'
import type { ReactNode } from 'react'
import { StageTabs } from './stage-tabs.tsx'

/** The stages with their pages. */
const stages = {
  Circuit: [
    { to: '/circuit', name: 'Track' },
    { to: '/circuit/all', name: 'All circuits' },
    { to: '/circuit/vehicles', name: 'Vehicles' },
  ],
  Cones: [
    { to: '/cones', name: 'Plan' },
    { to: '/cones/schemes', name: 'Schemes and stock' },
    { to: '/cones/lay', name: 'Lay' },
    { to: '/cones/check', name: 'Check again' },
  ],
  Day: [
    { to: '/day', name: 'The day' },
    { to: '/day/all', name: 'All days' },
  ],
  Brief: [
    { to: '/brief', name: 'Pages' },
    { to: '/brief/calls', name: 'Calls' },
    { to: '/brief/rehearse', name: 'Rehearse' },
    { to: '/brief/students', name: 'Students' },
  ],
  Run: [
    { to: '/run', name: 'Runs' },
    { to: '/run/pit-wall', name: 'Pit wall' },
    { to: '/run/lead-follow', name: 'Lead-follow' },
    { to: '/run/corner-post', name: 'Corner post' },
    { to: '/run/pad', name: 'Pad' },
    { to: '/run/history', name: 'History' },
    { to: '/run/devices', name: 'Devices' },
  ],
  Debrief: [
    { to: '/debrief', name: 'Drives' },
    { to: '/debrief/thresholds', name: 'What counts as a mistake' },
  ],
  Record: [],
  School: [
    { to: '/school', name: 'Students' },
    { to: '/school/instructors', name: 'Instructors' },
    { to: '/school/cars', name: 'Cars' },
    { to: '/school/settings', name: 'Settings' },
    { to: '/school/network', name: 'Network' },
  ],
} as const satisfies Record<string, readonly { to: string; name: string }[]>

/** Head of a stage's page: the stage's name, the same on all its pages so that the tabs never move; facts; at the right what can be done. */
export const StageHead = ({ stage, facts, children }: { stage: keyof typeof stages; facts?: ReactNode; children?: ReactNode }) => (
  <Stack
    component="header"
    direction="row"
    useFlexGap
    spacing={4}
    sx={{ alignItems: 'center', flexWrap: 'wrap', rowGap: 2, '@media print': { display: 'none' } }}
  >
    <Typography variant="title">{stage}</Typography>
    {stages[stage].length > 0 && <StageTabs label="Pages of this stage" tabs={stages[stage]} />}
    {facts && (
      <Box role="status" sx={{ color: 'text.secondary', fontSize: 'size.text', flex: '1 1 200px', minWidth: 0 }}>
        {facts}
      </Box>
    )}
    {!facts && <Box sx={{ flex: 1 }} />}
    <Stack direction="row" useFlexGap spacing={2} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
      {children}
    </Stack>
  </Stack>
)
