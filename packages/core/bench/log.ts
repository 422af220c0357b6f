import { createReadStream, writeFileSync } from 'node:fs'
import { demoPlan } from '../fixtures/load.ts'
import { analyseLog } from '../src/findings/analyse.ts'
import { writeLogCsv } from '../src/formats/log-csv.ts'
import { logOf } from '../src/formats/log-file.ts'
import { readLogPieces } from '../src/formats/log-reader.ts'
import { simulateDrive } from '../src/simulate/drive.ts'

/**
 * A log of 20 minutes at 100 Hz, with every channel and two more. `FILE make [MINUTES]` writes it; `FILE` reads it as a stream, matches
 * and analyses it, three times. Prints JSON.
 */
const [file, make, minutes = '20'] = process.argv.slice(2)
const RATE_HZ = 100
const ROWS = 60 * RATE_HZ * Number(minutes)
const plan = demoPlan({ pace: 0.7 })

const write = () => {
  const { log } = simulateDrive(plan, { laps: Math.ceil(Number(minutes) / 2), seed: 5, rate_hz: RATE_HZ, noise_m: 0.2 })
  const lines = writeLogCsv(log)
    .trimEnd()
    .split('\n')
    .slice(0, ROWS + 1)
  const text = `${lines.map((line, i) => (i === 0 ? `${line},oil_temp,water_temp` : `${line},92.5,88.1`)).join('\n')}\n`
  writeFileSync(file, text)
  return { rows: lines.length - 1, characters: text.length }
}

const measure = async () => {
  const before = process.memoryUsage.rss()
  let max = before
  const look = (): void => {
    max = Math.max(max, process.memoryUsage.rss())
  }
  const runs = []
  for (let k = 0; k < 3; k++) {
    const began = performance.now()
    const log = logOf(await readLogPieces(createReadStream(file, { encoding: 'utf8', highWaterMark: 1 << 18 }), look))
    const read_ms = performance.now() - began
    const analysis = analyseLog(plan.circuit, plan.corners, log, { kind: 'plan', plan }, { onProgress: look })
    const total_ms = performance.now() - began
    look()
    runs.push({ rows: log.time_s.length, laps: analysis.laps.length, read_ms, analyse_ms: total_ms - read_ms, total_ms })
  }
  return { runs, before_MB: Math.round(before / 1e6), most_MB: Math.round(max / 1e6) }
}

console.log(JSON.stringify(make ? write() : await measure()))
