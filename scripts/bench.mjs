// Measures the core on made-up circuits of several lengths, each in a fresh process, and prints JSON; --table prints Markdown.
import { spawnSync } from 'node:child_process'
import { cpus } from 'node:os'
import { build } from 'esbuild'

const LENGTHS_KM = [1, 2, 5, 10, 20]
const bundle = '.cache/bench/line.mjs'
await build({
  entryPoints: ['packages/core/bench/line.ts'],
  bundle: true,
  platform: 'node',
  format: 'esm',
  outfile: bundle,
  logLevel: 'error',
})

const runs = LENGTHS_KM.map((km) => {
  const { stdout, status, stderr } = spawnSync('node', ['--expose-gc', bundle, String(km)], { encoding: 'utf8' })
  if (status !== 0) throw new Error(stderr)
  return JSON.parse(stdout)
})
const result = {
  machine: { cpu: cpus()[0].model.trim(), cores: cpus().length, node: process.version },
  date: new Date().toISOString().slice(0, 10),
  runs,
}

const cells = (values) => `| ${values.join(' | ')} |`
if (process.argv.includes('--table')) {
  console.log(`${result.machine.cpu}, ${result.machine.cores} cores, Node.js ${result.machine.node}, ${result.date}. Milliseconds.\n`)
  console.log(
    cells([
      'length',
      'stations',
      'corners',
      'smoothest',
      'fast',
      'profile',
      'total, fresh process',
      'total, warm',
      'marks and numbers',
      'memory',
    ]),
  )
  console.log(cells(Array(10).fill('---:')))
  for (const r of runs)
    console.log(
      cells([
        `${r.length_km} km`,
        r.stations,
        r.corners,
        r.fresh_ms.smoothest,
        r.fresh_ms.fast,
        r.fresh_ms.profile,
        r.fresh_ms.total,
        r.warm_ms.total,
        r.warm_ms.marks,
        `${r.memory_MB} MB`,
      ]),
    )
} else console.log(JSON.stringify(result, null, 1))
