import { callWorkSchema, conesOfDayFile, coneWorkSchema, dayFileSchema, schoolOf, schoolSettingsSchema } from '@ochote/contract'
import {
  type ConeSet,
  coneSetOfDay,
  createPlanner,
  type Level,
  levels,
  makePlan,
  type PlanChoice,
  writeLayingCsv,
  writeLayingGeoJson,
  writeLayingGpx,
} from '@ochote/core'
import { methodOption } from './line.ts'
import { type Options, readJson, reportTiming, studentSettingsOption, UsageError, vehicleOption, venueOption, writeOut } from './options.ts'

/** `ochote cones`: the laying sheet of a day file, or of a circuit and a vehicle, as CSV, or as GPX or GeoJSON by the name of --out. */
export const cones = async (options: Options): Promise<void> => {
  const began = performance.now()
  const set = typeof options.day === 'string' ? await conesOfDay(options.day) : await conesOfCircuit(options)
  reportTiming(options, { cones: performance.now() - began })
  const notes = [
    ...set.unplaced.map(
      ({ groupId, reason }) => `${groupId} has no place: ${reason === 'line' ? 'a line in use is too near' : 'a run-off is needed there'}.`,
    ),
    ...set.dropped.map(({ groupId, colour, short }) => `${groupId} is left out: ${short} ${colour} cones too few.`),
    ...set.faded.map(({ groupId }) => `${groupId} is left out: nobody served needs it any more.`),
  ]
  for (const note of notes) process.stderr.write(`${note}\n`)
  await writeOut(options, written(set, String(options.out ?? '')))
}

const written = ({ sheet }: ConeSet, file: string): string => {
  if (file.endsWith('.gpx')) return writeLayingGpx('Laying sheet', sheet)
  if (file.endsWith('.geojson')) return writeLayingGeoJson(sheet)
  return writeLayingCsv(sheet)
}

const conesOfDay = async (file: string): Promise<ConeSet> => {
  const day = await readJson(file, 'day file', dayFileSchema)
  const { of, planFor } = conesOfDayFile(day, createPlanner())
  return coneSetOfDay(of, planFor)
}

const levelOption = (options: Options): Level => {
  const level = String(options.level ?? 'first-day') as Level
  if (!levels.includes(level)) throw new UsageError(`--level ${level} is not known; use ${levels.join(', ')}.`)
  return level
}

/** Cones for one vehicle on a circuit where nothing was decided by hand. */
const conesOfCircuit = async (options: Options): Promise<ConeSet> => {
  const venue = await venueOption(options)
  const vehicle = await vehicleOption(options)
  const settings = studentSettingsOption(options)
  const method = methodOption(options, 'smoothest')
  const school = schoolOf(schoolSettingsSchema.parse({}))
  const schemeId = String(options.scheme ?? school.schemes[0].id)
  if (!school.schemes.some((s) => s.id === schemeId))
    throw new UsageError(`--scheme ${schemeId} is not known; use ${school.schemes.map((s) => s.id).join(', ')}.`)
  const choice: PlanChoice = { ...settings, circuitId: venue.circuit.name, vehicleId: vehicle.id, method, schemeId }
  const work = { ...coneWorkSchema.parse({}), level: levelOption(options) }
  return coneSetOfDay({ day: { settings: choice, cones: work, calls: callWorkSchema.parse({}) }, school, students: [] }, () =>
    makePlan(venue, vehicle, { ...settings, method }),
  )
}
