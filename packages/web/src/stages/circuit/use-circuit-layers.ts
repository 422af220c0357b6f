import type { LineMethod, Plan, PlanChoice } from '@ochote/core'
import { useMemo, useState } from 'react'
import { type useNumbers, usePlan, usePlansBy } from '../../data/plan/use-plan.ts'
import { type StripName, stripsAgainst, stripsOf } from './layers.ts'

/** The other plan of a comparison: the same circuit on another surface at first. */
export const useOtherPlan = (settings: PlanChoice, comparing: boolean) => {
  const [otherSettings, setOtherSettings] = useState<PlanChoice>(() => ({
    ...settings,
    surface: settings.surface === 'wet' ? 'dry' : 'wet',
  }))
  const { plan: other } = usePlan(comparing ? { ...otherSettings, circuitId: settings.circuitId } : undefined)
  return { other, otherSettings, setOtherSettings }
}

/** Layers of band and ground view, and the choices of them: strips, ground, other lines; the other plan while comparing. */
export const useCircuitLayers = (
  settings: PlanChoice,
  plan: Plan | undefined,
  numbers: ReturnType<typeof useNumbers>,
  comparing: boolean,
  other: Plan | undefined,
) => {
  const [strips, setStrips] = useState<StripName[]>(['speed'])
  const [withGround, setWithGround] = useState(true)
  const [lines, setLines] = useState<LineMethod[]>([])
  const byMethod = usePlansBy(settings, lines)
  const overlays = useMemo(
    () =>
      (comparing ? (other ? [other] : []) : byMethod)
        .filter((p) => p.circuit.count === plan?.circuit.count)
        .map((p) => ({ id: p.settings.method ?? 'smoothest', offset_m: p.line.offset_m })),
    [comparing, other, plan, byMethod],
  )
  const bandStrips = useMemo(() => {
    if (!plan) return []
    const ownStrips = stripsOf(plan, numbers, strips)
    return comparing && other && other.circuit.count === plan.circuit.count ? [...ownStrips, ...stripsAgainst(plan, other)] : ownStrips
  }, [plan, numbers, strips, comparing, other])
  const layers = useMemo(
    () => (plan ? { marks: plan.marks, strips: bandStrips, overlays, ...(withGround ? { ground: plan.ground } : {}) } : {}),
    [plan, bandStrips, overlays, withGround],
  )
  return { layers, choices: { strips, setStrips, withGround, setWithGround, lines, setLines, byMethod } }
}
