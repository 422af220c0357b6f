import { Box, Stack } from '@mui/material'
import type { ConeKind, ConeRule, ConeScheme } from '@ochote/core'
import { say } from '../../language/say.ts'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'

const GLYPH_PX = 18

/** Legend of colours and shapes. */
export const ConeCode = ({ scheme }: { scheme: ConeScheme }) => (
  <Stack direction="row" spacing={5} useFlexGap sx={{ flexWrap: 'wrap' }} aria-label={say`Cone code`} component="section">
    {(Object.entries(scheme.rules) as [ConeKind, ConeRule][]).map(([kind, rule]) => (
      <Stack key={kind} direction="row" spacing={1} sx={{ alignItems: 'center' }}>
        <RuleGlyphs rule={rule} size={GLYPH_PX} />
        <Box component="span" sx={{ fontSize: GLYPH_PX * 0.78 }}>
          {coneNames[kind]}
        </Box>
      </Stack>
    ))}
  </Stack>
)
