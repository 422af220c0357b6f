/** Purposes of a lap. */
export const lapKinds = ['out', 'sighting', 'coached', 'cool-down', 'in'] as const
export type LapKind = (typeof lapKinds)[number]

/** The laps of a run between the out lap and the in lap: how many of each kind. */
export type RunProgramme = { sighting: number; coached: number; coolDown: number }

/** A lap that a person named otherwise than the programme does. */
export type NamedLap = { lap: number; lapKind: LapKind }

/**
 * Purpose of a lap by the programme; a lap that a person named cool-down or in changes those that follow. Laps count from 1 at
 * the first line.
 */
export const lapKindOf = (programme: RunProgramme, lap: number, named: readonly NamedLap[] = []): LapKind => {
  if (lap < 1) return 'out'
  const last = named.filter((n) => n.lap <= lap).at(-1)
  if (last?.lapKind === 'cool-down') return last.lap === lap ? 'cool-down' : 'in'
  if (last?.lapKind === 'in') return 'in'
  if (last?.lap === lap) return last.lapKind
  if (lap <= programme.sighting) return 'sighting'
  if (lap <= programme.sighting + programme.coached) return 'coached'
  return lap <= programme.sighting + programme.coached + programme.coolDown ? 'cool-down' : 'in'
}
