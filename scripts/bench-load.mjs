// Measures a full day's load on one server: sixty phones opening page and quiz, fifteen cars at 25 Hz, six tablets, three large logs
// sent at once, the lead editing; then two hundred reads at once. Prints JSON. node scripts/bench-load.mjs [seconds]
import { spawn } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { readFileSync, rmSync } from 'node:fs'
import { cpus } from 'node:os'
import { setTimeout as wait } from 'node:timers/promises'
import { carsOnTrack, demoPlan, percentiles, residentMB } from './bench-tools.mjs'
import { bundle, runBench, withFixtures } from './bundle.mjs'

const seconds = Number(process.argv[2] ?? '60')
const PORT = 4207
const DATA = '.cache/bench-load'
const LOG = '.cache/bench/large-log.csv'
/** Length of the large logs, at 100 Hz: some 50 MB each. */
const LOG_MINUTES = 100
const DAY = 'day-2027-05-15'
const address = `http://localhost:${PORT}`
const [CARS, RATE_HZ, PHONES, TABLETS, UPLOADS, READS] = [15, 25, 60, 6, 3, 200]

const { characters } = await runBench('log', [LOG, 'make', String(LOG_MINUTES)], { options: withFixtures })
await bundle('packages/core/src/index.ts', 'core', { alias: { '@ochote/core': './packages/core/src/index.ts' } })
const core = await import('../.cache/bench/core.mjs')
rmSync(DATA, { recursive: true, force: true })
const server = spawn('node', ['packages/server/dist/main.mjs', '--demo', '--port', String(PORT), '--data', DATA], { stdio: 'ignore' })
while (!(await fetch(`${address}/api/health`).catch(() => null))?.ok) await wait(100)

const samples = new Map()
const errors = new Map()
/** A call, timed under a name. */
const timed = async (name, path, { cookie, method = 'GET', body, file } = {}) => {
  const began = performance.now()
  const headers = {
    'Sec-Fetch-Site': 'same-origin',
    ...(cookie ? { Cookie: cookie } : {}),
    ...(body ? { 'Content-Type': 'application/json' } : file ? { 'Content-Type': 'application/octet-stream' } : {}),
  }
  const answer = await fetch(address + path, {
    method,
    headers,
    ...(body ? { body: JSON.stringify(body) } : file ? { body: file } : {}),
  }).catch(() => null)
  const text = await answer?.text()
  samples.set(name, [...(samples.get(name) ?? []), performance.now() - began])
  if (answer?.status !== 200) errors.set(`${name} ${answer?.status}`, (errors.get(`${name} ${answer?.status}`) ?? 0) + 1)
  return answer?.headers.get('content-type')?.includes('json') ? JSON.parse(text) : text
}
const entered = await fetch(`${address}/api/session/demo`, { method: 'POST', headers: { 'Sec-Fetch-Site': 'same-origin' } })
const cookie = entered.headers.getSetCookie()[0].split(';')[0]
const lead = (name, path, more = {}) => timed(name, path, { cookie, ...more })

// Sixty students, fifteen cars, six open runs.
const students = Array.from({ length: PHONES }, (_, k) => ({
  id: randomUUID(),
  name: `Student ${k + 1}`,
  level: 'steady',
  talk: 'guided',
  units: 'metric',
  profile: {},
}))
await lead('setting up', '/api/students/several', { method: 'POST', body: { students } })
const before = await lead('setting up', `/api/days/${DAY}`)
const cars = [
  ...before.plan.cars,
  ...Array.from({ length: CARS - before.plan.cars.length }, (_, k) => ({
    id: `load-${k}`,
    number: String(20 + k),
    vehicleId: 'hatchback',
    owner: 'school',
  })),
]
const plan = { ...before.plan, cars, studentIds: [...before.plan.studentIds, ...students.map((s) => s.id)] }
const day = await lead('setting up', `/api/days/${DAY}`, { method: 'PUT', body: { version: before.version, plan } })
const links = await lead('setting up', `/api/days/${DAY}/links`, { method: 'POST', body: {} })
const tokens = links.filter((link) => students.some((s) => s.id === link.studentId)).map((link) => link.token)
const runIds = []
for (let k = 0; k < TABLETS; k++) {
  const run = {
    id: randomUUID(),
    dayId: DAY,
    slotId: null,
    studentId: students[k].id,
    carId: cars[k].id,
    settings: plan.settings,
    startedAt: new Date().toISOString(),
  }
  await lead('setting up', '/api/runs', { method: 'POST', body: run })
  runIds.push(run.id)
}
const receivers = await lead('setting up', '/api/receivers')
const [circuitSummary] = await lead('setting up', '/api/circuits')
const withLog = (await lead('setting up', '/api/runs')).filter((run) => run.hasLog)
samples.delete('setting up')

const { log } = core.simulateDrive(demoPlan(core), { laps: 4, seed: 3, rate_hz: RATE_HZ, noise_m: 0.1 })
const track = carsOnTrack(core, { log, cars, port: receivers[0].port, rate_hz: RATE_HZ })

const until = Date.now() + 1000 * seconds
const tablet = async (runId) => {
  while (Date.now() < until) {
    const event = { id: randomUUID(), runId, at: new Date().toISOString(), kind: 'observation', cornerId: 'T1', code: 'coast', lap: 1 }
    await lead('touch', '/api/events', { method: 'POST', body: { events: [event], deviceNow: new Date().toISOString() } })
    await wait(1000)
  }
}
const phone = async (token, k) => {
  await wait((1000 * seconds * k) / PHONES)
  await timed('page of a student', `/s/${token}`)
  await timed('data of a student', `/api/portal/${token}`)
  const quiz = await timed('quiz', `/api/portal/${token}/quiz`)
  for (const question of quiz?.questions?.slice(0, 2) ?? [])
    await timed('answer', `/api/portal/${token}/quiz`, {
      method: 'POST',
      body: { id: randomUUID(), seed: quiz.seed, questionId: question.id, answer: { form: 'choose', choice: 0 } },
    })
}
const editor = async () => {
  let version = day.version
  while (Date.now() < until) {
    const next = await lead('edit of the day', `/api/days/${DAY}`, {
      method: 'PUT',
      body: { version, plan: { ...plan, weather: `dry ${version}` } },
    })
    version = next?.version ?? version
    await wait(2000)
  }
}
const upload = async (k) => {
  await wait(2000)
  await lead('large log', `/api/runs/${withLog[k].id}/log`, { method: 'PUT', file: readFileSync(LOG) })
}
await Promise.all([...runIds.map(tablet), ...tokens.map(phone), editor(), ...Array.from({ length: UPLOADS }, (_, k) => upload(k))])
track.stop()

// Reads at once, as when a whole school opens its pages.
const began = performance.now()
const paths = [
  `/api/circuits/${circuitSummary.id}`,
  `/api/students/${withLog[UPLOADS].studentId}/record`,
  `/api/runs/${withLog[UPLOADS].id}/debrief`,
  '/api/students',
  '/api/days',
]
await Promise.all(Array.from({ length: READS }, (_, k) => lead('read at once', paths[k % paths.length])))
const reads_ms = Math.round(performance.now() - began)
const rss_MB = residentMB(server.pid)
server.kill()
console.log(
  JSON.stringify(
    {
      machine: `${cpus()[0].model}, ${cpus().length} cores, Node.js ${process.version}`,
      seconds,
      positions: track.sent(),
      log_MB: Math.round(characters / 1e6),
      answers_ms: Object.fromEntries([...samples].map(([name, list]) => [name, percentiles(list)])),
      errors: Object.fromEntries(errors),
      reads_at_once_ms: reads_ms,
      rss_MB,
    },
    null,
    1,
  ),
)
