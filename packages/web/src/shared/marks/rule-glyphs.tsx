import { Stack } from '@mui/material'
import type { ConeRule } from '@ochote/core'
import { ConeGlyph } from './cone-glyph.tsx'

/** The cones of a rule, as many as stand one behind the other. */
export const RuleGlyphs = ({ rule, size = 18 }: { rule: Pick<ConeRule, 'colour' | 'shape' | 'count'>; size?: number }) => (
  <Stack direction="row" component="span" sx={{ display: 'inline-flex', verticalAlign: 'middle' }}>
    {Array.from({ length: rule.count }, (_, k) => (
      // biome-ignore lint/suspicious/noArrayIndexKey: the cones of a group are alike
      <ConeGlyph key={k} colour={rule.colour} shape={rule.shape} size={size} />
    ))}
  </Stack>
)
