import { callWorkSchema, conesOfDayFile, coneWorkSchema, dayFileSchema, schoolOf, schoolSettingsSchema } from '@ochote/contract'
import {
  type ConeConflict,
  type ConeSet,
  coneSetOfDay,
  createPlanner,
  type HiddenMark,
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
    ...set.conflicts.map(conflictNote),
    ...set.dropped.map(({ groupId, colour, short }) => `${groupId} is left out: ${short} ${colour} cones too few.`),
    ...set.faded.map(({ groupId }) => `${groupId} is left out: nobody served needs it any more.`),
  ]
  for (const note of notes) process.stderr.write(`${note}\n`)
  await writeOut(options, written(set, String(options.out ?? '')))
}

/** A cone at a place where it misleads, as a line of the notes. */
const conflictNote = (c: ConeConflict): string => {
  switch (c.conflict) {
    case 'past-apex':
      return `${c.groupId} stands past the apex of ${c.otherCornerId}; ${c.lost_s.toFixed(1)} s of reaction time are missing, ${announced[c.helps]}.`
    case 'before-apex':
    case 'at-apex':
      return `${c.groupId} stands ${c.conflict === 'at-apex' ? 'at' : 'before'} the apex of ${c.otherCornerId}, ${announced[c.helps]}.`
    case 'too-near':
      return `${c.groupId} and ${c.other.groupId} stand ${c.distance_m.toFixed(1)} m apart.`
    case 'run-off':
      return `${c.groupId} stands where the run-off of ${c.otherCornerId} is needed.`
  }
}

const announced: Record<HiddenMark['helps'], string> = {
  sighter: 'a sighter announces it',
  call: 'a call announces it',
  'call-for-some': 'a call announces it to some',
  neither: 'nothing announces it',
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
