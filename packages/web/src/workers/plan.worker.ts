import { type PlanChoice, type StoredCircuit, surveyFromWire } from '@ochote/contract'
import {
  buildCircuit,
  type Circuit,
  type Corner,
  findCorners,
  type Line,
  type Plan,
  planOnLine,
  solveLine,
  type Vehicle,
} from '@ochote/core'
import { expose } from 'comlink'

/** What the worker is asked for. */
export type PlanRequest = { circuit: StoredCircuit; vehicle: Vehicle; settings: PlanChoice }

const circuits = new Map<string, { circuit: Circuit; corners: Corner[] }>()
const lines = new Map<string, Line>()
const KEPT_LINES = 12

/** Plans off the interface's thread. Circuits never change under their id, and a line depends on circuit and width alone. */
const planner = {
  plan: ({ circuit: stored, vehicle, settings }: PlanRequest): Plan => {
    let built = circuits.get(stored.id)
    if (!built) {
      const circuit = buildCircuit(surveyFromWire(stored.survey))
      built = { circuit, corners: findCorners(circuit) }
      circuits.set(stored.id, built)
    }
    const corners = built.corners.map((c) => ({ ...c, name: stored.cornerNames[c.id] ?? c.name }))
    const key = `${stored.id} ${vehicle.width_m}`
    let line = lines.get(key)
    if (!line) {
      line = solveLine(built.circuit, vehicle)
      if (lines.size >= KEPT_LINES) lines.delete(lines.keys().next().value as string)
      lines.set(key, line)
    }
    return planOnLine(built.circuit, corners, vehicle, settings, line)
  },
}
export type Planner = typeof planner

expose(planner)
