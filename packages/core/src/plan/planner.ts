import { LRUCache } from 'lru-cache'
import { hash } from 'ohash'
import { buildCircuit } from '../circuit/build-circuit.ts'
import type { Circuit } from '../circuit/circuit.ts'
import type { Pin } from '../circuit/pin.ts'
import type { Survey } from '../circuit/survey.ts'
import { makeVenue, type Venue, type VenueNotes } from '../circuit/venue.ts'
import { timedMethods } from '../line/line-method.ts'
import type { LineWish } from '../line/methods.ts'
import type { Line } from '../path/line.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { followPins, planLine, planOnLine } from './make-plan.ts'
import type { Plan, PlanSettings } from './plan.ts'

/** Input of the planner: a circuit under a key that never names another survey, its notes, vehicle and settings. */
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
  /**
   * The line of a plan as it follows a mark that is dragged at a station (m), by the places that hold it then, and its lap time (s). It is
   * a sketch: what is let go is solved anew. Each time from the plan's own line, so that nothing adds up on the way.
   */
  follow: (source: PlanSource, pins: readonly Pin[], station_m: number) => { offset_m: Float64Array; lapTime_s: number }
}

/**
 * A planner that caches its circuits, venues and lines, each up to `capacity` entries, the one unused for longest leaving
 * first. Lines are cached by a hash of all that they depend on: what only moves speeds and marks, like the braking style,
 * needs no new line, but for the fast one.
 */
export const createPlanner = (capacity = 16): Planner => {
  const circuits = new LRUCache<string, Circuit>({ max: capacity })
  const venues = new LRUCache<string, Venue>({ max: capacity })
  const lines = new LRUCache<string, Line>({ max: capacity })
  const latestLines = new LRUCache<string, Line>({ max: capacity })
  const venueOf = ({ circuitKey, survey, notes }: PlanSource): Venue => {
    const circuit = cached(circuits, circuitKey, () => buildCircuit(survey()))
    return cached(venues, hash([circuitKey, notes]), () => makeVenue(circuit, notes))
  }
  const keyOf = ({ circuitKey, notes }: PlanSource, inputs: unknown): string =>
    hash([circuitKey, notes.ground, notes.cornerEdits, notes.pins, inputs])
  const plan: Planner['plan'] = (source, onStep) => {
    const { vehicle, settings } = source
    const venue = venueOf(source)
    const line = cached(lines, keyOf(source, lineInputs(vehicle, settings)), () => planLine(venue, vehicle, settings, onStep))
    latestLines.set(keyOf(source, [vehicle.width_m, settings.method]), line)
    return planOnLine(venue, vehicle, settings, line)
  }
  const quick: Planner['quick'] = (source) => {
    const { vehicle, settings } = source
    const line = latestLines.get(keyOf(source, [vehicle.width_m, settings.method]))
    if (line) return planOnLine(venueOf(source), vehicle, settings, line)
    return { ...plan({ ...source, settings: { ...settings, method: 'smoothest' } }), settings }
  }
  const follow: Planner['follow'] = (source, pins, station_m) => {
    const { vehicle, settings } = source
    const venue = venueOf(source)
    const { line: before } = quick(source)
    const line = followPins(venue, vehicle, settings, before, pins, station_m)
    return { offset_m: line.offset_m, lapTime_s: planOnLine(venue, vehicle, settings, line).profile.lapTime_s }
  }
  return { plan, quick, follow }
}

/** The part of a vehicle and its settings that a line depends on. */
const lineInputs = (
  vehicle: Vehicle,
  { method = 'smoothest', surface, pace, school, margin_m, pins, entry_mps, perMetre_s }: PlanSettings,
): unknown => {
  const geometry = [method, vehicle.width_m, vehicle.margin_m, margin_m, pins]
  if (!timedMethods.includes(method)) return geometry
  const { id: _, name: __, gears: ___, ...physics } = vehicle
  return [...geometry, physics, surface, pace, entry_mps, method === 'fast' && school, method === 'compact' && perMetre_s]
}

/** The cached value of a key, made where there is none. */
const cached = <T extends object>(cache: LRUCache<string, T>, key: string, make: () => T): T => {
  const cached = cache.get(key)
  if (cached !== undefined) return cached
  const made = make()
  cache.set(key, made)
  return made
}
