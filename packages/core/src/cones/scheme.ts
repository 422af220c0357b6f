import type { MarkKind } from '../marks/mark.ts'

/** Colours of cones that can be bought; each has a word and a paint. */
export const coneColours = {
  yellow: '#e8b400',
  blue: '#1f6fb5',
  white: '#f4f1ea',
  pink: '#d9578a',
  orange: '#e2641b',
  green: '#3f8f4f',
} as const
export type ConeColour = keyof typeof coneColours
/** All colours of cones. */
export const coneColourNames = Object.keys(coneColours) as [ConeColour, ...ConeColour[]]

/** Shapes of cones: a tall cone, a low disc, a flat arrow. */
export const coneShapes = ['tall', 'disc', 'arrow'] as const
export type ConeShape = (typeof coneShapes)[number]

/** Meanings of cones beside marks: a place that comes into sight late, the pit lane, ground nobody drives on. */
const otherConeKinds = ['sighter', 'pit-lane', 'no-go'] as const
/** Kinds of mark that a cone may show: a full throttle or a slowest point is felt, not seen. */
const markConeKinds = ['lift', 'brake', 'release', 'turn-in', 'apex', 'exit'] as const satisfies readonly MarkKind[]
/** Meanings of cones, in the order of a corner. */
export const coneKinds = [...markConeKinds, ...otherConeKinds] as const
export type ConeKind = (typeof coneKinds)[number]

/** True if a mark may be shown by a cone. */
export const isConeKind = (kind: MarkKind): kind is (typeof markConeKinds)[number] => (markConeKinds as readonly string[]).includes(kind)

/** Appearance of one kind. `count`: cones one behind the other along the road; `beyondEdge_m`: distance outside the edge. */
export type ConeRule = { colour: ConeColour; shape: ConeShape; count: number; side: 'inside' | 'outside'; beyondEdge_m: number }

/** Colours and counts of a school's cones. Kinds without a rule get no cone. */
export type ConeScheme = { id: string; name: string; rules: Partial<Record<ConeKind, ConeRule>> }

const rule = (colour: ConeColour, shape: ConeShape, count: number, side: ConeRule['side'], beyondEdge_m: number): ConeRule => ({
  colour,
  shape,
  count,
  side,
  beyondEdge_m,
})

/** Ready-made schemes. */
export const coneSchemes: readonly ConeScheme[] = [
  {
    id: 'pairs-and-colours',
    name: 'Pairs brake, colours tell the rest',
    rules: {
      lift: rule('yellow', 'disc', 1, 'outside', 0.4),
      brake: rule('yellow', 'tall', 2, 'outside', 0.4),
      'turn-in': rule('blue', 'tall', 1, 'outside', 0.4),
      apex: rule('white', 'disc', 1, 'inside', 0.3),
      exit: rule('pink', 'disc', 1, 'outside', 0.4),
      sighter: rule('white', 'tall', 1, 'outside', 0.5),
      'pit-lane': rule('green', 'tall', 2, 'outside', 0.4),
      'no-go': rule('orange', 'arrow', 2, 'outside', 0.2),
    },
  },
  {
    id: 'one-box',
    name: 'One box of orange: count and shape tell all',
    rules: {
      lift: rule('orange', 'arrow', 1, 'outside', 0.4),
      brake: rule('orange', 'tall', 3, 'outside', 0.4),
      'turn-in': rule('orange', 'tall', 1, 'outside', 0.4),
      apex: rule('orange', 'disc', 1, 'inside', 0.3),
      exit: rule('orange', 'disc', 1, 'outside', 0.4),
      sighter: rule('orange', 'arrow', 2, 'outside', 0.5),
      'pit-lane': rule('green', 'tall', 2, 'outside', 0.4),
    },
  },
  {
    id: 'few',
    name: 'Few: brake and turn-in for a first hour',
    rules: {
      brake: rule('blue', 'tall', 2, 'outside', 0.5),
      'turn-in': rule('white', 'tall', 1, 'outside', 0.5),
      'pit-lane': rule('green', 'arrow', 2, 'outside', 0.4),
    },
  },
]
/** Cones that say when to act: these are moved up the road by the reaction distance of a level. */
export const actedOn: ReadonlySet<ConeKind> = new Set(['brake', 'lift'])
