export { writeCircuitCsv } from './circuit-csv.ts'
export { writeCircuitGpx, writeCircuitKml } from './circuit-kml.ts'
export { lapsAsCircuit, readDrivenPath, type StartFound, startsFound } from './driven-path.ts'
export { readGround, writeVenueGeoJson } from './ground-geojson.ts'
export { joinLogs } from './join-logs.ts'
export { readJsonLine, writeJsonLine } from './json-lines.ts'
export { type FileKind, kindOfFile, misplaced } from './kind-of-file.ts'
export { writeLayingCsv, writeLayingGeoJson, writeLayingGpx } from './laying-files.ts'
export { writeLineCsv } from './line-csv.ts'
export { writeLogCsv } from './log-csv.ts'
export { logOf, missingChannels, readLog } from './log-file.ts'
export {
  type GuessedChannel,
  guessMapping,
  type LogMapping,
  mappingOf,
} from './log-mapping.ts'
export { type LogFile, type LogForm, logForms, readLogPieces, readLogText } from './log-reader.ts'
export type { LogColumn, LogTable } from './log-table.ts'
export { type NmeaReader, nmeaChecksum, nmeaReader, writeNmea } from './nmea.ts'
export { padCsv, padGeoJson } from './pad-files.ts'
export {
  type ListedPerson,
  nameKey,
  type PeopleField,
  type PeopleList,
  peopleFields,
  peopleOf,
  readPeopleList,
} from './people-list.ts'
export { readCircuit } from './read-circuit.ts'
export type { ReadCircuitOptions } from './read-circuit-options.ts'
export { writeColumns, writeRows } from './table.ts'
export { decodedPieces, decodeText } from './text-encoding.ts'
