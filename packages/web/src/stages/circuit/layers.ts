import { degrees, formatDifference, type Plan } from '@ochote/core'
import { say } from '../../language/say.ts'
import { lengthOf, metres } from '../../language/staff-units.ts'
import { speedStrip } from '../../shared/band/strips.tsx'
import type { Strip } from '../../shared/road-layers.ts'
import type { PlanNumbers } from '../../workers/plan.worker.ts'

/** Strips that can be drawn under the lap band. */
export const stripNames = ['speed', 'grip', 'bank', 'curvature', 'sight'] as const
export type StripName = (typeof stripNames)[number]

/** Name of each strip on its switch. */
export const stripWords: Record<StripName, string> = {
  speed: say`Speed`,
  grip: say`Grip used`,
  bank: say`Bank`,
  curvature: say`Curvature`,
  sight: say`Sight`,
}

/** The chosen strips of a plan; sight comes once it is computed. */
export const stripsOf = (plan: Plan, numbers: PlanNumbers | undefined, chosen: readonly StripName[]): Strip[] => {
  const made: Record<StripName, () => Strip | null> = {
    speed: () => speedStrip(plan.profile),
    grip: () => ({
      id: 'grip',
      column: plan.profile.gripUsed.map((g) => 100 * g),
      range: say`grip used up to ${Math.round(100 * max(plan.profile.gripUsed))}%`,
      ends: { low: `${Math.round(100 * min(plan.profile.gripUsed))}`, high: `${Math.round(100 * max(plan.profile.gripUsed))}%` },
    }),
    bank: () => ({
      id: 'bank',
      column: plan.circuit.bank_rad.map((b) => 3 * degrees(b)),
      range: say`bank ${bankRange(plan)}, up = left edge higher`,
    }),
    curvature: () => ({
      id: 'curvature',
      column: plan.line.kappa_1pm.map((k) => 1000 * k),
      range: say`curvature of the line, tightest radius ${metres(1 / max(plan.line.kappa_1pm.map(Math.abs)))}`,
    }),
    sight: () =>
      numbers?.sight_m.length === plan.circuit.count
        ? {
            id: 'sight',
            column: numbers.sight_m,
            range: say`cone visible from ${metres(min(numbers.sight_m))} or more`,
            ends: { low: `${Math.round(lengthOf(min(numbers.sight_m)))}`, high: metres(max(numbers.sight_m)) },
          }
        : null,
  }
  return stripNames.filter((name) => chosen.includes(name)).flatMap((name) => made[name]() ?? [])
}

/** The speed of another plan, and how far it is behind this one at each station. */
export const stripsAgainst = (plan: Plan, other: Plan): Strip[] => {
  const behind_s = other.profile.time_s.map((t, i) => t - plan.profile.time_s[i])
  return [
    { id: 'other speed', column: other.profile.speed_mps, range: say`speed of the other` },
    { id: 'behind', column: behind_s, range: say`the other behind, up to ${formatDifference(max(behind_s))}` },
  ]
}

const max = (column: Float64Array): number => column.reduce((m, v) => Math.max(m, v), Number.NEGATIVE_INFINITY)
const min = (column: Float64Array): number => column.reduce((m, v) => Math.min(m, v), Number.POSITIVE_INFINITY)
const bankRange = (plan: Plan): string => {
  const high = degrees(max(plan.circuit.bank_rad))
  const low = -degrees(max(plan.circuit.bank_rad.map((b) => -b)))
  return say`${low.toFixed(1).replace('-', '−')} to ${high.toFixed(1)}°`
}
