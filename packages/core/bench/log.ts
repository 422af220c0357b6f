import { demoPlan } from '../fixtures/load.ts'
import { analyseLog } from '../src/findings/analyse.ts'
import { writeLogCsv } from '../src/formats/log-csv.ts'
import { readLog } from '../src/formats/log-file.ts'
import { simulateDrive } from '../src/simulate/drive.ts'

/** A log of 20 minutes at 100 Hz, with every channel and two more: read, matched and analysed. Prints JSON. */
const plan = demoPlan({ pace: 0.7 })
const lines = writeLogCsv(simulateDrive(plan, { laps: 10, seed: 5, rate_hz: 100, noise_m: 0.2 }).log)
  .trimEnd()
  .split('\n')
  .slice(0, 120_001)
const text = `${lines.map((line, i) => (i === 0 ? `${line},oil_temp,water_temp` : `${line},92.5,88.1`)).join('\n')}\n`
lines.length = 0
const before = process.memoryUsage.rss()
let most = before
const timed = <T>(work: () => T): [T, number] => {
  const began = performance.now()
  const result = work()
  most = Math.max(most, process.memoryUsage.rss())
  return [result, performance.now() - began]
}
const runs = [1, 2, 3].map(() => {
  const [log, read_ms] = timed(() => readLog(text))
  const [analysis, analyse_ms] = timed(() => analyseLog(plan.circuit, plan.corners, log, { kind: 'plan', plan }))
  return { rows: log.time_s.length, laps: analysis.laps.length, read_ms, analyse_ms, total_ms: read_ms + analyse_ms }
})
console.log(JSON.stringify({ characters: text.length, runs, before_MB: Math.round(before / 1e6), most_MB: Math.round(most / 1e6) }))
