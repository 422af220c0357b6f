import { type LineMethod, lineMethods, makePlan, makeVenue, writeLineCsv } from '@ochote/core'
import { circuitOption, type Options, settingsOption, UsageError, vehicleOption, writeOut } from './options.ts'

/** `ochote line`: solves a line with its speeds and writes it as CSV. */
export const line = async (options: Options): Promise<void> => {
  const method = String(options.method ?? 'smoothest') as LineMethod
  if (!lineMethods.includes(method)) throw new UsageError(`--method ${method} is not known; use ${lineMethods.join(' or ')}.`)
  const circuit = await circuitOption(options)
  const plan = makePlan(makeVenue(circuit), await vehicleOption(options), {
    ...settingsOption(options, { pace: 1, school: 'trail' }),
    method,
  })
  await writeOut(options, writeLineCsv(plan))
}
