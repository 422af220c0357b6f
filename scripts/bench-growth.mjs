// How the server grows on PostgreSQL: answers and touches by 1, 2 and 4 processes; the cars of 1, 10 and 100 venues (15 each, 25 Hz) into one
// process, with a screen at it and one at another. Everything runs on this machine: callers, senders, database and processes share it, so
// work done per second of one core is told beside what was reached. Prints JSON. Needs a build (node scripts/build.mjs).
// node scripts/bench-growth.mjs [--seconds N] [--processes 1,2,4] [--venues 1,10,100]
import { randomUUID } from 'node:crypto'
import { readFileSync, rmSync } from 'node:fs'
import { connect } from 'node:net'
import { cpus } from 'node:os'
import { setTimeout as wait } from 'node:timers/promises'
import { parseArgs } from 'node:util'
import pg from 'pg'
import { demoPlan, percentiles, residentMB } from './bench-tools.mjs'
import { bundle } from './bundle.mjs'
import { signIn, startServer } from './fault-server.mjs'
import { startPostgres } from './postgres.mjs'

const { values } = parseArgs({
  options: {
    seconds: { type: 'string', default: '20' },
    processes: { type: 'string', default: '1,2,4' },
    venues: { type: 'string', default: '1,10,100' },
  },
})
const SECONDS = Number(values.seconds)
const counts = (text) => text.split(',').filter(Boolean).map(Number)
const DATA = '.cache/bench-growth'
const DAY = 'day-2027-05-15'
const [CARS, RATE_HZ, CALLERS] = [15, 25, 32]

await bundle('packages/core/src/index.ts', 'core', { alias: { '@ochote/core': './packages/core/src/index.ts' } })
const core = await import('../.cache/bench/core.mjs')
rmSync(DATA, { recursive: true, force: true })
const postgres = startPostgres()
process.on('exit', () => postgres.stop())

/** Seconds of processor time that a process has taken (its threads too). */
const cpu_s = (pid) => {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1].split(' ')
  return (Number(fields[11]) + Number(fields[12])) / 100
}

const sql = async (work) => {
  const client = new pg.Client({ connectionString: postgres.url })
  await client.connect()
  await client.query("select set_config('ochote.school', 'school', false)")
  return work((text, ...bound) => client.query(text, bound).then(({ rows }) => rows)).finally(() => client.end())
}

/** Transactions and rows written since the database was made. */
const written = () =>
  sql(async (query) => {
    await query('select pg_stat_force_next_flush()')
    const [row] = await query(
      'select xact_commit, tup_inserted + tup_updated as rows from pg_stat_database where datname = current_database()',
    )
    return { commits: Number(row.xact_commit), rows: Number(row.rows) }
  })

const ended = async (servers) => {
  for (const server of servers) server.child.kill()
  await Promise.all(servers.map((server) => server.ended))
}
const started = async (count) => {
  const servers = []
  for (let k = 0; k < count; k++) servers.push(await startServer(DATA, { database: postgres.url }))
  return servers
}

/** Readers and tablets that call as fast as they are answered, spread over processes. */
const answers = async (count) => {
  const servers = await started(count)
  const callers = await Promise.all(servers.map((server) => signIn(server)))
  const call = async (k, path, body) => {
    const answer = await callers[k % count](body ? 'POST' : 'GET', path, body)
    if (answer.status !== 200) throw new Error(`${path}: ${answer.status}`)
    return answer.body
  }
  const runs = await call(0, '/api/runs')
  const open = {
    id: randomUUID(),
    dayId: DAY,
    slotId: null,
    studentId: 'odalys-merrow',
    carId: 'school-1',
    settings: runs[0].settings,
    startedAt: new Date().toISOString(),
  }
  await call(0, '/api/runs', open)
  const logged = runs.filter((run) => run.hasLog)
  const times = { read: [], touch: [] }
  const timed = async (name, work) => {
    const began = performance.now()
    await work()
    times[name].push(performance.now() - began)
  }
  const before = servers.map(({ child }) => cpu_s(child.pid))
  const until = Date.now() + 1000 * SECONDS
  const reader = async (k) => {
    for (let n = 0; Date.now() < until; n++) {
      const run = logged[(k + n) % logged.length]
      const paths = ['/api/students', `/api/students/${run.studentId}/record`, `/api/runs/${run.id}/debrief`, '/api/runs', '/api/days']
      await timed('read', () => call(k, paths[n % paths.length]))
    }
  }
  const tablet = async (k) => {
    while (Date.now() < until) {
      const event = {
        id: randomUUID(),
        runId: open.id,
        at: new Date().toISOString(),
        kind: 'observation',
        cornerId: 'T1',
        code: 'coast',
        lap: 1,
      }
      await timed('touch', () => call(k, '/api/events', { events: [event] }))
      await wait(20)
    }
  }
  await Promise.all([...Array(CALLERS).keys()].map((k) => (k % 4 === 3 ? tablet(k) : reader(k))))
  const used_s = servers.map(({ child }, k) => cpu_s(child.pid) - before[k])
  await call(0, `/api/runs/${open.id}/end`, {})
  await ended(servers)
  const all = times.read.length + times.touch.length
  return {
    processes: count,
    answers_per_s: Math.round(all / SECONDS),
    answers_per_core_second: Math.round(all / used_s.reduce((sum, s) => sum + s, 0)),
    processor_share: Math.round((100 * used_s.reduce((sum, s) => sum + s, 0)) / SECONDS / cpus().length),
    read_ms: percentiles(times.read),
    touch_ms: percentiles(times.touch),
  }
}

/** Makes venues: a day each, fifteen cars with a run each. */
const makeVenues = (count) =>
  sql(async (query) => {
    await query("delete from runs where id like 'growth-%'")
    await query("delete from days where id like 'growth-%'")
    const [day] = await query('select * from days where id = $1', DAY)
    const plan = JSON.parse(day.plan)
    for (let v = 0; v < count; v++) {
      const cars = Array.from({ length: CARS }, (_, k) => ({ ...plan.cars[0], id: `growth-${v}-${k}`, number: `${v}-${k}` }))
      const own = { ...plan, title: `Venue ${v}`, cars, slots: [], board: null }
      await query('insert into days (id, date, version, plan) values ($1, $2, 1, $3)', `growth-${v}`, day.date, JSON.stringify(own))
      for (const [k, car] of cars.entries())
        await query(
          `insert into runs (id, day_id, student_id, settings, started_at, car_id, sent_in, practice, log_due)
           values ($1, $2, $3, $4, $5, $6, false, false, false)`,
          // New ones each time: of an old one there would be a recording.
          `growth-${count}-${v}-${k}`,
          `growth-${v}`,
          plan.studentIds[k % plan.studentIds.length],
          JSON.stringify(plan.settings),
          new Date().toISOString(),
          car.id,
        )
    }
  })

const { log } = core.simulateDrive(demoPlan(core), { laps: 4, seed: 3, rate_hz: RATE_HZ, noise_m: 0.1 })

/** Waits until something listens at a port; how long that took (s). */
const listening = async (port) => {
  const began = performance.now()
  const tried = () =>
    new Promise((done) => {
      const socket = connect(port, '127.0.0.1', () => {
        socket.destroy()
        done(true)
      })
      socket.on('error', () => done(false))
    })
  while (!(await tried())) await wait(100)
  return Math.round((performance.now() - began) / 100) / 10
}

/** Sends what cars drive, each from another place of one log, by the clock. */
const sendAll = (cars, port) => {
  const sockets = Array.from({ length: 16 }, (_, k) => connect(port + k, '127.0.0.1'))
  const start_ms = Date.now()
  let sent = 0
  const timer = setInterval(() => {
    const due = Math.floor(((Date.now() - start_ms) / 1000) * RATE_HZ)
    for (; sent < due; sent++) {
      const texts = Array(16).fill('')
      for (const [k, car] of cars.entries()) {
        const i = (sent + 37 * k) % log.time_s.length
        const fix = {
          time_s: start_ms / 1000 + sent / RATE_HZ,
          lat_deg: log.lat_deg[i],
          lon_deg: log.lon_deg[i],
          speed_mps: log.speed_mps[i],
        }
        texts[k % 16] += `${core.writeJsonLine({ ...fix, car })}\n`
      }
      for (const [k, text] of texts.entries()) if (text) sockets[k].write(text)
    }
  }, 5)
  return {
    sent: () => sent * cars.length,
    stop: () => {
      clearInterval(timer)
      for (const socket of sockets) socket.destroy()
    },
  }
}

/**
 * Ages of the positions of one day as they reach a screen at a server (ms), from when they were driven. When a car's clock began is not
 * told: its quickest position is taken to have waited nowhere before the server noted it.
 */
const screenAt = async (server, dayId) => {
  const entered = await fetch(`${server.address}/api/session/demo`, { method: 'POST', headers: { 'Sec-Fetch-Site': 'same-origin' } })
  const stop = new AbortController()
  const answer = await fetch(`${server.address}/api/days/${dayId}/live`, {
    headers: { Cookie: entered.headers.getSetCookie()[0].split(';')[0] },
    signal: stop.signal,
  })
  const seen = []
  const read = async () => {
    let text = ''
    for await (const piece of answer.body.pipeThrough(new TextDecoderStream())) {
      text += piece
      const parts = text.split('\n\n')
      text = parts.pop() ?? ''
      const now = Date.now()
      for (const part of parts) {
        const [, data] = /^event: frame\ndata: (.*)$/m.exec(part) ?? []
        if (data) for (const car of JSON.parse(data).cars) seen.push({ ...car, now })
      }
    }
  }
  void read().catch(() => {})
  const ages = () => {
    const least = new Map()
    const lateBy = ({ carNumber, receivedAt, time_s }) => receivedAt - 1000 * time_s - (least.get(carNumber) ?? 0)
    for (const car of seen) least.set(car.carNumber, Math.min(least.get(car.carNumber) ?? Infinity, car.receivedAt - 1000 * car.time_s))
    return seen.map((car) => car.now - car.receivedAt + lateBy(car))
  }
  return { seen, ages, stop: () => stop.abort() }
}

const venues = async (count) => {
  await makeVenues(count)
  const [owner, other] = [await startServer(DATA, { database: postgres.url }), await startServer(DATA, { database: postgres.url })]
  const call = await signIn(owner)
  const receivers = async () => (await call('GET', '/api/receivers')).body
  const [{ port }] = await receivers()
  const cars = Array.from({ length: count * CARS }, (_, n) => `${Math.floor(n / CARS)}-${n % CARS}`)
  const ready_s = await listening(port + 15)
  const screens = [await screenAt(owner, 'growth-0'), await screenAt(other, 'growth-0')]
  const sending = sendAll(cars, port)
  // Cars find their laps, and clocks are learnt.
  await wait(5000)
  for (const screen of screens) screen.seen.length = 0
  const received = async () => (await receivers()).reduce((sum, r) => sum + r.fixes, 0)
  const [sentBefore, receivedBefore, writtenBefore] = [sending.sent(), await received(), await written()]
  const cpuBefore = [owner, other].map(({ child }) => cpu_s(child.pid))
  const began = Date.now()
  await wait(1000 * SECONDS)
  const took_s = (Date.now() - began) / 1000
  const [sent, taken, writes] = [sending.sent() - sentBefore, (await received()) - receivedBefore, await written()]
  const used = [owner, other].map(({ child }, k) => cpu_s(child.pid) - cpuBefore[k])
  sending.stop()
  for (const screen of screens) screen.stop()
  const memory = residentMB(owner.child.pid)
  await ended([owner, other])
  return {
    venues: count,
    cars: cars.length,
    ready_s,
    sent_per_s: Math.round(sent / took_s),
    taken_per_s: Math.round(taken / took_s),
    owner_cores: Math.round((100 * used[0]) / took_s) / 100,
    taken_per_core_second: Math.round(taken / used[0]),
    other_cores: Math.round((100 * used[1]) / took_s) / 100,
    commits_per_s: Math.round((writes.commits - writtenBefore.commits) / took_s),
    rows_written_per_s: Math.round((writes.rows - writtenBefore.rows) / took_s),
    screen_at_owner_ms: percentiles(screens[0].ages()),
    screen_at_other_ms: percentiles(screens[1].ages()),
    owner_MB: memory,
  }
}

const result = {
  machine: `${cpus()[0].model}, ${cpus().length} cores, Node.js ${process.version}`,
  seconds: SECONDS,
  answers: [],
  venues: [],
}
// The demo is loaded before anything is timed.
await ended(await started(1))
for (const count of counts(values.processes)) result.answers.push(await answers(count))
for (const count of counts(values.venues)) result.venues.push(await venues(count))
console.log(JSON.stringify(result, null, 1))
process.exit(0)
