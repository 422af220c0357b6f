import { readFile } from 'node:fs/promises'
import {
  type CircuitNotes,
  type CircuitPreview,
  type ReadCircuit,
  type StoredCircuit,
  surveyFromWire,
  surveyToWire,
  type WireSurvey,
} from '@ochote/contract'
import {
  beginningAt,
  buildCircuit,
  type Circuit,
  carryByCorner,
  carryEdits,
  carryStation,
  checkSamePlace,
  decodeText,
  doubtsOf,
  followGround,
  inPlaneOf,
  lapsAsCircuit,
  makeVenue,
  misplaced,
  placeAt,
  readCircuit,
  readGround,
  reverseSurvey,
  type StartFound,
  type Survey,
  turnedToNorth,
  withWidth,
} from '@ochote/core'

/** A file with a circuit, how to read it, and the circuit whose notes it takes over. */
export type CircuitFileInput = { path: string; how: ReadCircuit; keeps?: StoredCircuit | null }

/** A circuit as it will be stored, and what came of its file. */
export type ReadCircuitFile = {
  survey: WireSurvey
  notes: CircuitNotes
  length_m: number
  corners: number
  startFound: StartFound | undefined
}

/** Stations of a drawing of the road: enough for a screen. */
const DRAWN = 800
/** Characters at the beginning of a file that show what it is. */
const HEAD = 4000

/** A survey that begins where somebody said, on the road as it was read. */
const startingAt = (survey: Survey, start_m: number | undefined): Survey => {
  if (start_m === undefined || survey.open) return survey
  const { x_m, y_m } = placeAt(buildCircuit(survey), start_m, 0)
  return beginningAt(survey, x_m, y_m)
}

const surveyOf = (text: string, how: ReadCircuit): { survey: Survey; startFound: StartFound | undefined } => {
  const { name, width_m } = how
  if (how.from === 'laps') {
    const { survey, startFound } = lapsAsCircuit(text, name, width_m)
    return { survey: how.reverse === 'true' ? reverseSurvey(survey) : survey, startFound }
  }
  const survey = readCircuit(text, name, {
    ...(width_m === undefined ? {} : { width_m }),
    ...(how.track === undefined ? {} : { track: how.track }),
    ...(how.reverse === 'true' ? { reverse: true } : {}),
    ...(how.open === 'true' ? { open: true } : {}),
    ...(how.swapped === 'true' ? { swapped: true } : {}),
  })
  return { survey, startFound: undefined }
}

/** Reads a file into a survey and its circuit. @throws CoreError; for a file of another kind it says which */
const readFileOf = async ({ path, how }: CircuitFileInput) => {
  const text = decodeText(await readFile(path))
  try {
    const read = surveyOf(text, how)
    const survey = startingAt({ ...read.survey, name: how.name }, how.start_m)
    const circuit = buildCircuit(survey)
    return { survey, circuit, ground: how.from === 'laps' ? [] : readGround(text, circuit), startFound: read.startFound }
  } catch (error) {
    throw misplaced(error, text.slice(0, HEAD), 'circuit')
  }
}

/** Reads a circuit to be kept. @throws CoreError */
export const readCircuitFile = async (input: CircuitFileInput): Promise<ReadCircuitFile> => {
  const { survey, circuit, ground, startFound } = await readFileOf(input)
  const notes = input.keeps ? carriedNotes(input.keeps, circuit) : { cornerNames: {}, cornerEdits: [], ground, pins: [], cornerTips: {} }
  return { survey: surveyToWire(survey), notes, length_m: circuit.length_m, corners: makeVenue(circuit, notes).corners.length, startFound }
}

/** Corrections of a circuit that is stored: another start line, a width for all of it. */
export type CircuitRevisionInput = {
  older: StoredCircuit
  start_m?: number | undefined
  width?: { left_m: number; right_m: number; stretch?: { from_m: number; to_m: number } | undefined } | undefined
  up_deg?: number | undefined
}

/** A stored circuit turned to north, with another start line or width, and its notes carried over. @throws CoreError */
export const reviseCircuit = ({ older: stored, start_m, width, up_deg }: CircuitRevisionInput): ReadCircuitFile => {
  const read = surveyFromWire(stored.survey)
  const facing = up_deg === undefined || read.origin ? read : turnedToNorth(read, up_deg)
  // Notes lie at stations, which turning leaves alone.
  const older = { ...stored, survey: surveyToWire(facing) }
  const turned = startingAt(facing, start_m)
  const survey = width ? withWidth(turned, width.left_m, width.right_m, width.stretch) : turned
  const circuit = buildCircuit(survey)
  const notes = carriedNotes(older, circuit)
  return {
    survey: surveyToWire(survey),
    notes,
    length_m: circuit.length_m,
    corners: makeVenue(circuit, notes).corners.length,
    startFound: undefined,
  }
}

const rounded = (value: number): number => Math.round(value * 100) / 100

/** The road of a circuit at even stations, as a drawing needs it. */
const drawn = (circuit: Circuit): CircuitPreview['road'] => {
  const every = Math.max(1, Math.floor(circuit.count / DRAWN))
  const take = (column: Float64Array): number[] =>
    Array.from(
      column.filter((_, i) => i % every === 0),
      rounded,
    )
  return {
    step_m: every * circuit.step_m,
    x_m: take(circuit.x_m),
    y_m: take(circuit.y_m),
    left_m: take(circuit.widthLeft_m),
    right_m: take(circuit.widthRight_m),
    z_m: take(circuit.z_m),
  }
}

/** Least and greatest of a column. */
const span = (column: Float64Array): { min: number; max: number } =>
  column.reduce((s, value) => ({ min: Math.min(s.min, value), max: Math.max(s.max, value) }), {
    min: Number.POSITIVE_INFINITY,
    max: Number.NEGATIVE_INFINITY,
  })

/** Reads a circuit to be looked at before it is kept. @throws CoreError */
export const lookAtCircuitFile = async (input: CircuitFileInput): Promise<CircuitPreview> => {
  const { survey, circuit, ground, startFound } = await readFileOf(input)
  const heights = span(circuit.z_m)
  const widths = span(circuit.widthLeft_m.map((left, i) => left + circuit.widthRight_m[i]))
  return {
    name: circuit.name,
    length_m: circuit.length_m,
    open: circuit.open === true,
    climb_m: heights.max - heights.min,
    width_m: { ...widths, assumed: survey.widthAssumed === true },
    corners: makeVenue(circuit).corners.map(({ id, peak_m, start_m, end_m }) => ({ id, apex_m: peak_m, start_m, end_m })),
    ...(survey.origin ? { place: survey.origin } : {}),
    ...(startFound ? { startFound } : {}),
    ground: ground.length,
    doubts: doubtsOf(survey, circuit),
    road: drawn(circuit),
  }
}

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

/** A layout of a venue whose ground changed, as it was and is, and the other layouts of the venue. */
export type ShareGroundInput = { before: CircuitNotes['ground']; changed: StoredCircuit; others: readonly StoredCircuit[] }

/** The ground of the other layouts after the change; those that stay as they are are left out. */
export const shareGround = ({ before, changed, others }: ShareGroundInput): { id: string; ground: CircuitNotes['ground'] }[] => {
  const from = buildCircuit(surveyFromWire(changed.survey))
  return others.flatMap(({ id, survey, notes }) => {
    const ground = followGround(notes.ground, before, changed.notes.ground, from, buildCircuit(surveyFromWire(survey)))
    return JSON.stringify(ground) === JSON.stringify(notes.ground) ? [] : [{ id, ground: ground.map((item) => ({ ...item })) }]
  })
}
