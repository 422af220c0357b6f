import type { Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'
import { surveyFromGeodetic } from './geodetic-points.ts'
import type { ReadCircuitOptions } from './read-circuit-options.ts'

/** Numbers of a road for each of its points, or one for all. */
export type PerPoint = number | number[]

/** A line that a file holds, which may be a circuit: longitude, latitude and height of its points, and what is said of its road. */
export type CircuitLine = {
  name: string | undefined
  points: readonly (readonly number[])[]
  widthLeft_m?: PerPoint | undefined
  widthRight_m?: PerPoint | undefined
  bank_rad?: PerPoint | undefined
  open?: boolean
}

/**
 * The line of a file that is the circuit: the one that was chosen by name or number; else the only one, or the only one with widths.
 * @throws CoreError 'circuit-several-tracks' where a person has to say which
 */
export const chosenLine = (lines: readonly CircuitLine[], choice: string | undefined): CircuitLine => {
  const names = lines.map((line, i) => line.name ?? String(i + 1))
  if (choice !== undefined) {
    const byName = names.indexOf(choice)
    const line = lines[byName >= 0 ? byName : Number(choice) - 1]
    if (line) return line
  } else {
    const withWidths = lines.filter((line) => line.widthLeft_m !== undefined)
    if (lines.length === 1) return lines[0]
    if (withWidths.length === 1) return withWidths[0]
  }
  throw new CoreError('circuit-several-tracks', 'file', { count: lines.length, names: names.join(', ').slice(0, 300) })
}

/** A survey of a line. */
export const surveyOfLine = (line: CircuitLine, name: string, options: ReadCircuitOptions): Survey => {
  const { points, widthLeft_m = options.width_m, widthRight_m = options.width_m, bank_rad = 0 } = line
  const survey = surveyFromGeodetic(
    line.name ?? name,
    { lon_deg: points.map((p) => p[0]), lat_deg: points.map((p) => p[1]), height_m: points.map((p) => p[2] ?? 0) },
    { widthLeft_m, widthRight_m, bank_rad },
    options,
  )
  return line.open ? { ...survey, open: true } : survey
}

/** Ends nearer than this join two parts of one line (degrees, about 10 m). */
const JOIN_DEG = 1e-4

const isNear = (a: readonly number[], b: readonly number[]): boolean => Math.abs(a[0] - b[0]) < JOIN_DEG && Math.abs(a[1] - b[1]) < JOIN_DEG

/** Parts of a line joined where one begins at the end of another; a point that stands at both is kept once. */
export const joinedParts = (parts: readonly (readonly (readonly number[])[])[]): (readonly number[])[][] => {
  const joined: (readonly number[])[][] = []
  for (const part of parts) {
    const before = joined.find((other) => other.length > 0 && part.length > 0 && isNear(other[other.length - 1], part[0]))
    if (before) before.push(...part.slice(isNear(before[before.length - 1], part[0]) && distinct(before, part) ? 1 : 0))
    else joined.push([...part])
  }
  return joined
}

/** True if the first point of a part is the last of what lies before it. */
const distinct = (before: readonly (readonly number[])[], part: readonly (readonly number[])[]): boolean => {
  const last = before[before.length - 1]
  return last[0] === part[0][0] && last[1] === part[0][1]
}
