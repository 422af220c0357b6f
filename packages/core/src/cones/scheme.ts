import type { MarkKind } from '../marks/marks.ts'

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

/** Shapes of cones: a tall cone, a low disc, a flat arrow. */
const coneShapes = ['tall', 'disc', 'arrow'] as const
export type ConeShape = (typeof coneShapes)[number]

/** How one kind of mark is shown. `count`: cones side by side along the road; `beyondEdge_m`: how far outside the edge. */
export type ConeRule = { colour: ConeColour; shape: ConeShape; count: number; side: 'inside' | 'outside'; beyondEdge_m: number }

/** What colours and counts mean at one school. Kinds without a rule get no cone. */
export type ConeScheme = { id: string; name: string; rules: Partial<Record<MarkKind, ConeRule>> }

/** Ready-made schemes. */
export const coneSchemes: readonly ConeScheme[] = [
  {
    id: 'lakeside',
    name: 'Lakeside: pairs brake, colours tell the rest',
    rules: {
      lift: { colour: 'yellow', shape: 'disc', count: 1, side: 'outside', beyondEdge_m: 0.4 },
      brake: { colour: 'yellow', shape: 'tall', count: 2, side: 'outside', beyondEdge_m: 0.4 },
      'turn-in': { colour: 'blue', shape: 'tall', count: 1, side: 'outside', beyondEdge_m: 0.4 },
      apex: { colour: 'white', shape: 'disc', count: 1, side: 'inside', beyondEdge_m: 0.3 },
      exit: { colour: 'pink', shape: 'disc', count: 1, side: 'outside', beyondEdge_m: 0.4 },
    },
  },
  {
    id: 'one-box',
    name: 'One box of orange: count and shape tell all',
    rules: {
      lift: { colour: 'orange', shape: 'arrow', count: 1, side: 'outside', beyondEdge_m: 0.4 },
      brake: { colour: 'orange', shape: 'tall', count: 3, side: 'outside', beyondEdge_m: 0.4 },
      'turn-in': { colour: 'orange', shape: 'tall', count: 1, side: 'outside', beyondEdge_m: 0.4 },
      apex: { colour: 'orange', shape: 'disc', count: 1, side: 'inside', beyondEdge_m: 0.3 },
      exit: { colour: 'orange', shape: 'disc', count: 1, side: 'outside', beyondEdge_m: 0.4 },
    },
  },
  {
    id: 'few',
    name: 'Few: brake and turn-in for a first hour',
    rules: {
      brake: { colour: 'blue', shape: 'tall', count: 2, side: 'outside', beyondEdge_m: 0.5 },
      'turn-in': { colour: 'white', shape: 'tall', count: 1, side: 'outside', beyondEdge_m: 0.5 },
    },
  },
]
