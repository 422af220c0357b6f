// Two processes of one server on PostgreSQL: kills one or the other in the middle of writes, restarts PostgreSQL as if the power had gone, and
// counts what was lost: node scripts/faults-postgres.mjs [--kills N] [--restarts N] [--seed N]. Prints JSON. Ends with 1 where anything was.
import { rmSync } from 'node:fs'
import { resolve } from 'node:path'
import { setTimeout as later } from 'node:timers/promises'
import { parseArgs } from 'node:util'
import { kill, seeded, signIn, startServer } from './fault-server.mjs'
import { DAY, kinds } from './fault-writes.mjs'
import { startPostgres } from './postgres.mjs'

const { values } = parseArgs({
  options: {
    kills: { type: 'string', default: '50' },
    restarts: { type: 'string', default: '20' },
    seed: { type: 'string', default: '20270515' },
  },
})
const DATA = resolve('.cache/faults-postgres')
const { random, pick } = seeded(Number(values.seed))

/** Tries something until it works: a database that starts needs a moment, and so does a process that takes over. */
const until = async (what, work, seconds = 60) => {
  for (const end = Date.now() + 1000 * seconds; ; ) {
    const done = await work().catch(() => null)
    if (done) return done
    if (Date.now() > end) throw new Error(`${what} did not happen in ${seconds} s`)
    await later(100)
  }
}

rmSync(DATA, { recursive: true, force: true })
const postgres = startPostgres()
const start = () => startServer(DATA, { database: postgres.url })
const servers = []
try {
  servers.push(await start(), await start())
  if (!servers.every((server) => server.runs())) throw new Error(servers.map((server) => server.words()).join(' '))
  let calls = await Promise.all(servers.map((server) => signIn(server)))
  const day = (await calls[0]('GET', `/api/days/${DAY}`)).body
  const runs = (await calls[0]('GET', '/api/runs')).body
  const whole = (await calls[0]('GET', `/api/students/${runs[0].studentId}/export`)).body
  const writes = kinds({ settings: day.plan.settings, log: whole.runs.find((run) => run.log).log, random })
  const names = Object.keys(writes)
  const table = Object.fromEntries(names.map((name) => [name, { tried: 0, acknowledged: 0, lost: 0 }]))
  const survived = { kills: 0, restarts: 0 }
  const episodes = [...Array(Number(values.kills)).fill('kills'), ...Array(Number(values.restarts)).fill('restarts')].sort(
    () => random() - 0.5,
  )
  for (const kind of episodes) {
    const checks = []
    const sending = Array.from({ length: 2 + Math.floor(random() * 4) }, async () => {
      const name = pick(names)
      table[name].tried++
      const check = await writes[name](pick(calls)).catch(() => null)
      if (!check) return
      table[name].acknowledged++
      checks.push([name, check])
    })
    await Promise.race([Promise.all(sending), later(random() * 1500)])
    if (kind === 'kills') {
      const k = Math.floor(random() * 2)
      await kill(servers[k])
      servers[k] = await start()
      if (!servers[k].runs()) throw new Error(`A process did not start again: ${servers[k].words()}`)
    } else {
      postgres.halt('immediate')
      postgres.start()
    }
    await Promise.all(sending)
    let last = ''
    calls = await until('An answer of both', async () => {
      // A process that lost the receivers to the other one ends, to be started again by whoever watches over it.
      for (const k of [0, 1]) if (!servers[k].runs()) servers[k] = await start()
      last = servers.map((server) => (server.runs() ? 'runs' : `ended: ${server.words()}`)).join(', ')
      const both = await Promise.all(servers.map((server) => signIn(server)))
      const states = await Promise.all(both.map((call) => call('GET', `/api/days/${DAY}`)))
      last = states.map(({ status, body }) => `${status} ${body?.title ?? ''}`).join(', ')
      return states.every(({ status }) => status === 200) ? both : null
    }).catch((error) => {
      throw new Error(`${error.message}, after ${kind}: ${last}`)
    })
    for (const [name, check] of checks) {
      const there = await Promise.all(calls.map((call) => check(call).catch(() => false)))
      if (!there.every(Boolean)) table[name].lost++
    }
    survived[kind]++
  }
  const lost = Object.values(table).reduce((sum, one) => sum + one.lost, 0)
  console.log(
    JSON.stringify(
      { seed: Number(values.seed), kills: Number(values.kills), restarts: Number(values.restarts), survived, lost, writes: table },
      null,
      1,
    ),
  )
  process.exitCode = lost > 0 ? 1 : 0
} finally {
  for (const server of servers) server.child.kill('SIGKILL')
  postgres.stop()
}
