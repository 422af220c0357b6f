import { Box, Stack, Typography } from '@mui/material'
import type { StoredFinding } from '@ochote/contract'
import { formatDifference, mistakes, type Observation, type PassMarks, type Plan, rootSeenToo } from '@ochote/core'
import { say } from '../../language/say.ts'
import { chosenLook } from '../../look/chosen.ts'
import { evidenceText, mistakeName } from '../../shared/language/staff-words.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'

/** One mistake of one corner over several laps: how often, the laps, the usual one of them. */
type Habit = { often: string; laps: number[]; usual: StoredFinding }

/** How often a mistake was made, in words; one alone is told by its lap. */
const oftenInWords = (laps: readonly number[], passes: number): string => {
  if (laps.length === 1) return passes > 1 ? say`Once, lap ${laps[0]}` : say`Lap ${laps[0]}`
  if (laps.length >= passes) return say`Every lap`
  return laps.length > passes / 2 ? say`Most laps, ${laps.length} of ${passes}` : say`${laps.length} of ${passes} laps`
}

/** The roots of a corner, each mistake once: first what is made most often. */
const habitsAt = (findings: readonly StoredFinding[], cornerId: string, passesOf: (cornerId: string) => number): Habit[] => {
  const roots = findings.filter((f) => f.cornerId === cornerId && f.root)
  return [...new Set(roots.map((f) => f.code))]
    .map((code): Habit => {
      const all = roots.filter((f) => f.code === code).sort((a, b) => a.lossTime_s - b.lossTime_s)
      const laps = all.map((f) => f.lap).sort((a, b) => a - b)
      return { often: oftenInWords(laps, passesOf(cornerId)), laps, usual: all[all.length >> 1] }
    })
    .sort((a, b) => b.laps.length - a.laps.length)
}

/** Findings of some laps by corner in travel order: roots with their consequences folded under them, and what was logged by hand. */
export const FindingsList = ({
  plan,
  findings,
  observations,
  passes,
}: {
  plan: Plan
  findings: readonly StoredFinding[]
  observations: readonly Observation[]
  /** Passes of the laps that are shown: how often each corner was judged. */
  passes: readonly Pick<PassMarks, 'cornerId'>[]
}) => {
  const { cornerId: selected, selectCorner, moveTo } = useLapSelection()
  const corners = plan.corners.filter((c) => findings.some((f) => f.cornerId === c.id) || observations.some((o) => o.cornerId === c.id))
  const foldedUnder = (root: StoredFinding): StoredFinding[] =>
    findings.filter((f) => f.cornerId === root.cornerId && f.lap === root.lap && f.because === root.code)
  const rootOf = new Map(observations.map((o) => [o.id, rootSeenToo(findings, o)]))
  const seenToo = new Set(rootOf.values())
  if (corners.length === 0) return <Typography>{say`Nothing stood out against the plan, and nothing was logged by hand.`}</Typography>
  return (
    <Stack spacing={0} aria-label={say`Findings by corner`} component="section">
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
            py: 2,
            px: 3,
            borderBottom: 'hair',
            borderColor: 'divider',
            ...(corner.id === selected ? chosenLook('left') : {}),
            cursor: 'pointer',
          }}
        >
          <Typography sx={{ fontWeight: 680, fontStretch: '88%' }}>{corner.name}</Typography>
          {habitsAt(findings, corner.id, (of) => passes.filter((p) => p.cornerId === of).length).map(({ often, usual: root, laps }) => {
            const folded = foldedUnder(root)
            return (
              <Typography key={root.code} variant="text" sx={{ mt: 1 }}>
                <Box component="span" className="figures" sx={{ color: 'text.secondary', mr: 2 }} title={say`Laps ${laps.join(', ')}`}>
                  {often}
                </Box>
                <Box component="span" sx={{ color: mistakes[root.code].safety ? 'error.main' : 'inherit' }}>
                  {evidenceText(root)}
                </Box>
                <Box
                  component="span"
                  className="figures"
                  sx={{ ml: 2, fontWeight: 600 }}
                >{say`${formatDifference(root.lossTime_s)} in this corner`}</Box>
                {[...seenToo].some((f) => f?.cornerId === corner.id && f.code === root.code) && (
                  <Box component="span" sx={{ ml: 2, color: 'text.secondary' }}>
                    {say`logged in the car too`}
                  </Box>
                )}
                {folded.length > 0 && (
                  <Box component="span" sx={{ display: 'block', pl: 4, color: 'text.secondary' }}>
                    {say`which led to: ${folded.map((f) => evidenceText(f)).join('; ')}`}
                  </Box>
                )}
              </Typography>
            )
          })}
          {observations
            .filter((o) => o.cornerId === corner.id && !rootOf.get(o.id))
            .map((o) => (
              <Typography key={o.id} variant="text" sx={{ mt: 1 }}>
                <Box component="span" className="figures" sx={{ color: 'text.secondary', mr: 2 }}>{say`Lap ${o.lap}`}</Box>
                {say`${mistakeName(o.code)} — logged in the car`}
              </Typography>
            ))}
        </Box>
      ))}
    </Stack>
  )
}
