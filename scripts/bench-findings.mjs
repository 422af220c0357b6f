// What findings are worth: logs of made-up students with known mistakes against what was found in them, and how long a large
// log takes; each in a fresh process. Prints JSON; --table prints Markdown; --students N sets how many students a row has,
// --from K which one is the first.
import { cpus } from 'node:os'
import { runBench, withFixtures } from './bundle.mjs'

const args = process.argv.slice(2)
const given = (flag, usual) => (args.includes(flag) ? args[args.indexOf(flag) + 1] : usual)
const [students, first] = [given('--students', '24'), given('--from', '1')]
const run = (name, ...values) => runBench(name, values, { options: withFixtures })

const LOG = '.cache/bench/log.csv'
await run('log', LOG, 'make')
const result = {
  machine: { cpu: cpus()[0].model.trim(), cores: cpus().length, node: process.version },
  date: new Date().toISOString().slice(0, 10),
  speed: await run('log', LOG),
  findings: await run('findings', students, first),
}

const cells = (values) => `| ${values.join(' | ')} |`
const percent = (share) => `${Math.round(100 * share)} %`
const table = () => {
  const { speed, findings } = result
  const lines = [
    `${result.machine.cpu}, ${result.machine.cores} cores, Node.js ${result.machine.node}, ${result.date}.`,
    '',
    cells(['log of 20 min at 100 Hz', 'rows', 'laps', 'read, ms', 'analysed, ms', 'together, ms']),
    cells(Array(6).fill('---')),
    ...speed.runs.map((r, i) =>
      cells([
        i === 0 ? 'first' : `again (${i + 1})`,
        r.rows,
        r.laps,
        Math.round(r.read_ms),
        Math.round(r.analyse_ms),
        Math.round(r.total_ms),
      ]),
    ),
    '',
    `Memory: ${speed.before_MB} MB before, at most ${speed.most_MB} MB.`,
    '',
    `${findings.students} students of ${findings.laps} laps a row.`,
    '',
    cells([
      'log',
      'held against',
      'meant',
      'made',
      'the log can tell',
      'found',
      'found of what was meant',
      'precision',
      'false roots a clean lap',
    ]),
    cells(Array(9).fill('---')),
    ...findings.rows.map((r) =>
      cells([
        r.log,
        r.reference === 'plan' ? 'the plan' : 'lap 1',
        r.meant,
        r.made,
        r.tellable,
        percent(r.found),
        percent(r.foundAsMeant),
        percent(r.precision),
        r.falsePerCleanLap.toFixed(2),
      ]),
    ),
    '',
    cells(['made', 'times', 'found as itself', 'found as something else', 'not found']),
    cells(Array(5).fill('---')),
    ...Object.entries(findings.confusion)
      .sort(([a], [b]) => a.localeCompare(b))
      .map(([made, found]) => {
        const times = Object.values(found).reduce((a, b) => a + b, 0)
        const others = Object.entries(found)
          .filter(([code]) => code !== made && code !== 'nothing')
          .sort((a, b) => b[1] - a[1])
          .map(([code, n]) => `${code} ${n}`)
          .join(', ')
        return made === 'nothing'
          ? cells(['*(no mistake made there)*', times, '', others, ''])
          : cells([made, times, found[made] ?? 0, others, found.nothing ?? 0])
      }),
  ]
  return lines.join('\n')
}
console.log(args.includes('--table') ? table() : JSON.stringify(result, null, 1))
