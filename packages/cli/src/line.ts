import { findCorners, makePlan, writeLineCsv } from '@ochote/core'
import { circuitOption, type Options, settingsOption, UsageError, vehicleOption, writeOut } from './options.ts'

/** `ochote line`: solves a line with its speeds and writes it as CSV. */
export const line = async (options: Options): Promise<void> => {
  if (options.method !== 'smoothest') throw new UsageError(`--method ${options.method} is not known; use smoothest.`)
  const circuit = await circuitOption(options)
  const plan = makePlan(circuit, findCorners(circuit), await vehicleOption(options), settingsOption(options, { pace: 1, school: 'trail' }))
  await writeOut(options, writeLineCsv(plan))
}
