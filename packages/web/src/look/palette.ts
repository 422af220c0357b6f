/** Paper and tarmac: the few colours of the interface. Cones bring their own. */
export const paper = {
  ground: '#f5f1e7',
  sheet: '#fbf9f3',
  ink: '#1c1a17',
  quiet: '#625c52',
  rule: '#d3ccbd',
  road: '#47443f',
  roadEdge: '#f5f1e7',
  verge: '#e6dfce',
  accent: '#0c4f4a',
  onAccent: '#fbf9f3',
  accentWash: '#dbe7e1',
  warn: '#8f4a00',
  danger: '#96201a',
  // Over the road only light colours are seen: what is planned dashed, what was driven solid.
  plannedOnRoad: '#7fcabb',
  drivenOnRoad: '#f5f1e7',
  /** Words on what is light over the road. */
  onRoadInk: '#1c1a17',
}

/** The same for night and cockpits. */
export const night: typeof paper = {
  ground: '#161615',
  sheet: '#1f1f1d',
  ink: '#f3eee2',
  quiet: '#b5ad9e',
  rule: '#3d3a35',
  road: '#4c4840',
  roadEdge: '#f3eee2',
  verge: '#2a2825',
  accent: '#7fcabb',
  onAccent: '#10201d',
  accentWash: '#20352f',
  warn: '#e9a548',
  danger: '#ff8d82',
  plannedOnRoad: '#7fcabb',
  drivenOnRoad: '#f3eee2',
  onRoadInk: '#1c1a17',
}

export type Palette = typeof paper

/** Colours for drawing on a photograph, whose own colours are unknown: bright in a dark rim. */
export const onPicture = { stroke: '#ffd400', rim: '#1b1b1b' } as const

/** Colours of the cloth of flags, which say what they say everywhere. */
export const flagColours = {
  red: '#c8281e',
  yellow: '#f6c800',
  blue: '#1f4fa0',
  green: '#2f8a4a',
  orange: '#ee7a12',
  white: '#ffffff',
  black: '#1c1a17',
} as const
