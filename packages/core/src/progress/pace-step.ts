import { type MistakeCode, mistakes } from '../mistakes/mistakes.ts'
import { PACE_CEILING, paces, type Surface } from '../profile/grip.ts'

/** A mistake logged in a lap. */
export type LapMiss = { lap: number; cornerId: string; code: MistakeCode }

/** Why a step is advised. */
export type PaceReason =
  | { kind: 'two-misses'; lap: number }
  | { kind: 'same-safety-mistake'; code: MistakeCode }
  | { kind: 'clean-laps'; laps: number }
  | { kind: 'at-ceiling'; laps: number }

/** Advice on the pace: where to go, and why; null `to` where the pace stays. */
export type PaceAdvice = { step: 'down' | 'up' | 'stay'; to: number | null; reason: PaceReason | null }

const CLEAN_LAPS = 3

/** Paces in steps, slowest first. */
export const paceSteps: readonly number[] = Object.values(paces)

/** The fastest step that a surface leaves: in the wet, and in damp, the ceiling falls a step each. */
export const paceCeiling = (surface: Surface): number => {
  const down = surface === 'dry' ? 0 : surface === 'damp' ? 1 : 2
  return Math.min(PACE_CEILING, paceSteps[paceSteps.length - 1 - down])
}

/**
 * Advice on the pace after some laps at it: two misses of marks in a lap, or the same safety mistake twice, advise a step
 * down; three clean laps on end a step up, never above the ceiling. `doneLaps`: coached laps complete since the last
 * step, oldest first. The instructor decides.
 */
export const paceAdvice = (pace: number, doneLaps: readonly number[], misses: readonly LapMiss[], ceiling: number): PaceAdvice => {
  const since = misses.filter((m) => doneLaps.length === 0 || m.lap >= doneLaps[0])
  const slower = paceSteps.filter((p) => p < pace - 1e-9).at(-1) ?? null
  const faster = paceSteps.find((p) => p > pace + 1e-9 && p <= ceiling + 1e-9) ?? null
  const safety = since.filter((m) => mistakes[m.code].safety)
  const twice = safety.find((m, i) => safety.findIndex((o) => o.code === m.code) !== i)
  if (twice) return { step: slower === null ? 'stay' : 'down', to: slower, reason: { kind: 'same-safety-mistake', code: twice.code } }
  for (const { lap } of since)
    if (since.filter((m) => m.lap === lap && mistakes[m.code].atMark).length >= 2)
      return { step: slower === null ? 'stay' : 'down', to: slower, reason: { kind: 'two-misses', lap } }
  const missed = new Set(since.map((m) => m.lap))
  const clean = doneLaps.length - 1 - doneLaps.findLastIndex((lap) => missed.has(lap))
  if (clean < CLEAN_LAPS) return { step: 'stay', to: null, reason: null }
  if (faster === null) return { step: 'stay', to: null, reason: { kind: 'at-ceiling', laps: clean } }
  return { step: 'up', to: faster, reason: { kind: 'clean-laps', laps: clean } }
}
