import { api, type Day, type StoredCircuit, type StoredSchoolSettings } from '@ochote/contract'
import { call } from './api-client.ts'

/** Days as the server has them: what is on screen may already be ahead of that. */
const known = new Map<string, Day>()

/** Reads a day, and keeps what the server said of it as the ground for the next change. */
export const readDay = async (dayId: string): Promise<Day> => keepServerDay(await call(api.day, { params: { dayId } }))

/** Keeps a day as the server has just told it. */
export const keepServerDay = (day: Day): Day => {
  known.set(day.id, day)
  return day
}

/** The day as the server told it last. */
export const serverDay = (dayId: string): Day | undefined => known.get(dayId)

let settings: StoredSchoolSettings | undefined

/** Keeps the school's settings as the server has just told them. */
export const keepServerSettings = (told: StoredSchoolSettings): StoredSchoolSettings => {
  settings = told
  return told
}

/** Reads the school's settings, and keeps them as the ground for the next change. */
export const readSettings = async (): Promise<StoredSchoolSettings> => keepServerSettings(await call(api.schoolSettings))

/** The school's settings as the server told them last. */
export const serverSettings = (): StoredSchoolSettings | undefined => settings

const circuits = new Map<string, StoredCircuit>()

/** Keeps a circuit as the server has just told it. */
export const keepServerCircuit = (circuit: StoredCircuit): StoredCircuit => {
  circuits.set(circuit.id, circuit)
  return circuit
}

/** Reads a circuit, and keeps it as the ground for the next change of its notes. */
export const readCircuit = async (circuitId: string): Promise<StoredCircuit> =>
  keepServerCircuit(await call(api.circuit, { params: { circuitId } }))

/** The circuit as the server told it last. */
export const serverCircuit = (circuitId: string): StoredCircuit | undefined => circuits.get(circuitId)
