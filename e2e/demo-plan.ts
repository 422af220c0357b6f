import { readFileSync } from 'node:fs'
import {
  buildCircuit,
  type Cone,
  coneSchemes,
  habitsOf,
  makePlan,
  makeVenue,
  type PlacementOptions,
  type Plan,
  type PlanSettings,
  placeCones,
  readCircuit,
  seedOf,
  simulateDrive,
  type Vehicle,
  type VenueNotes,
} from '@ochote/core'

const demo = (file: string): string => readFileSync(new URL(`../demo/${file}`, import.meta.url), 'utf8')

/** The demo's plan, computed here by the core alone. */
export const planHere = (settings: PlanSettings): Plan => {
  const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'Ostrel Mere'))
  const [notes] = (JSON.parse(demo('scenario.json')) as { circuits: VenueNotes[] }).circuits
  return makePlan(makeVenue(circuit, notes), (JSON.parse(demo('vehicles.json')) as Vehicle[])[0], settings)
}

/** The cones that belong to it. */
export const conesHere = (plan: Plan, options: PlacementOptions = {}): Cone[] => placeCones(plan, coneSchemes[0], options).cones

/** Lap times of the run that the simulated logger drives for a student, from its seed alone. */
export const lapTimesHere = (plan: Plan, runId: string, studentId: string, laps: number): number[] =>
  simulateDrive(plan, { laps, seed: seedOf(runId), noise_m: 0.05, habits: habitsOf(seedOf(studentId), plan, 0.3) }).lapTimes_s
