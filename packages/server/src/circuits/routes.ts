import { api, type CircuitNotes, type StoredCircuit, surveyFromWire } from '@ochote/contract'
import {
  beginningAt,
  buildCircuit,
  type Circuit,
  carryByCorner,
  carryEdits,
  carryStation,
  checkSamePlace,
  inPlaneOf,
  lapsAsCircuit,
  makeVenue,
  placeAt,
  readCircuit,
  readGround,
  type Survey,
  withWidth,
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
    const { name, keeps, width_m, track, reverse, open, swapped } = query
    const text = await upload.text()
    const read = readCircuit(text, name, {
      ...(width_m === undefined ? {} : { width_m }),
      ...(track === undefined ? {} : { track }),
      ...(reverse === 'true' ? { reverse: true } : {}),
      ...(open === 'true' ? { open: true } : {}),
      ...(swapped === 'true' ? { swapped: true } : {}),
    })
    const survey = { ...read, name }
    const circuit = buildCircuit(survey)
    const notes = keeps === undefined ? null : carriedNotes(await existing(keeps), circuit)
    const ground = readGround(text, circuit)
    const added = await circuits.add(uuid(), survey, notes ?? { cornerNames: {}, cornerEdits: [], ground, pins: [], cornerTips: {} })
    return { ...added, ...toldOf(survey) }
  })
  mount(api.circuitFromLaps, async ({ query, upload }) => {
    const { name, width_m } = query
    const { survey, startFound } = lapsAsCircuit(await upload.text(), name, width_m)
    return { ...(await circuits.add(uuid(), survey)), ...toldOf(survey), startFound }
  })
  mount(api.reviseCircuit, async ({ params, body }) => {
    const older = await existing(params.circuitId)
    const survey = surveyFromWire(older.survey)
    const { start_m, width } = body
    const start = start_m === undefined ? null : placeAt(buildCircuit(survey), start_m, 0)
    const turned = start ? beginningAt(survey, start.x_m, start.y_m) : survey
    const revised = width ? withWidth(turned, width.left_m, width.right_m) : turned
    const added = await circuits.add(uuid(), revised, carriedNotes(older, buildCircuit(revised)))
    await circuits.replace(older.id, added.id)
    return added
  })
  mount(api.saveNotes, async ({ params, body }) => {
    const circuit = await existing(params.circuitId)
    if (!(await circuits.saveNotes(circuit.id, body.version, body.notes))) throw changedMeanwhile('circuit')
    return existing(circuit.id)
  })
}

/** What an import tells beside the circuit: where it lies, and whether its width is assumed. */
const toldOf = ({ origin, widthAssumed }: Survey): { place?: { lat_deg: number; lon_deg: number }; widthAssumed: boolean } => ({
  ...(origin ? { place: origin } : {}),
  widthAssumed: widthAssumed === true,
})

/** Notes of an older survey of the same place, carried over to a newer one by the ground they lie on. */
const carriedNotes = (older: StoredCircuit, newer: Circuit): CircuitNotes => {
  const from = inPlaneOf(buildCircuit(surveyFromWire(older.survey)), newer.origin)
  checkSamePlace(from, newer)
  const { cornerNames, ground, pins, cornerTips } = older.notes
  const cornerEdits = carryEdits(from, newer, older.notes.cornerEdits)
  const [before, after] = [makeVenue(from, older.notes), makeVenue(newer, { cornerEdits })]
  return {
    cornerNames: carryByCorner(before, after, cornerNames),
    cornerTips: carryByCorner(before, after, cornerTips),
    pins: pins.map((pin) => ({ ...pin, station_m: carryStation(from, newer, pin.station_m) })),
    cornerEdits,
    ground: ground.map((item) => ({
      ...item,
      from_m: carryStation(from, newer, item.from_m),
      to_m: carryStation(from, newer, item.to_m),
    })),
  }
}
