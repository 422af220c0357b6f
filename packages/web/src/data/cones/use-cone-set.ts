import { type ConeWork, changedSettings, type PlanChoice } from '@ochote/contract'
import {
  type Cone,
  type ConeScheme,
  checkScheme,
  coneSchemes,
  conesForLevel,
  type DroppedGroup,
  type Fading,
  fadeCones,
  fitStock,
  type HiddenMark,
  hiddenMarks,
  type LayingRow,
  type Level,
  layingSheet,
  levelReaction_s,
  levels,
  lineInUse,
  type Plan,
  phraseBooks,
  placeCones,
  planCalls,
  type SameView,
  type SchemeProblem,
  type Served,
  type SharedGroup,
  sameViews,
  shareCones,
  type Unplaced,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { useDay } from '../day/day-context.tsx'
import { vehiclesQuery } from '../api/queries.ts'
import { useDayPart } from '../day/use-day-part.ts'
import { useKit } from '../school/use-kit.ts'
import { usePlansBy, usePlansFor } from '../plan/use-plan.ts'
import type { PlanNumbers } from '../../workers/plan.worker.ts'

/** The cones of a day: what is laid, what is left out and why, and for whom each stands. */
export type ConeSet = {
  scheme: ConeScheme
  cones: Cone[]
  sheet: LayingRow[]
  unplaced: Unplaced[]
  dropped: DroppedGroup[]
  shared: SharedGroup[]
  fadings: Fading[]
  faded: Fading[]
  views: SameView[]
  problems: SchemeProblem[]
  /** Marks in sight too late, with what helps. */
  hidden: HiddenMark[]
  /** Levels for whom these cones stand. */
  least: Level
}

type Inputs = {
  plan: Plan
  scheme: ConeScheme
  work: ConeWork
  numbers: PlanNumbers | undefined
  stock: Partial<Record<string, number>>
  reserved: readonly Cone['colour'][]
  served: readonly Served[]
  /** Lines driven beside those of the plans. */
  lines?: readonly Plan[]
}

/** The scheme of an id; the first ready-made one where it is not known. */
export const schemeOf = (schemes: readonly ConeScheme[], schemeId: string | undefined): ConeScheme =>
  schemes.find((s) => s.id === schemeId) ?? coneSchemes[0]

/** How somebody served is called: level and vehicle. */
const labelOf = (level: Level, vehicle: string): string => `${level}, ${vehicle}`

/** All cones of a day from their inputs alone. */
export const coneSetOf = ({ plan, scheme, work, numbers, stock, reserved, served, lines = [] }: Inputs): ConeSet => {
  const reaction_s = levelReaction_s[work.level]
  const own: Served = { label: labelOf(work.level, plan.vehicle.name), plan, reaction_s }
  const sight = numbers?.corners.flatMap((n) => n.sight) ?? []
  const shared = served.length > 0 ? shareCones([own, ...served], scheme) : []
  const { cones: placed, unplaced } = placeCones(plan, scheme, {
    reaction_s,
    clearance_m: work.clearance_m,
    lines: [...served.map((s) => s.plan), ...lines].map(lineInUse),
    shared: Object.fromEntries(shared.map((s) => [s.groupId, s.station_m])),
    sight,
    hands: { nudges: work.nudges, locks: work.locks },
  })
  const fadings = fadeCones(plan, placed)
  const least = [work.level, ...work.served.map((s) => s.level)].reduce((a, b) => (levels.indexOf(b) < levels.indexOf(a) ? b : a))
  const standing = work.fade ? conesForLevel(placed, fadings, least) : placed
  const { cones, dropped } = work.useStock ? fitStock(standing, stock, numbers?.corners ?? []) : { cones: standing, dropped: [] }
  return {
    scheme,
    cones,
    sheet: layingSheet(plan, cones),
    unplaced,
    dropped,
    shared,
    fadings,
    faded: work.fade ? fadings.filter((f) => f.goesAt !== null && levels.indexOf(f.goesAt) <= levels.indexOf(least)) : [],
    views: sameViews(cones, plan.circuit.length_m),
    problems: checkScheme(scheme, reserved),
    hidden: hiddenMarks(plan, sight, cones, planCalls(plan, phraseBooks[0], 'driven')),
    least,
  }
}

/** The cones of the day's plan, computed anew whenever something that they stand on changes. */
export const useConeSet = (
  plan: Plan | undefined,
  settings: PlanChoice | undefined,
  numbers: PlanNumbers | undefined,
): ConeSet | undefined => {
  const { kit, schemes } = useKit()
  const { value: work } = useDayPart('cones')
  const vehicles = useQuery(vehiclesQuery)
  const changes = useMemo(() => work.served.map(({ vehicleId, pace }) => ({ vehicleId, pace })), [work.served])
  const plans = usePlansFor(settings, changes)
  const lines = usePlansBy(settings, work.lines)
  return useMemo(() => {
    if (!plan || !plans) return undefined
    const served = work.served.map((s, i) => ({
      label: labelOf(s.level, vehicles.data?.find((v) => v.id === s.vehicleId)?.name ?? s.vehicleId),
      plan: plans[i],
      reaction_s: levelReaction_s[s.level],
    }))
    return coneSetOf({
      plan,
      scheme: schemeOf(schemes, settings?.schemeId),
      work,
      numbers,
      stock: kit.stock,
      reserved: kit.reserved,
      served,
      lines,
    })
  }, [plan, plans, lines, work, vehicles.data, schemes, settings?.schemeId, numbers, kit.stock, kit.reserved])
}

const settingWords: Record<keyof PlanChoice, string> = {
  circuitId: 'layout',
  vehicleId: 'vehicle',
  surface: 'surface',
  pace: 'pace',
  method: 'line',
  school: 'school of braking',
  schemeId: 'scheme',
}

/** Why cones that were settled are out of date now: what changed since, in words; empty where nothing did. */
export const staleBecause = (settled: NonNullable<ConeWork['settled']>, now: PlanChoice, circuitVersion: number | undefined): string[] => [
  ...changedSettings(settled.settings, now).map((key) =>
    key === 'circuitId' || key === 'vehicleId' || key === 'schemeId'
      ? `another ${settingWords[key]}`
      : `${settingWords[key]}: ${settled.settings[key]}, now ${now[key]}`,
  ),
  ...(circuitVersion !== undefined && circuitVersion !== settled.circuitVersion && settled.settings.circuitId === now.circuitId
    ? ['what is noted of the circuit has changed']
    : []),
]

/** Settled cones that no longer fit the settings of the day. */
export const useStaleCones = (circuitVersion: number | undefined): string[] => {
  const { day, settings } = useDay()
  const settled = day?.plan.cones.settled
  return settled && settings ? staleBecause(settled, settings, circuitVersion) : []
}
