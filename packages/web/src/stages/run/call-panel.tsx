import { Box, Stack, Typography } from '@mui/material'
import { cornerName, type Plan } from '@ochote/core'
import type { NextCall } from './next-call.ts'

/** The next call, large, and the one after it. */
export const CallPanel = ({ calls, plan }: { calls: readonly NextCall[]; plan: Plan }) => {
  const [next, after] = calls
  const nameOf = (cornerId: string): string => cornerName(plan.corners, cornerId)
  if (!next)
    return (
      <Box sx={{ minHeight: 118, borderLeft: '12px solid', borderColor: 'divider', pl: 2 }}>
        <Typography sx={{ fontSize: 26 }}>No calls: this student drives quietly.</Typography>
      </Box>
    )
  return (
    <Box
      aria-label="Next call"
      component="section"
      sx={{
        minHeight: 118,
        borderLeft: '12px solid',
        borderColor: next.now ? 'primary.main' : 'text.primary',
        pl: 2,
        pr: 2,
        py: 0.5,
        backgroundColor: next.now ? 'primary.main' : 'var(--sheet)',
        color: next.now ? 'primary.contrastText' : 'text.primary',
      }}
    >
      <Stack direction="row" spacing={2} sx={{ alignItems: 'baseline' }}>
        <Typography component="div" sx={{ fontSize: { xs: 40, md: 52 }, fontWeight: 720, fontStretch: '84%', lineHeight: 1.1, flex: 1 }}>
          {next.call.phrase}
        </Typography>
        <Typography
          component="div"
          className="figures"
          sx={{ fontSize: 34, fontWeight: 640, whiteSpace: 'nowrap' }}
        >{`${Math.round(next.toMark_m / 5) * 5} m`}</Typography>
      </Stack>
      <Typography component="div" sx={{ fontSize: 22 }}>
        {`${nameOf(next.call.cornerId)}${after ? ` · then ${nameOf(after.call.cornerId)}: ${after.call.phrase}` : ''}`}
      </Typography>
    </Box>
  )
}
