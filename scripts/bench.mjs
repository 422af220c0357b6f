// Measures the core on made-up circuits of several lengths, each in a fresh process, the import of a very large file, and call sheets for a whole day; prints JSON; --table prints Markdown.
import { cpus } from 'node:os'
import { runBench } from './bundle.mjs'

const LENGTHS_KM = [1, 2, 5, 10, 20]
const run = (name, ...args) => runBench(name, args, { node: ['--expose-gc'] })

const runs = []
for (const km of LENGTHS_KM) runs.push(await run('line', String(km)))
const result = {
  machine: { cpu: cpus()[0].model.trim(), cores: cpus().length, node: process.version },
  date: new Date().toISOString().slice(0, 10),
  runs,
  imports: await run('import'),
  calls: await run('calls'),
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
  console.log('')
  for (const i of result.imports)
    console.log(
      `Import of ${i.points} points (${i.file_MB} MB, noise ${i.noise_m} m): read ${i.read_ms} ms, built ${i.build_ms} ms, together ${i.total_ms} ms.`,
    )
  const c = result.calls
  console.log(
    `Call sheets of ${c.corners} corners × ${c.paces} paces × ${c.intensities} intensities × ${c.students} students (${c.sheets} sheets): ${c.fresh_ms} ms fresh, ${c.warm_ms} ms warm.`,
  )
} else console.log(JSON.stringify(result, null, 1))
