import { Box, Stack, Typography } from '@mui/material'
import type { ReactNode } from 'react'
import { say, sayWhole } from '../language/say.ts'
import { StageTabs } from './stage-tabs.tsx'

/** The stages with their pages. */
const stages = {
  Circuit: [
    { to: '/circuit', name: say`Track` },
    { to: '/circuit/seat', name: say`From the seat` },
    { to: '/circuit/all', name: say`All circuits` },
    { to: '/circuit/vehicles', name: say`Vehicles` },
  ],
  Cones: [
    { to: '/cones', name: 'Plan' },
    { to: '/cones/schemes', name: say`Schemes and stock` },
    { to: '/cones/lay', name: say`Lay` },
    { to: '/cones/check', name: say`Check again` },
  ],
  Day: [
    { to: '/day', name: say`The day` },
    { to: '/day/plan', name: say`Plan it` },
    { to: '/day/pad', name: say`Pad` },
    { to: '/day/all', name: say`All days` },
  ],
  Brief: [
    { to: '/brief', name: say`Pages` },
    { to: '/brief/calls', name: say`Calls` },
    { to: '/brief/rehearse', name: say`Rehearse` },
    { to: '/brief/students', name: say`Students` },
  ],
  Run: [
    { to: '/run', name: say`Runs` },
    { to: '/run/pit-wall', name: say`Pit wall` },
    { to: '/run/lead-follow', name: say`Lead-follow` },
    { to: '/run/corner-post', name: say`Corner post` },
    { to: '/run/pad', name: say`Pad` },
    { to: '/run/history', name: say`History` },
    { to: '/run/devices', name: say`Devices` },
  ],
  Debrief: [
    { to: '/debrief', name: say`Drives` },
    { to: '/debrief/thresholds', name: say`What counts as a mistake` },
  ],
  Record: [],
  School: [
    { to: '/school', name: say`Students` },
    { to: '/school/instructors', name: say`Instructors` },
    { to: '/school/cars', name: say`Cars` },
    { to: '/school/settings', name: say`Settings` },
    { to: '/school/network', name: say`Network` },
    { to: '/school/access', name: say`Access` },
    { to: '/school/safe', name: say`Safekeeping` },
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
    <Typography variant="title">{sayWhole(stage)}</Typography>
    {stages[stage].length > 0 && <StageTabs label={say`Pages of this stage`} tabs={stages[stage]} />}
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
