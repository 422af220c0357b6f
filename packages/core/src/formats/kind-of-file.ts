import { CoreError } from '../errors/errors.ts'

/** Kinds of file that people have at hand and may choose in the wrong place. */
export type FileKind =
  | 'vehicle'
  | 'circuit'
  | 'log'
  | 'day'
  | 'student'
  | 'school'
  | 'people'
  | 'picture'
  | 'document'
  | 'archive'
  | 'video'

/** Signs at the beginning of files that are no text: which characters stand from which on. */
const beginnings: readonly (readonly [number, string, FileKind])[] = [
  [1, 'PNG', 'picture'],
  [0, 'GIF8', 'picture'],
  [8, 'WEBP', 'picture'],
  [6, 'JFIF', 'picture'],
  [6, 'Exif', 'picture'],
  [0, '%PDF', 'document'],
  [4, 'ftyp', 'video'],
  [0, 'PK\u0003\u0004', 'archive'],
]

/** Words of JSON that only one kind of file has; the first that is found counts. */
const jsonWords: readonly (readonly [RegExp, FileKind])[] = [
  [/"form"\s*:\s*"ochote-school/, 'school'],
  [/"form"\s*:\s*"ochote-day/, 'day'],
  [/"(mass_kg|maxBrake_mps2|dragArea_m2)"\s*:/, 'vehicle'],
  [/^\s*\{\s*"record"\s*:\s*\{\s*"student"/, 'student'],
  [/"type"\s*:\s*"(FeatureCollection|Feature|LineString|MultiLineString|Polygon)"/, 'circuit'],
  [/"(time_s|lat_deg|speed_mps)"\s*:/, 'log'],
]

const columnsOf = (firstLine: string): string[] => firstLine.split(/[,;\t]/).map((name) => name.trim().replace(/^"|"$/g, '').toLowerCase())

const tableKind = (firstLine: string): FileKind | null => {
  const names = columnsOf(firstLine)
  if (names.length < 2) return null
  const has = (pattern: RegExp): boolean => names.some((name) => pattern.test(name))
  if (has(/^(speed|velocity|v)\b|speed_|^rpm|throttle|brake/) && has(/time|^t\b/)) return 'log'
  if (has(/width|^x_m$|^bank/) || (has(/^lat/) && has(/^lon/))) return 'circuit'
  if (has(/^(name|first ?name|last ?name|surname|student|driver|vorname|nachname)/)) return 'people'
  return null
}

/** The kind of a file by its beginning (some thousand characters are enough); null where that does not show. */
export const kindOfFile = (head: string): FileKind | null => {
  const start = head.replace(/^\ufeff/, '')
  const bytes = beginnings.find(([at, sign]) => start.startsWith(sign, at))
  if (bytes) return bytes[2]
  const text = start.trimStart()
  if (/^[{[]/.test(text)) return jsonWords.find(([pattern]) => pattern.test(text))?.[1] ?? null
  if (text.startsWith('<')) return /<(gpx|kml)[\s>]/.test(text.slice(0, 2000)) ? 'circuit' : null
  if (/^\$[A-Z]{5},/.test(text)) return 'log'
  return tableKind(text.split(/\r?\n/, 1)[0])
}

/** Problems that a file in the wrong place has. */
const misfits: ReadonlySet<string> = new Set(['columns-missing', 'file-unreadable', 'file-empty', 'number-invalid'])

/** Logs and circuits may be each other: a track that was driven is both. */
const accepted: Partial<Record<FileKind, readonly FileKind[]>> = { circuit: ['circuit', 'log'], log: ['log', 'circuit'] }

/** The error of a file that could not be read; where the file shows that it is of another kind, that is what the error says. */
export const misplaced = (error: unknown, head: string, wanted: FileKind): unknown => {
  if (!(error instanceof CoreError && misfits.has(error.code))) return error
  const is = kindOfFile(head)
  if (is === null || is === wanted || (accepted[wanted]?.includes(is) && error.code !== 'columns-missing')) return error
  return new CoreError('file-of-other-kind', 'file', { is, wanted })
}
