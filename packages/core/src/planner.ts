import { buildCircuit, type Circuit } from './circuit/circuit.ts'
import { type Corner, findCorners } from './circuit/corners.ts'
import type { Survey } from './circuit/survey.ts'
import type { Line } from './line/line.ts'
import { type Plan, type PlanSettings, planOnLine, solveLine } from './plan.ts'
import type { Vehicle } from './vehicle/vehicle.ts'

/** What is planned: a circuit under a key that never names another survey, the names of its corners, vehicle and settings. */
export type PlanSource = {
  circuitKey: string
  survey: () => Survey
  cornerNames?: Readonly<Record<string, string>>
  vehicle: Vehicle
  settings: PlanSettings
}

/** Computes plans and keeps the circuits and lines of the latest ones. */
export type Planner = { plan: (source: PlanSource) => Plan }

/** A planner that keeps so many circuits and lines: changes of pace, surface and school cost only profile and marks. */
export const createPlanner = (kept = 16): Planner => {
  const circuits = keepLatest<{ circuit: Circuit; corners: Corner[] }>(kept)
  const lines = keepLatest<Line>(kept)
  return {
    plan: ({ circuitKey, survey, cornerNames = {}, vehicle, settings }) => {
      const { circuit, corners } = circuits(circuitKey, () => {
        const built = buildCircuit(survey())
        return { circuit: built, corners: findCorners(built) }
      })
      const named = corners.map((c) => ({ ...c, name: cornerNames[c.id] ?? c.name }))
      const line = lines(`${circuitKey} ${vehicle.width_m}`, () => solveLine(circuit, vehicle))
      return planOnLine(circuit, named, vehicle, settings, line)
    },
  }
}

/** Computes once per key; the oldest entry makes room. */
const keepLatest = <T>(most: number) => {
  const entries = new Map<string, T>()
  return (key: string, make: () => T): T => {
    const known = entries.get(key)
    if (known !== undefined) return known
    const made = make()
    if (entries.size >= most) entries.delete(entries.keys().next().value as string)
    entries.set(key, made)
    return made
  }
}
