// Fills a school with a season: a thousand students, two hundred days, five thousand runs with logs, made by copying what the demo
// drove under new ids. Then asks every list, record, debrief and report of it in turn and says how long the server took; with
// --upgrade also how long a database of an early release with the same logs takes to be brought to today's, told as it goes. With --postgres
// the school is moved into PostgreSQL before it is asked. --logs N: only the newest N runs have what their logs sampled; --findings N: that
// many times the findings of the demo's drives. Prints JSON. Needs a build (node scripts/build.mjs).
// node scripts/bench-season.mjs [--runs N] [--logs N] [--findings N] [--samples N] [--postgres] [--upgrade GB]
import { spawn } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdirSync, rmSync, statSync } from 'node:fs'
import { createRequire } from 'node:module'
import { cpus } from 'node:os'
import { setTimeout as wait } from 'node:timers/promises'
import { parseArgs } from 'node:util'
import { gunzipSync, gzipSync } from 'node:zlib'
import pg from 'pg'
import { percentiles, residentMB } from './bench-tools.mjs'
import { bundle } from './bundle.mjs'
import { startPostgres } from './postgres.mjs'

const { values } = parseArgs({
  options: {
    runs: { type: 'string', default: '5000' },
    samples: { type: 'string', default: '12' },
    logs: { type: 'string' },
    findings: { type: 'string', default: '1' },
    postgres: { type: 'boolean', default: false },
    upgrade: { type: 'string' },
  },
})
const RUNS = Number(values.runs)
const LOGS = Number(values.logs ?? RUNS)
const FINDINGS = Number(values.findings)
const [STUDENTS, DAYS, SAMPLES] = [RUNS / 5, RUNS / 25, Number(values.samples)]
const PORT = 4217
const DATA = '.cache/bench-season'
const address = `http://localhost:${PORT}`
const Database = createRequire(new URL('../packages/server/package.json', import.meta.url))('better-sqlite3')

/** A server over a folder, once it answers, with what it said until then (s since its start). */
const started = async (folder, ...options) => {
  const began = performance.now()
  const said = []
  const child = spawn('node', ['packages/server/dist/main.mjs', '--port', String(PORT), '--data', folder, ...options], {
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (piece) => said.push([Math.round((performance.now() - began) / 100) / 10, String(piece).trim()]))
  while (!(await fetch(`${address}/api/health`).catch(() => null))?.ok) {
    if (child.exitCode !== null) throw new Error(said.map(([, words]) => words).join('\n'))
    await wait(50)
  }
  const stop = async () => {
    child.kill()
    await new Promise((done) => child.once('exit', done))
  }
  return { child, said, took_s: (performance.now() - began) / 1000, stop }
}

const columnsOf = (db, table) => db.pragma(`table_info("${table}")`).map((column) => column.name)

/** Adds rows by one prepared statement a table. */
const writer = (db) => {
  const prepared = new Map()
  return (table, row) => {
    const columns = Object.keys(row)
    const key = `${table} ${columns.join()}`
    if (!prepared.has(key))
      prepared.set(key, db.prepare(`insert into "${table}" (${columns.map((c) => `"${c}"`)}) values (${columns.map(() => '?')})`))
    prepared.get(key).run(...columns.map((column) => row[column]))
  }
}

/** The first lines of a packed log: it can be read, and takes little room. */
const short = (packed) => gzipSync(gunzipSync(packed).toString('utf8').split('\n').slice(0, 40).join('\n'))

/** A date of the season: days go back from the last one by steps of a day and a bit. */
const dateOf = (n) => new Date(Date.UTC(2027, 4, 14) - n * 86_400_000).toISOString().slice(0, 10)

const filled = (file) => {
  const db = new Database(file)
  db.pragma('synchronous = OFF')
  db.pragma('journal_mode = WAL')
  const add = writer(db)
  const all = (sql, ...args) => db.prepare(sql).all(...args)
  const [student] = all('select * from students')
  const [day] = all('select * from days order by date desc')
  const drives = all('select runs.* from runs join logs on logs.run_id = runs.id').map((run) => ({
    run,
    log: all('select * from logs where run_id = ?', run.id)[0],
    short: short(all('select csv_gz from logs where run_id = ?', run.id)[0].csv_gz),
    laps: all('select * from laps where run_id = ?', run.id),
    findings: all('select * from findings where run_id = ?', run.id),
    events: all('select * from run_events where run_id = ?', run.id),
  }))
  const ofDay = all('select * from day_events where day_id = ?', day.id)
  const plan = JSON.parse(day.plan)
  const studentIds = Array.from({ length: STUDENTS }, (_, k) => `season-${k}`)
  db.transaction(() => {
    for (const [k, id] of studentIds.entries()) add('students', { ...student, id, name: `Student ${k + 1}` })
  })()
  for (let d = 0; d < DAYS; d++)
    db.transaction(() => {
      const dayId = `season-day-${d}`
      // Everybody of the season comes back on five days, with others each time.
      const here = Array.from({ length: plan.studentIds.length }, (_, k) => studentIds[(d * 7 + k * 31) % STUDENTS])
      const swap = new Map(plan.studentIds.map((id, k) => [id, here[k]]))
      const swapped = (text) => [...swap].reduce((t, [from, to]) => t.replaceAll(`"${from}"`, `"${to}"`), text)
      const planOf = { ...JSON.parse(swapped(day.plan)), date: dateOf(d), board: null }
      add('days', { ...day, id: dayId, date: dateOf(d), plan: JSON.stringify(planOf) })
      for (const { seq: _, ...event } of ofDay) {
        const id = randomUUID()
        const doc = JSON.stringify({ ...JSON.parse(swapped(event.doc)), id, dayId })
        add('day_events', { ...event, id, day_id: dayId, student_id: event.student_id && swap.get(event.student_id), doc })
      }
      for (let r = 0; r < RUNS / DAYS; r++) {
        const drive = drives[(d * 25 + r) % drives.length]
        const { run, log, laps, findings, events } = drive
        const id = randomUUID()
        const at = (time) => time && `${dateOf(d)}${time.slice(10)}`
        add('runs', {
          ...run,
          id,
          day_id: dayId,
          slot_id: null,
          student_id: here[r % here.length],
          started_at: at(run.started_at),
          ended_at: at(run.ended_at),
        })
        add('logs', { ...log, run_id: id, ...((d * RUNS) / DAYS + r < LOGS ? {} : { csv_gz: drive.short }) })
        for (const lap of laps) add('laps', { ...lap, run_id: id })
        for (let n = 0; n < FINDINGS; n++) for (const { id: _, ...finding } of findings) add('findings', { ...finding, run_id: id })
        for (const { seq: _, ...event } of events) {
          const eventId = randomUUID()
          add('run_events', {
            ...event,
            id: eventId,
            run_id: id,
            doc: JSON.stringify({ ...JSON.parse(event.doc), id: eventId, runId: id }),
          })
        }
      }
    })()
  db.close()
}

/** Calls that answer as long as somebody listens, that make a file of everything, or that start work. */
const notAsked = new Set(['live', 'exportSchool'])

const asked = async () => {
  await bundle('packages/contract/src/index.ts', 'contract', { alias: { '@ochote/core': './packages/core/src/index.ts' } })
  const { api } = await import('../.cache/bench/contract.mjs')
  const headers = { 'Sec-Fetch-Site': 'same-origin' }
  const entered = await fetch(`${address}/api/session/demo`, { method: 'POST', headers })
  const cookie = entered.headers.getSetCookie()[0].split(';')[0]
  const call = (path, method = 'GET') => fetch(address + path, { method, headers: { ...headers, Cookie: cookie } })
  const json = async (path, method) => (await call(path, method)).json()
  const runs = await json('/api/runs')
  const [circuit] = await json('/api/circuits')
  const [car] = await json('/api/cars')
  const [vehicle] = await json('/api/vehicles')
  const oldRuns = await json('/api/runs?dayId=season-day-150')
  const pool = [...runs.slice(0, 40), ...(Array.isArray(oldRuns) ? oldRuns : [])].filter((run) => run.hasLog)
  const tokenOf = (answer) => /[\w-]{24,}/.exec(JSON.stringify(answer))?.[0]
  const times = {}
  const notFound = []
  for (const e of Object.values(api)) {
    if (e.method !== 'get' || notAsked.has(e.id)) continue
    const list = []
    for (let k = 0; k < SAMPLES; k++) {
      const run = pool[(k * 7) % pool.length]
      const known = {
        runId: run.id,
        dayId: run.dayId,
        studentId: run.studentId,
        circuitId: circuit.id,
        carId: car.id,
        vehicleId: vehicle.id,
        lap: '1',
      }
      if (/\/portal\//.test(e.path)) known.token = tokenOf(await json(`/api/days/${run.dayId}/links/${run.studentId}`, 'POST'))
      if (/\/sheets\//.test(e.path)) known.token = tokenOf(await json(`/api/runs/${run.id}/sheet-link`, 'POST'))
      const path = e.path.replace(/:(\w+)/g, (_, name) => known[name] ?? 'none')
      const began = performance.now()
      const answer = await call(path)
      await answer.arrayBuffer()
      list.push(performance.now() - began)
      if (answer.status >= 400 && k === 0) notFound.push(`${e.id} ${answer.status}`)
    }
    times[e.id] = percentiles(list)
  }
  const slowest = Object.entries(times).sort(([, a], [, b]) => b.most - a.most)
  return {
    calls: slowest.length,
    over200ms: slowest.filter(([, t]) => t.most > 200).map(([id]) => id),
    slowest_ms: Object.fromEntries(slowest.slice(0, 15)),
    notThere: notFound,
  }
}

const sizeMB = (file) => Math.round(statSync(file).size / 1e6)

rmSync(DATA, { recursive: true, force: true })
await (await started(DATA, '--demo')).stop()
const beganFilling = performance.now()
filled(`${DATA}/ochote.sqlite`)
const filling_s = Math.round((performance.now() - beganFilling) / 1000)

/** Moves the school into a database of its own; how long that took, and how large it is there. */
const moved = async () => {
  const postgres = startPostgres()
  process.on('exit', () => postgres.stop())
  const began = performance.now()
  const program = spawn('node', ['packages/server/dist/admin.mjs', 'move', '--from', DATA, '--to', postgres.url], {
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  const code = await new Promise((done) => program.once('exit', done))
  if (code !== 0) throw new Error('The school was not moved.')
  const moving_s = Math.round((performance.now() - began) / 1000)
  const client = new pg.Client({ connectionString: postgres.url })
  await client.connect()
  // What PostgreSQL does by itself within a minute.
  await client.query('analyze')
  const { rows } = await client.query('select pg_database_size(current_database()) as bytes, version() as version')
  await client.end()
  return { url: postgres.url, told: { moving_s, database_MB: Math.round(rows[0].bytes / 1e6), version: rows[0].version.slice(0, 16) } }
}
const there = values.postgres ? await moved() : null
const server = await started(DATA, '--demo', ...(there ? ['--database', there.url] : []))
const result = {
  machine: `${cpus()[0].model}, ${cpus().length} cores, Node.js ${process.version}`,
  students: STUDENTS,
  days: DAYS,
  runs: RUNS,
  database_MB: sizeMB(`${DATA}/ochote.sqlite`),
  filling_s,
  ...(there ? { postgres: there.told } : {}),
  start_s: Math.round(10 * server.took_s) / 10,
  answers: await asked(),
  rss_MB: residentMB(server.child.pid),
}
await server.stop()

if (values.upgrade) {
  const OLD = '.cache/bench-upgrade'
  rmSync(OLD, { recursive: true, force: true })
  mkdirSync(OLD, { recursive: true })
  await bundle('packages/server/src/db/open.ts', 'open', {
    external: ['better-sqlite3', 'knex'],
    alias: { '@ochote/core': './packages/core/src/index.ts', '@ochote/contract': './packages/contract/src/index.ts' },
  })
  const { openDatabase } = await import('../.cache/bench/open.mjs')
  await bundle('packages/server/src/db/migrations/index.ts', 'migrations')
  const { releasedMigrations } = await import('../.cache/bench/migrations.mjs')
  // The state before logs were judged by numbered rules: the oldest whose rows have the same ids as today's.
  const early = await openDatabase(OLD, releasedMigrations.slice(0, 7))
  await early.db.destroy()
  const db = new Database(`${OLD}/ochote.sqlite`)
  db.pragma('synchronous = OFF')
  db.pragma('foreign_keys = OFF')
  db.exec(`attach '${DATA}/ochote.sqlite' as season`)
  const tables = db
    .prepare("select name from season.sqlite_master where type = 'table'")
    .all()
    .map(({ name }) => name)
  const copy = [
    'accounts',
    'students',
    'days',
    'circuits',
    'vehicles',
    'runs',
    'run_events',
    'day_events',
    'logs',
    'laps',
    'findings',
  ].filter((t) => tables.includes(t))
  const rows = (table, where = '') => {
    const old = new Set(columnsOf(db, table))
    const both = db
      .pragma(`season.table_info("${table}")`)
      .map((c) => c.name)
      .filter((c) => old.has(c))
      .map((c) => `"${c}"`)
    db.exec(`insert or ignore into main."${table}" (${both}) select ${both} from season."${table}" ${where}`)
  }
  for (const table of copy) rows(table)
  // More of the same logs under further ids, until the file is as large as asked.
  const columns = columnsOf(db, 'runs')
  const [lapColumns, logColumns] = [columnsOf(db, 'laps'), columnsOf(db, 'logs')]
  const named = (list, key, value) => list.map((c) => (c === key ? value : `"${c}"`)).join()
  for (let n = 1; sizeMB(`${OLD}/ochote.sqlite`) < 1000 * Number(values.upgrade); n++) {
    const id = (key) => `${key} || '-${n}'`
    db.exec(`insert into runs select ${named(columns, 'id', id('id'))} from runs where id in (select id from season.runs)`)
    db.exec(`insert into logs select ${named(logColumns, 'run_id', id('run_id'))} from logs where run_id in (select id from season.runs)`)
    db.exec(`insert into laps select ${named(lapColumns, 'run_id', id('run_id'))} from laps where run_id in (select id from season.runs)`)
  }
  db.close()
  const upgraded = await started(OLD)
  result.upgrade = {
    database_MB: sizeMB(`${OLD}/ochote.sqlite`),
    logs: RUNS,
    took_s: Math.round(10 * upgraded.took_s) / 10,
    told: upgraded.said.filter(([, words]) => /upgrade|Upgrading|copy/i.test(words)),
  }
  await upgraded.stop()
  rmSync(OLD, { recursive: true, force: true })
}
console.log(JSON.stringify(result, null, 1))
