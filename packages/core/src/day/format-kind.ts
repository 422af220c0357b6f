/** What people do on a day; each format of a day is of one kind. */
export const formatKinds = [
  'briefing',
  'walk',
  'sighting',
  'ride-along',
  'lead-follow',
  'group-session',
  'released',
  'pad',
  'wet-pad',
  'classroom',
] as const
export type FormatKind = (typeof formatKinds)[number]

/** Kinds in which the student drives on the track at a pace. */
export const driveKinds: ReadonlySet<FormatKind> = new Set(['ride-along', 'lead-follow', 'group-session', 'released'])
