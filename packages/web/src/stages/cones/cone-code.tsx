import { Box, Stack } from '@mui/material'
import type { ConeKind, ConeRule, ConeScheme } from '@ochote/core'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'

/** Legend of colours and shapes. */
export const ConeCode = ({ scheme, size = 18 }: { scheme: ConeScheme; size?: number }) => (
  <Stack direction="row" spacing={5} useFlexGap sx={{ flexWrap: 'wrap' }} aria-label="Cone code" component="section">
    {(Object.entries(scheme.rules) as [ConeKind, ConeRule][]).map(([kind, rule]) => (
      <Stack key={kind} direction="row" spacing={1} sx={{ alignItems: 'center' }}>
        <RuleGlyphs rule={rule} size={size} />
        <Box component="span" sx={{ fontSize: size * 0.78 }}>
          {coneNames[kind]}
        </Box>
      </Stack>
    ))}
  </Stack>
)
