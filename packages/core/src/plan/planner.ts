import { buildCircuit } from '../circuit/build-circuit.ts'
import type { Circuit } from '../circuit/circuit.ts'
import type { Survey } from '../circuit/survey.ts'
import { makeVenue, type Venue, type VenueNotes } from '../circuit/venue.ts'
import { timedMethods } from '../line/line-method.ts'
import type { LineWish } from '../line/methods.ts'
import type { Line } from '../path/line.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { planLine, planOnLine } from './make-plan.ts'
import type { Plan, PlanSettings } from './plan.ts'

/** What is planned: a circuit under a key that never names another survey, what is known of it, vehicle and settings. */
export type PlanSource = {
  circuitKey: string
  survey: () => Survey
  notes: VenueNotes
  vehicle: Vehicle
  settings: PlanSettings
}

/** Computes plans and keeps the circuits and lines of the latest ones. */
export type Planner = {
  plan: (source: PlanSource, onStep?: LineWish['onStep']) => Plan
  /** A plan at once, on the line that was solved last for the same circuit, width and method, or on the smoothest. */
  quick: (source: PlanSource) => Plan
}

/**
 * A planner that keeps so many circuits and lines by all that they depend on: what only moves speeds and marks, like the
 * school of braking, costs no new line.
 */
export const createPlanner = (kept = 16): Planner => {
  const circuits = keepLatest<Circuit>(kept)
  const venues = keepLatest<Venue>(kept)
  const lines = keepLatest<Line>(kept)
  const latest = new Map<string, Line>()
  const venueOf = ({ circuitKey, survey, notes }: PlanSource): Venue => {
    const circuit = circuits(circuitKey, () => buildCircuit(survey()))
    return venues(JSON.stringify([circuitKey, notes]), () => makeVenue(circuit, notes))
  }
  const keyOf = ({ circuitKey, notes }: PlanSource, inputs: unknown): string =>
    JSON.stringify([circuitKey, notes.ground, notes.cornerEdits, notes.pins, inputs])
  const plan: Planner['plan'] = (source, onStep) => {
    const { vehicle, settings } = source
    const venue = venueOf(source)
    const line = lines(keyOf(source, lineInputs(vehicle, settings)), () => planLine(venue, vehicle, settings, onStep))
    latest.set(keyOf(source, [vehicle.width_m, settings.method]), line)
    return planOnLine(venue, vehicle, settings, line)
  }
  const quick: Planner['quick'] = (source) => {
    const { vehicle, settings } = source
    const line = latest.get(keyOf(source, [vehicle.width_m, settings.method]))
    if (line) return planOnLine(venueOf(source), vehicle, settings, line)
    return { ...plan({ ...source, settings: { ...settings, method: 'smoothest' } }), settings }
  }
  return { plan, quick }
}

/** What of a vehicle and its settings a line depends on. */
const lineInputs = (vehicle: Vehicle, { method = 'smoothest', surface, pace, margin_m, pins, entry_mps }: PlanSettings): unknown => {
  const geometry = [method, vehicle.width_m, vehicle.margin_m, margin_m, pins]
  if (!timedMethods.includes(method)) return geometry
  const { id: _, name: __, gears: ___, ...physics } = vehicle
  return [...geometry, physics, surface, pace, entry_mps]
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
