import { readFileSync } from 'node:fs'
import { buildCircuit, type LineMethod, makePlan, makeVenue, type Plan, readCircuit, type Vehicle, type VenueNotes } from '@ochote/core'

const demo = (file: string): string => readFileSync(new URL(`../../../../demo/${file}`, import.meta.url), 'utf8')
const notes = (JSON.parse(demo('scenario.json')) as { circuits: VenueNotes[] }).circuits[0]
const vehicles = JSON.parse(demo('vehicles.json')) as Vehicle[]
const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'x'))

/** A plan of the demo's venue and its first vehicle, with changed notes or by another method. */
export const demoPlanOf = (change: Partial<VenueNotes> = {}, method: LineMethod = 'smoothest'): Plan =>
  makePlan(makeVenue(circuit, { ...notes, ...change }), vehicles[0], { surface: 'dry', pace: 0.6, school: 'straight', method })
