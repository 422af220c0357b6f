import { type Cone, type ConeScheme, coneSchemes, type LayingRow, layingSheet, type Plan, placeCones } from '@ochote/core'
import { useMemo } from 'react'

/** The cones of a plan with their laying sheet. */
export type ConePlan = { scheme: ConeScheme; cones: Cone[]; sheet: LayingRow[] }

/** The scheme of an id; the first ready-made one where it is not known. */
export const schemeOf = (schemeId: string | undefined): ConeScheme => coneSchemes.find((s) => s.id === schemeId) ?? coneSchemes[0]

/** Cones and laying sheet, computed anew whenever the plan is. */
export const useCones = (plan: Plan | undefined, schemeId: string | undefined): ConePlan | undefined =>
  useMemo(() => {
    if (!plan) return undefined
    const scheme = schemeOf(schemeId)
    const cones = placeCones(plan.circuit, plan.corners, plan.marks, scheme)
    return { scheme, cones, sheet: layingSheet(plan, plan.marks, cones) }
  }, [plan, schemeId])
