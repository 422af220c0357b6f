/** Kinds of mark, in the order in which they usually come. */
export const markKinds = [
  'lift',
  'brake',
  'brake-again',
  'release',
  'turn-in',
  'apex',
  'slowest',
  'throttle',
  'full-throttle',
  'exit',
] as const
export type MarkKind = (typeof markKinds)[number]
/** A computed place in a corner. */
export type Mark = {
  kind: MarkKind
  cornerId: string
  station_m: number
  offset_m: number
  speed_mps: number
  gear: number
  /** Time from the start line (s). */
  time_s: number
  /** A brake mark that lies before the apex of the corner before: that corner’s id. */
  beforeApexOf?: string
}

/** The marks of one kind in one corner, or undefined. */
export const markOf = (marks: readonly Mark[], cornerId: string, kind: Mark['kind']): Mark | undefined =>
  marks.find((m) => m.cornerId === cornerId && m.kind === kind)
