import { edges } from './scale.ts'

/** How all that is chosen looks: a wash, and a line below it or at its left that takes no room. */
export const chosenLook = (side: 'below' | 'left', accent = 'var(--accent)', wash = 'var(--accentWash)') => ({
  backgroundColor: wash,
  boxShadow: side === 'below' ? `inset 0 -${edges.chosen}px 0 ${accent}` : `inset ${edges.chosen}px 0 0 ${accent}`,
})
