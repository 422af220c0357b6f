import { type CalledLap, isSlowKind, type LapKind, type Plan, type PlanChoice, paces } from '@ochote/core'
import { useMemo } from 'react'
import { usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'

/** Laps that can be called, with their names. */
export const calledLaps = [
  ['coached', say`coached lap`],
  ['sighting', say`sighting lap`],
  ['warm-up', say`warm-up lap`],
  ['timed', say`last timed lap`],
  ['cool-down', say`cool-down lap`],
  ['in', say`lap into the pits`],
] as const satisfies readonly (readonly [LapKind, string])[]
export type CalledKind = (typeof calledLaps)[number][0]

/** The plan of a kind of lap, slow ones at sighting pace, and what is called of it; undefined while it is computed. */
export const useCalledLap = (
  plan: Plan | undefined,
  settings: PlanChoice | undefined,
  kind: CalledKind,
): { plan: Plan | undefined; lap: CalledLap } => {
  const slow = isSlowKind(kind)
  const slowSettings = useMemo(() => (settings ? { ...settings, pace: Math.min(settings.pace, paces.sighting) } : undefined), [settings])
  const ofSlow = usePlan(slow ? slowSettings : undefined).plan
  const lap = useMemo((): CalledLap => ({ kind, last: kind === 'timed', ...(plan ? { cones: plan } : {}) }), [kind, plan])
  return { plan: slow ? (ofSlow?.settings.pace === slowSettings?.pace ? ofSlow : undefined) : plan, lap }
}
