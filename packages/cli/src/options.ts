import { createReadStream } from 'node:fs'
import { readFile, writeFile } from 'node:fs/promises'
import { basename } from 'node:path'
import { pipeline } from 'node:stream'
import { createGunzip, gunzipSync } from 'node:zlib'
import { vehicleFileSchema } from '@ochote/contract'
import {
  type BrakingSchool,
  brakingSchools,
  buildCircuit,
  CoreError,
  checkVehicle,
  decodedPieces,
  decodeText,
  type LogFile,
  makeVenue,
  PACE_CEILING,
  type PlanSettings,
  readCircuit,
  readGround,
  readLogPieces,
  type Surface,
  surfaces,
  type Vehicle,
  type Venue,
} from '@ochote/core'

/** A call of the command that cannot be understood. */
export class UsageError extends Error {}

/** The options of a call as text. */
export type Options = Readonly<Record<string, string | boolean | undefined>>

/** The text of an option that must be given. */
export const required = (options: Options, name: string): string => {
  const value = options[name]
  if (typeof value !== 'string' || value === '') throw new UsageError(`--${name} is missing.`)
  return value
}

/** A number within a range, or the default where the option is absent. */
const numberOption = (options: Options, name: string, range: readonly [number, number], fallback: number): number => {
  const text = options[name]
  if (text === undefined) return fallback
  const value = Number(text)
  if (!(value >= range[0] && value <= range[1]))
    throw new CoreError('setting-range', `--${name}`, { field: name, value: String(text), range: `${range[0]} to ${range[1]}` })
  return value
}

const unreadable = (file: string, error: unknown): CoreError =>
  new CoreError('file-unreadable', file, { expected: 'file', why: (error as NodeJS.ErrnoException).code ?? 'it cannot be opened' })

/** Reads a log file piece by piece, unpacking one that ends in .gz. @throws CoreError for files that cannot be read */
export const readLogAt = async (file: string): Promise<LogFile> => {
  const bytes = createReadStream(file, { highWaterMark: 1 << 18 })
  // Whichever of the two ends, ends the other; what went wrong is told by the last one, which is read.
  const stream = file.endsWith('.gz') ? pipeline(bytes, createGunzip(), () => {}) : bytes
  try {
    return await readLogPieces(decodedPieces(stream))
  } catch (error) {
    throw error instanceof CoreError ? error : unreadable(file, error)
  }
}

/** Reads a file as text, unpacking one that ends in .gz; one that is not there is bad input, not a crash. */
const readText = async (file: string): Promise<string> => {
  try {
    const bytes = await readFile(file)
    return decodeText(file.endsWith('.gz') ? gunzipSync(bytes) : bytes)
  } catch (error) {
    throw unreadable(file, error)
  }
}

/** Checks a parsed file against its schema. */
type Schema<T> = {
  safeParse: (
    raw: unknown,
  ) => { success: true; data: T } | { success: false; error: { issues: readonly { path: readonly PropertyKey[]; message: string }[] } }
}

/** Reads a JSON file of a given form. `expected` names the form in errors. @throws CoreError naming the field that is wrong */
export const readJson = async <T>(file: string, expected: string, schema: Schema<T>): Promise<T> => {
  let raw: unknown
  try {
    raw = JSON.parse(await readText(file))
  } catch (error) {
    if (error instanceof CoreError) throw error
    throw new CoreError('file-unreadable', file, { expected, why: 'its JSON is broken' })
  }
  const parsed = schema.safeParse(raw)
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues
  throw new CoreError('file-unreadable', `${file}: ${issue.path.join('.')}`, { expected, why: issue.message })
}

/** Reads and builds the circuit of a call, with what its file says of the ground. */
export const venueOption = async (options: Options): Promise<Venue> => {
  const file = required(options, 'circuit')
  const text = await readText(file)
  const survey = readCircuit(text, basename(file).replace(/\.[^.]+$/, ''), {
    ...(options.width === undefined ? {} : { width_m: numberOption(options, 'width', [1, 60], 5) }),
    ...(typeof options.track === 'string' ? { track: options.track } : {}),
    ...(options.reverse === true ? { reverse: true } : {}),
    ...(options.open === true ? { open: true } : {}),
    ...(options.swapped === true ? { swapped: true } : {}),
  })
  const origin = typeof options.origin === 'string' ? parseOrigin(options.origin) : survey.origin
  const circuit = buildCircuit(origin ? { ...survey, origin } : survey)
  return makeVenue(circuit, { ground: readGround(text, circuit) })
}

/**
 * Prints how long the parts of a call took, as one JSON line, where the call asks for it: on standard output, or on
 * standard error where that carries the result.
 */
export const reportTiming = (options: Options, timing_ms: Readonly<Record<string, number>>): void => {
  if (options.timing !== true) return
  const rounded = Object.fromEntries(Object.entries(timing_ms).map(([name, ms]) => [name, Math.round(10 * ms) / 10]))
  const stream = options.out === undefined ? process.stderr : process.stdout
  stream.write(`${JSON.stringify({ timing_ms: rounded })}\n`)
}

const parseOrigin = (text: string): { lat_deg: number; lon_deg: number } => {
  const [lat_deg, lon_deg] = text.split(',').map(Number)
  if (!(Math.abs(lat_deg) <= 89 && Math.abs(lon_deg) <= 180)) throw new UsageError('--origin takes LAT,LON in degrees.')
  return { lat_deg, lon_deg }
}

/** Reads the vehicle of a call, FILE#ID; the id may be left out where the file holds one vehicle. */
export const vehicleOption = async (options: Options): Promise<Vehicle> => {
  const [file, id] = required(options, 'vehicle').split('#')
  const vehicles = await readJson(file, 'vehicle file', vehicleFileSchema)
  const vehicle = id === undefined && vehicles.length === 1 ? vehicles[0] : vehicles.find((v) => v.id === id)
  if (!vehicle) throw new CoreError('vehicle-unknown', file, { id: id ?? '', known: vehicles.map((v) => v.id).join(', ') })
  checkVehicle(vehicle)
  return vehicle
}

/** Settings of a student's plan. @throws CoreError 'pace-above-limit' for a pace above the limit without --force */
export const studentSettingsOption = (options: Options): PlanSettings => {
  const settings = settingsOption(options, { pace: 0.75, school: 'straight' })
  if (settings.pace > PACE_CEILING && options.force !== true)
    throw new CoreError('pace-above-limit', '--pace', { pace: settings.pace, limit: PACE_CEILING })
  return settings
}

/** Surface, pace and school of a call. */
export const settingsOption = (options: Options, defaults: { pace: number; school: BrakingSchool }): PlanSettings => {
  const surface = String(options.surface ?? 'dry')
  const school = String(options.school ?? defaults.school)
  if (!(surface in surfaces))
    throw new CoreError('setting-range', '--surface', { field: 'surface', value: surface, range: Object.keys(surfaces).join(', ') })
  if (!brakingSchools.includes(school as BrakingSchool))
    throw new CoreError('setting-range', '--school', { field: 'school', value: school, range: brakingSchools.join(', ') })
  return {
    surface: surface as Surface,
    pace: numberOption(options, 'pace', [0.05, 1], defaults.pace),
    school: school as BrakingSchool,
    ...(options.entry === undefined ? {} : { entry_mps: numberOption(options, 'entry', [0, 300], 0) / 3.6 }),
    ...(options['lowest-gear'] === undefined ? {} : { lowestGear: numberOption(options, 'lowest-gear', [1, 8], 1) }),
    ...(options['per-metre'] === undefined ? {} : { perMetre_s: numberOption(options, 'per-metre', [0, 1], 0) }),
    ...(options.margin === undefined ? {} : { margin_m: numberOption(options, 'margin', [0, 5], 0.5) }),
  }
}

/** Writes a result to the file of --out, or to standard output. @throws CoreError 'file-unwritable' */
export const writeOut = async (options: Options, text: string): Promise<void> => {
  if (typeof options.out !== 'string') {
    process.stdout.write(text)
    return
  }
  try {
    await writeFile(options.out, text)
  } catch (error) {
    throw new CoreError('file-unwritable', options.out, { why: (error as NodeJS.ErrnoException).code ?? 'unknown' })
  }
}
