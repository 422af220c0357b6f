import { Box, Stack, Typography } from '@mui/material'
import type { StoredFinding } from '@ochote/contract'
import { evidenceText, formatDifference, mistakeName, mistakes, type Observation, type Plan, rootSeenToo } from '@ochote/core'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'

/** Findings of some laps by corner in travel order: roots with their consequences folded under them, and what was logged by hand. */
export const FindingsList = ({
  plan,
  findings,
  observations,
}: {
  plan: Plan
  findings: readonly StoredFinding[]
  observations: readonly Observation[]
}) => {
  const { cornerId: selected, selectCorner, moveTo } = useLapSelection()
  const corners = plan.corners.filter((c) => findings.some((f) => f.cornerId === c.id) || observations.some((o) => o.cornerId === c.id))
  const foldedUnder = (root: StoredFinding): StoredFinding[] =>
    findings.filter((f) => f.cornerId === root.cornerId && f.lap === root.lap && f.because === root.code)
  const rootOf = new Map(observations.map((o) => [o.id, rootSeenToo(findings, o)]))
  const seenToo = new Set(rootOf.values())
  if (corners.length === 0) return <Typography>Nothing stood out against the plan, and nothing was logged by hand.</Typography>
  return (
    <Stack spacing={0} aria-label="Findings by corner" component="section">
      {corners.map((corner) => (
        <Box
          key={corner.id}
          component="article"
          aria-label={corner.name}
          onClick={() => {
            selectCorner(corner.id)
            moveTo(corner.peak_m)
          }}
          sx={{
            py: 1,
            px: 1.25,
            borderBottom: '1px solid',
            borderColor: 'divider',
            borderLeft: '5px solid',
            borderLeftColor: corner.id === selected ? 'primary.main' : 'transparent',
            cursor: 'pointer',
          }}
        >
          <Typography sx={{ fontWeight: 680, fontStretch: '88%' }}>{corner.name}</Typography>
          {findings
            .filter((f) => f.cornerId === corner.id && f.root)
            .map((root) => {
              const folded = foldedUnder(root)
              return (
                <Typography key={`${root.lap}${root.code}`} variant="body2" sx={{ mt: 0.3 }}>
                  <Box component="span" className="figures" sx={{ color: 'text.secondary', mr: 0.75 }}>{`Lap ${root.lap}`}</Box>
                  <Box component="span" sx={{ color: mistakes[root.code].safety ? 'error.main' : 'inherit' }}>
                    {evidenceText(root)}
                  </Box>
                  <Box
                    component="span"
                    className="figures"
                    sx={{ ml: 0.75, fontWeight: 600 }}
                  >{`${formatDifference(root.lossTime_s)} in this corner`}</Box>
                  {seenToo.has(root) && (
                    <Box component="span" sx={{ ml: 0.75, color: 'text.secondary' }}>
                      logged in the car too
                    </Box>
                  )}
                  {folded.length > 0 && (
                    <Box component="span" sx={{ display: 'block', pl: 2, color: 'text.secondary' }}>
                      {`which led to: ${folded.map((f) => evidenceText(f)).join('; ')}`}
                    </Box>
                  )}
                </Typography>
              )
            })}
          {observations
            .filter((o) => o.cornerId === corner.id && !rootOf.get(o.id))
            .map((o) => (
              <Typography key={o.id} variant="body2" sx={{ mt: 0.3 }}>
                <Box component="span" className="figures" sx={{ color: 'text.secondary', mr: 0.75 }}>{`Lap ${o.lap}`}</Box>
                {`${mistakeName(o.code)} — logged in the car`}
              </Typography>
            ))}
        </Box>
      ))}
    </Stack>
  )
}
