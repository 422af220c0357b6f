import {
  fastestLine,
  type LineMethod,
  lineMethods,
  offsetBounds,
  planLine,
  planOnLine,
  smoothestLine,
  solveProfile,
  surfaces,
  uniformGrip,
  writeLineCsv,
} from '@ochote/core'
import { type Options, reportTiming, settingsOption, UsageError, vehicleOption, venueOption, writeOut } from './options.ts'

const elapsed = async <T>(work: () => T | Promise<T>): Promise<[T, number]> => {
  const began = performance.now()
  const result = await work()
  return [result, performance.now() - began]
}

/** The method of a call. @throws UsageError for one that is not known */
export const methodOption = (options: Options, fallback: LineMethod): LineMethod => {
  const method = String(options.method ?? fallback) as LineMethod
  if (!lineMethods.includes(method)) throw new UsageError(`--method ${method} is not known; use ${lineMethods.join(', ')}.`)
  return method
}

/**
 * `ochote line`: solves a line with its speeds and writes it as CSV. With --timing also the time of import, the smoothest
 * line, the fastest line and the profile on it, and their total after the import.
 */
export const line = async (options: Options): Promise<void> => {
  const method = methodOption(options, 'smoothest')
  const [venue, importing] = await elapsed(() => venueOption(options))
  const vehicle = await vehicleOption(options)
  const settings = { ...settingsOption(options, { pace: 1, school: 'trail' }), method }
  if (options.timing === true) {
    const bounds = offsetBounds(venue.circuit, vehicle.width_m, settings.margin_m ?? vehicle.margin_m)
    const grip = uniformGrip(surfaces[settings.surface] * settings.pace)
    const [smoothest, smoothing] = await elapsed(() => smoothestLine(venue.circuit, bounds).line)
    const [fast, fastening] = await elapsed(() => fastestLine(venue.circuit, vehicle, grip, bounds, { start: smoothest }).line)
    const [, profiling] = await elapsed(() => solveProfile(venue.circuit, fast, vehicle, { grip }))
    const total = smoothing + fastening + profiling
    reportTiming(options, { import: importing, smoothest: smoothing, fast: fastening, profile: profiling, total })
  }
  await writeOut(options, writeLineCsv(planOnLine(venue, vehicle, settings, planLine(venue, vehicle, settings))))
}
