import { api, type CircuitNotes, type StoredCircuit, surveyFromWire } from '@ochote/contract'
import {
  buildCircuit,
  type Circuit,
  carryEdits,
  carryStation,
  checkSamePlace,
  inPlaneOf,
  lapsAsCircuit,
  readCircuit,
  readGround,
  type Survey,
} from '@ochote/core'
import { v7 as uuid } from 'uuid'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, notFound } from '../http/problems.ts'
import type { CircuitStore } from './store.ts'

/** Circuits: list, read, import, average from laps, note names and ground. */
export const circuitRoutes = (mount: Mount, circuits: CircuitStore): void => {
  const existing = async (id: string): Promise<StoredCircuit> => {
    const circuit = await circuits.byId(id)
    if (!circuit) throw notFound('circuit')
    return circuit
  }
  mount(api.circuits, async () => circuits.all())
  mount(api.circuit, async ({ params }) => existing(params.circuitId))
  mount(api.importCircuit, async ({ query, upload }) => {
    const { name, keeps, width_m, track, reverse, open } = query
    const text = await upload.text()
    const read = readCircuit(text, name, {
      ...(width_m === undefined ? {} : { width_m }),
      ...(track === undefined ? {} : { track }),
      ...(reverse === 'true' ? { reverse: true } : {}),
      ...(open === 'true' ? { open: true } : {}),
    })
    const survey = { ...read, name }
    const circuit = buildCircuit(survey)
    const notes = keeps === undefined ? null : carriedNotes(await existing(keeps), circuit)
    const ground = readGround(text, circuit)
    return circuits.add(uuid(), survey, notes ?? { cornerNames: {}, cornerEdits: [], ground, pins: [], cornerTips: {} })
  })
  mount(api.circuitFromLaps, async ({ query, upload }) => {
    const survey: Survey = { ...lapsAsCircuit(await upload.text(), query.name, query.width_m), name: query.name }
    return circuits.add(uuid(), survey)
  })
  mount(api.saveNotes, async ({ params, body }) => {
    const circuit = await existing(params.circuitId)
    if (!(await circuits.saveNotes(circuit.id, body.version, body.notes))) throw changedMeanwhile('circuit')
    return existing(circuit.id)
  })
}

/** Notes of an older survey of the same place, carried over to a newer one by the ground they lie on. */
const carriedNotes = (older: StoredCircuit, newer: Circuit): CircuitNotes => {
  const from = inPlaneOf(buildCircuit(surveyFromWire(older.survey)), newer.origin)
  checkSamePlace(from, newer)
  const { cornerNames, cornerEdits, ground, pins, cornerTips } = older.notes
  return {
    cornerNames,
    cornerTips,
    pins: pins.map((pin) => ({ ...pin, station_m: carryStation(from, newer, pin.station_m) })),
    cornerEdits: carryEdits(from, newer, cornerEdits),
    ground: ground.map((item) => ({
      ...item,
      from_m: carryStation(from, newer, item.from_m),
      to_m: carryStation(from, newer, item.to_m),
    })),
  }
}
