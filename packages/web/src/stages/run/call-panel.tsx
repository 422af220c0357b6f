import { Box, Stack, Typography } from '@mui/material'
import { cornerName, type Plan } from '@ochote/core'
import { say } from '../../language/say.ts'
import { lengthOf, lengthUnit } from '../../language/staff-units.ts'
import type { NextCall } from './next-call.ts'

/** Why nothing is said now: no position yet, the sheet is not computed yet, a lap without calls, or a student who wants none. */
export type Silence = 'no-position' | 'computing' | 'lap' | 'quiet'

const silenceWords: Record<Silence, string> = {
  'no-position': say`Waiting for positions; calls go by the plan from the first one on.`,
  computing: say`Computing the calls …`,
  lap: say`No calls on this lap.`,
  quiet: say`No calls: this student drives quietly.`,
}

/** The next call, large, and the one after it; or why there is none. */
export const CallPanel = ({ calls, plan, silence }: { calls: readonly NextCall[]; plan: Plan; silence: Silence }) => {
  const [next, after] = calls
  const nameOf = (cornerId: string): string => cornerName(plan.corners, cornerId)
  if (!next)
    return (
      <Box sx={{ minHeight: 118, display: 'flex', alignItems: 'center', borderLeft: 'call', borderColor: 'divider', pl: 4 }}>
        <Typography sx={{ fontSize: 'size.text' }}>{silenceWords[silence]}</Typography>
      </Box>
    )
  return (
    <Box
      aria-label={say`Next call`}
      component="section"
      sx={{
        minHeight: 118,
        display: 'flex',
        flexDirection: 'column',
        justifyContent: 'center',
        borderLeft: 'call',
        borderColor: next.now ? 'primary.main' : 'text.primary',
        pl: 4,
        pr: 4,
        py: 1,
        backgroundColor: next.now ? 'primary.main' : 'var(--sheet)',
        color: next.now ? 'primary.contrastText' : 'text.primary',
      }}
    >
      <Stack direction="row" spacing={4} sx={{ alignItems: 'baseline' }}>
        <Typography
          component="div"
          sx={{ fontSize: { xs: 'size.head', md: 'size.title' }, fontWeight: 720, fontStretch: '84%', lineHeight: 1.1 }}
        >
          {next.call.phrase}
        </Typography>
        <Typography
          component="div"
          className="figures"
          sx={{ fontSize: { xs: 'size.head', md: 'size.title' }, fontWeight: 560, lineHeight: 1.1, whiteSpace: 'nowrap' }}
        >{`${Math.round(lengthOf(next.toMark_m) / 5) * 5} ${lengthUnit}`}</Typography>
      </Stack>
      <Typography component="div" sx={{ fontSize: 'size.note' }}>
        {`${nameOf(next.call.cornerId)}${after ? say` · then ${nameOf(after.call.cornerId)}: ${after.call.phrase}` : ''}`}
      </Typography>
    </Box>
  )
}
