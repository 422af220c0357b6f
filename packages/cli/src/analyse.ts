import { parseLogFile } from '@ochote/contract'
import { analyseLog, type Circuit, type Finding, findCorners, makePlan, makeVenue, type Reference } from '@ochote/core'
import { circuitOption, type Options, readText, required, settingsOption, UsageError, vehicleOption, writeOut } from './options.ts'

const round = (value: number, digits: number): number => Number(value.toFixed(digits))

const describeFinding = (f: Finding) => ({
  lap: f.lap,
  corner: f.cornerName,
  s_m: round(f.station_m, 1),
  code: f.code,
  root: f.root,
  ...(f.because ? { because: f.because } : {}),
  lossTime_s: round(f.lossTime_s, 3),
  evidence: Object.fromEntries(Object.entries(f.evidence).map(([name, value]) => [name, round(value, 3)])),
})

const referenceOption = async (options: Options, circuit: Circuit): Promise<Reference> => {
  const text = required(options, 'reference')
  const lap = /^lap:(\d+)$/.exec(text)
  if (lap) return { kind: 'lap', lap: Number(lap[1]) }
  if (text !== 'plan') throw new UsageError('--reference takes lap:N or plan.')
  const settings = settingsOption(options, { pace: 0.75, school: 'straight' })
  return { kind: 'plan', plan: makePlan(makeVenue(circuit), await vehicleOption(options), settings) }
}

/** `ochote analyse`: laps and findings of a log as JSON. */
export const analyse = async (options: Options): Promise<void> => {
  const circuit = await circuitOption(options)
  const corners = findCorners(circuit)
  const log = parseLogFile(await readText(required(options, 'log')))
  const analysis = analyseLog(circuit, corners, log, await referenceOption(options, circuit))
  for (const s of analysis.skipped)
    process.stderr.write(`A lap is left out: the log is silent for ${s.gap_s.toFixed(1)} s after ${s.after_s.toFixed(1)} s.\n`)
  const result = {
    laps: analysis.laps.map((l) => ({ lap: l.lap, start_s: round(l.start_s, 3), time_s: round(l.time_s, 3) })),
    skipped: analysis.skipped.map((s) => ({ start_s: round(s.start_s, 3), gap_s: round(s.gap_s, 3), after_s: round(s.after_s, 3) })),
    findings: analysis.findings.map(describeFinding),
  }
  await writeOut(options, `${JSON.stringify(result, null, 1)}\n`)
}
