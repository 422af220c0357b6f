import type { LapStep } from './lap-steps.ts'

/** Purposes of a lap. */
export const lapKinds = ['out', 'sighting', 'warm-up', 'coached', 'timed', 'cool-down', 'in'] as const
export type LapKind = (typeof lapKinds)[number]

/** The laps of a run between the out lap and the in lap: how many of each kind, in this order. */
export type RunProgramme = {
  sighting: number
  warmUp?: number | undefined
  coached: number
  timed?: number | undefined
  coolDown: number
  /** Speed cap on sighting and cool-down laps. */
  slowCap_mps?: number | undefined
  /** How each coached and timed lap is driven, in their order; the last one holds for those after it. */
  steps?: LapStep[] | undefined
}

/** A lap that a person named otherwise than the programme does; `only`: this lap and none after it. */
export type NamedLap = { lap: number; lapKind: LapKind; only?: boolean | undefined }

/** Laps that are driven slowly on purpose, by a plan of their own. */
export const isSlowKind = (kind: LapKind): boolean => kind === 'out' || kind === 'sighting' || kind === 'cool-down' || kind === 'in'

/** Laps that are driven as well as the driver can: the only ones that are judged. */
export const isDrivenKind = (kind: LapKind): boolean => kind === 'coached' || kind === 'timed'

/**
 * Purpose of a lap by the programme; a lap that a person named cool-down or in changes those that follow, unless only that lap
 * was named. Laps count from 1 at the first line.
 */
export const lapKindOf = (programme: RunProgramme, lap: number, named: readonly NamedLap[] = []): LapKind => {
  const alone = named.findLast((n) => n.lap === lap && n.only)
  if (alone) return alone.lapKind
  if (lap < 1) return 'out'
  const last = named.filter((n) => n.lap <= lap && !n.only).at(-1)
  if (last?.lapKind === 'cool-down') return last.lap === lap ? 'cool-down' : 'in'
  if (last?.lapKind === 'in') return 'in'
  if (last?.lap === lap) return last.lapKind
  const { sighting, warmUp = 0, coached, timed = 0, coolDown } = programme
  const parts: readonly (readonly [LapKind, number])[] = [
    ['sighting', sighting],
    ['warm-up', warmUp],
    ['coached', coached],
    ['timed', timed],
    ['cool-down', coolDown],
  ]
  let end = 0
  for (const [kind, count] of parts) {
    end += count
    if (lap <= end) return kind
  }
  return 'in'
}
