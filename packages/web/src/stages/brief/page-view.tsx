import { Box, Stack, Typography } from '@mui/material'
import { formatSpeed, type Plan, signedDistance } from '@ochote/core'
import { figures } from '../../app/theme.ts'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { markNames } from '../../shared/marks/mark-words.ts'
import { useCones } from '../cones/use-cones.ts'
import type { BriefPage } from './brief-pages.ts'

/** One briefing page, readable from eight metres: nothing below 28 px at 1280 × 800. */
export const PageView = ({ page, plan, schemeId }: { page: BriefPage; plan: Plan; schemeId: string }) => {
  const cones = useCones(plan, schemeId)
  const title = (
    <Typography component="h1" sx={{ fontSize: 56, fontWeight: 680, fontStretch: '86%', lineHeight: 1.05, letterSpacing: '-0.01em' }}>
      {page.title}
    </Typography>
  )
  switch (page.kind) {
    case 'lines':
      return (
        <Stack spacing={4} sx={{ maxWidth: 1080 }}>
          {title}
          <Stack component="ol" spacing={2.5} sx={{ m: 0, pl: 0, listStyle: 'none', counterReset: 'n' }}>
            {page.lines.map((line) => (
              <Box
                component="li"
                key={line}
                sx={{
                  fontSize: 34,
                  lineHeight: 1.25,
                  pl: 3,
                  borderLeft: '8px solid',
                  borderColor: page.tone === 'safety' ? 'error.main' : 'primary.main',
                }}
              >
                {line}
              </Box>
            ))}
          </Stack>
        </Stack>
      )
    case 'flags':
      return (
        <Stack spacing={4}>
          {title}
          <Box sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 5, rowGap: 2.2, alignItems: 'baseline' }}>
            {page.flags.map((flag) => (
              <Box key={flag.name} sx={{ display: 'contents' }}>
                <Box sx={{ fontSize: 36, fontWeight: 680 }}>{flag.name}</Box>
                <Box sx={{ fontSize: 32 }}>{flag.meaning}</Box>
              </Box>
            ))}
          </Box>
        </Stack>
      )
    case 'cones':
      return (
        <Stack spacing={5}>
          {title}
          {Object.entries(page.scheme.rules).map(([kind, rule]) => (
            <Stack key={kind} direction="row" spacing={4} sx={{ alignItems: 'center' }}>
              <Stack direction="row" sx={{ width: 150 }}>
                {Array.from({ length: rule.count }, (_, k) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: the cones of a pair are alike
                  <ConeGlyph key={k} colour={rule.colour} shape={rule.shape} size={68} />
                ))}
              </Stack>
              <Box sx={{ fontSize: 40, fontWeight: 640, width: 260 }}>{markNames[kind as keyof typeof markNames]}</Box>
              <Box
                sx={{ fontSize: 32 }}
              >{`${rule.count === 2 ? 'two ' : ''}${rule.colour}, ${rule.side === 'inside' ? 'on the inside' : 'on the outside'} of the corner`}</Box>
            </Stack>
          ))}
        </Stack>
      )
    case 'circuit':
      return (
        <Stack spacing={2}>
          {title}
          {page.lines.map((line) => (
            <Box key={line} sx={{ fontSize: 32 }}>
              {line}
            </Box>
          ))}
          <Box sx={{ display: 'grid', gridTemplateColumns: '1.3fr 1fr', gap: 4 }}>
            <GroundView plan={plan} zoomToCorner={false} height={490} big />
            <Box sx={{ columnCount: plan.corners.length > 11 ? 2 : 1, fontSize: plan.corners.length > 11 ? 28 : 31, lineHeight: 1.38 }}>
              {plan.corners.map((c) => (
                <Box key={c.id} sx={figures}>
                  {cornerLabel(c)}
                </Box>
              ))}
            </Box>
          </Box>
        </Stack>
      )
    case 'corner': {
      const apex = page.marks.find((m) => m.kind === 'apex')
      return (
        <Stack spacing={2}>
          {title}
          <Box sx={{ fontSize: 30, color: 'text.secondary' }}>{page.line}</Box>
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 4 }}>
            <Stack spacing={2.5} sx={{ pt: 1 }}>
              {page.marks.map((m) => {
                const rule = cones?.scheme.rules[m.kind]
                const toApex = apex ? signedDistance(apex.station_m, m.station_m, plan.circuit.length_m) : 0
                return (
                  <Stack key={m.kind} direction="row" spacing={2} sx={{ alignItems: 'center' }}>
                    <Stack direction="row" sx={{ width: 104, flex: 'none' }}>
                      {rule &&
                        Array.from({ length: rule.count }, (_, k) => (
                          // biome-ignore lint/suspicious/noArrayIndexKey: the cones of a pair are alike
                          <ConeGlyph key={k} colour={rule.colour} shape={rule.shape} size={48} />
                        ))}
                    </Stack>
                    <Box sx={{ fontSize: 36, fontWeight: 640, width: 150, flex: 'none' }}>{markNames[m.kind]}</Box>
                    <Box sx={{ fontSize: 34, whiteSpace: 'nowrap', ...figures }}>
                      {m.kind === 'apex'
                        ? formatSpeed(m.speed_mps, 'metric')
                        : `${formatSpeed(m.speed_mps, 'metric')}, ${Math.abs(Math.round(toApex))} m ${toApex < 0 ? 'before' : 'after'}`}
                    </Box>
                  </Stack>
                )
              })}
              <Box sx={{ fontSize: 28, color: 'text.secondary' }}>Metres are along the road, from the apex.</Box>
            </Stack>
            <GroundView plan={plan} {...(cones ? { cones: cones.cones } : {})} height={560} big />
          </Box>
        </Stack>
      )
    }
  }
}
