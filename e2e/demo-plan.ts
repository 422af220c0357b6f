import { readFileSync } from 'node:fs'
import {
  buildCircuit,
  type Cone,
  type ConeEdits,
  type ConeStock,
  type Correction,
  coneSchemes,
  cornerMetrics,
  fitStock,
  habitsOf,
  type LayingRow,
  type Level,
  layingSheet,
  levelReaction_s,
  lineInUse,
  makePlan,
  makeVenue,
  type Plan,
  type PlanSettings,
  placeCones,
  readCircuit,
  seedOf,
  shareCones,
  simulateDrive,
  type Vehicle,
  type VenueNotes,
} from '@ochote/core'

const demo = (file: string): string => readFileSync(new URL(`../demo/${file}`, import.meta.url), 'utf8')

type Scenario = {
  circuits: VenueNotes[]
  day: { cones: { level: Level; served: { vehicleId: string; level: Level; pace: number }[]; nudges: ConeEdits['nudges'] } }
  schoolSettings: { stock: ConeStock }
}
const scenario = JSON.parse(demo('scenario.json')) as Scenario
const vehicles = JSON.parse(demo('vehicles.json')) as Vehicle[]

/** The demo's plan, computed here by the core alone. */
export const planHere = (settings: PlanSettings, vehicleId = vehicles[0].id): Plan => {
  const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'Ostrel Mere'))
  const vehicle = vehicles.find((v) => v.id === vehicleId) ?? vehicles[0]
  return makePlan(makeVenue(circuit, scenario.circuits[0]), vehicle, settings)
}

/** The cones that belong to it: for everybody whom the demo's day serves, within the demo's stock. */
export const conesHere = (plan: Plan, edits: ConeEdits = { nudges: scenario.day.cones.nudges, locks: {} }): Cone[] => {
  const { level, served } = scenario.day.cones
  const [scheme] = coneSchemes
  const reaction_s = levelReaction_s[level]
  const others = served.map((s) => ({
    label: s.level,
    plan: planHere({ ...plan.settings, pace: s.pace }, s.vehicleId),
    reaction_s: levelReaction_s[s.level],
  }))
  const shared = shareCones([{ label: level, plan, reaction_s }, ...others], scheme)
  const numbers = cornerMetrics(plan)
  const { cones } = placeCones(plan, scheme, {
    reaction_s,
    lines: others.map((o) => lineInUse(o.plan)),
    shared: Object.fromEntries(shared.map((s) => [s.groupId, s.station_m])),
    sight: numbers.flatMap((n) => n.sight),
    edits,
  })
  return fitStock(cones, scenario.schoolSettings.stock, numbers).cones
}

/** Their laying sheet. */
export const sheetHere = (plan: Plan): LayingRow[] => layingSheet(plan, conesHere(plan))

/** Lap times of the run that the simulated logger drives for a student, from its seed and from what was logged in it. */
export const lapTimesHere = (plan: Plan, runId: string, studentId: string, laps: number, corrected: readonly Correction[]): number[] =>
  simulateDrive(plan, {
    laps,
    seed: seedOf(runId),
    rate_hz: 25,
    noise_m: 0.05,
    habits: habitsOf(seedOf(studentId), plan, 0.3),
    tiring: 0.01,
    corrected,
  }).lapTimes_s
