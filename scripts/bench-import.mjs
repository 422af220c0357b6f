// Measures a large log on its way through the server of the demo: sent over HTTP, read as a stream, matched, judged and kept.
// Prints JSON. node scripts/bench-import.mjs [times]
import { spawn } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { readFileSync, rmSync } from 'node:fs'
import { cpus } from 'node:os'
import { runBench, withFixtures } from './bundle.mjs'

const times = Number(process.argv[2] ?? '4')
const PORT = 4206
const DATA = '.cache/bench-import'
const LOG = '.cache/bench/log.csv'
const address = `http://localhost:${PORT}`
const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms))
const memory_MB = (pid) => Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 1024)

const made = await runBench('log', [LOG, 'make'], { options: withFixtures })
rmSync(DATA, { recursive: true, force: true })
/** Starts the server and waits until it answers. */
const start = async () => {
  const server = spawn('node', ['packages/server/dist/main.mjs', '--demo', '--port', String(PORT), '--data', DATA], { stdio: 'ignore' })
  while (!(await fetch(`${address}/api/health`).catch(() => null))?.ok) {
    if (server.exitCode !== null) throw new Error(`The server does not start; is port ${PORT} taken?`)
    await wait(100)
  }
  return server
}
const stop = (server) =>
  new Promise((resolve) => {
    server.once('exit', resolve)
    server.kill()
  })

// The first start makes the demo's data, which takes memory of its own; what is measured is a fresh process.
await stop(await start())
const server = await start()
let watch
try {
  const entered = await fetch(`${address}/api/session/demo`, {
    method: 'POST',
    headers: { origin: address },
  })
  const cookie = entered.headers
    .getSetCookie()
    .map((one) => one.split(';')[0])
    .join('; ')
  const runs = await (await fetch(`${address}/api/runs?studentId=odalys-merrow`, { headers: { cookie } })).json()
  const { id } = runs.find((run) => run.hasLog)
  const body = readFileSync(LOG)
  const before_MB = memory_MB(server.pid)
  let most_MB = before_MB
  watch = setInterval(() => {
    most_MB = Math.max(most_MB, memory_MB(server.pid))
  }, 10)
  const seen = []
  for (let k = 0; k < times; k++) {
    const reading = randomUUID()
    const began = performance.now()
    const sending = fetch(`${address}/api/runs/${id}/log?reading=${reading}`, {
      method: 'PUT',
      headers: { cookie, origin: address, 'Content-Type': 'application/octet-stream' },
      body,
    })
    const steps = {}
    let done = false
    const finished = () => {
      done = true
    }
    sending.then(finished, finished)
    while (!done) {
      const now = await (await fetch(`${address}/api/readings/${reading}`)).json()
      if (now) steps[now.step] ??= Math.round(performance.now() - began)
      await wait(20)
    }
    const answer = await sending
    const told = await answer.json()
    if (!answer.ok) throw new Error(JSON.stringify(told))
    seen.push({ total_ms: Math.round(performance.now() - began), rows: told.rows, laps: told.laps.length, from_ms: steps })
  }
  console.log(
    JSON.stringify(
      {
        machine: { cpu: cpus()[0].model.trim(), cores: cpus().length, node: process.version },
        date: new Date().toISOString().slice(0, 10),
        log: made,
        runs: seen,
        server: { before_MB, most_MB, more_MB: most_MB - before_MB },
      },
      null,
      1,
    ),
  )
} finally {
  clearInterval(watch)
  await stop(server)
}
