// Kills a server in the middle of writes of every kind, fills its disk, damages its database, sets its clock, and counts what was lost:
// node scripts/faults.mjs [--kills N] [--full N] [--damaged N] [--jumps N] [--seed N] [--table]. Prints JSON. Ends with 1 where anything was lost.
import { execFileSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { copyFileSync, existsSync, mkdirSync, openSync, readFileSync, rmSync, statSync, writeFileSync, writeSync } from 'node:fs'
import { resolve } from 'node:path'
import { setTimeout as later } from 'node:timers/promises'
import { parseArgs } from 'node:util'
import { kill, seeded, signIn, startServer } from './fault-server.mjs'
import { DAY, kinds, now } from './fault-writes.mjs'

const { values } = parseArgs({
  options: {
    kills: { type: 'string', default: '300' },
    full: { type: 'string', default: '50' },
    damaged: { type: 'string', default: '20' },
    jumps: { type: 'string', default: '20' },
    seed: { type: 'string', default: '20270515' },
    table: { type: 'boolean', default: false },
  },
})
const DATA = resolve('.cache/faults')

const { random, pick } = seeded(Number(values.seed))

const counted = (names) => Object.fromEntries(names.map((name) => [name, { tried: 0, acknowledged: 0, lost: 0 }]))

/** Kills between, before and after answers; every acknowledged write has to be there after the restart. */
const killRun = async (kills) => {
  rmSync(DATA, { recursive: true, force: true })
  let server = await startServer(DATA)
  let call = await signIn(server)
  const day = (await call('GET', `/api/days/${DAY}`)).body
  const runs = (await call('GET', '/api/runs')).body
  const whole = (await call('GET', `/api/students/${runs[0].studentId}/export`)).body
  const writes = kinds({ settings: day.plan.settings, log: whole.runs.find((run) => run.log).log, random })
  const names = Object.keys(writes)
  const table = counted(names)
  let survived = 0
  for (let k = 0; k < kills; k++) {
    const chosen = Array.from({ length: 1 + Math.floor(random() * 4) }, () => pick(names))
    const checks = []
    const sending = chosen.map(async (name) => {
      table[name].tried++
      const check = await writes[name](call).catch(() => null)
      if (!check) return
      table[name].acknowledged++
      checks.push([name, check])
    })
    await Promise.race([Promise.all(sending), later(random() * 2500)])
    await kill(server)
    await Promise.all(sending)
    server = await startServer(DATA)
    if (!server.runs()) throw new Error(`The server did not start again after kill ${k + 1}: ${server.words()}`)
    survived++
    call = await signIn(server)
    for (const [name, check] of checks) if (!(await check(call).catch(() => false))) table[name].lost++
  }
  await kill(server)
  return { tried: kills, survived, writes: table, lost: Object.values(table).reduce((sum, one) => sum + one.lost, 0) }
}

/** A small disk of its own that can be filled; null where this user may not make one. */
const smallDisk = (folder) => {
  mkdirSync(folder, { recursive: true })
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=120m', 'tmpfs', folder], { stdio: 'ignore' })
  } catch {
    return null
  }
  const filler = `${folder}/filler`
  return {
    fill: () => {
      const file = openSync(filler, 'w')
      const piece = Buffer.alloc(1 << 16)
      try {
        for (;;) writeSync(file, piece)
      } catch {
        // Full now.
      }
    },
    free: () => rmSync(filler, { force: true }),
    remove: () => execFileSync('umount', ['-l', folder], { stdio: 'ignore' }),
  }
}

/** Fills the disk under a running server: it lives, says so, keeps what it acknowledged, and goes on. */
const fullRun = async (episodes) => {
  const folder = resolve('.cache/faults-disk')
  const disk = smallDisk(folder)
  if (!disk) return { tried: 0, survived: 0, lost: 0, skipped: 'this user may not make a small disk' }
  try {
    // The school of the kills, so that no other has to be made.
    for (const name of ['ochote.sqlite', 'ochote.sqlite-wal', 'secret.key', '.demo'])
      if (existsSync(`${DATA}/${name}`)) copyFileSync(`${DATA}/${name}`, `${folder}/${name}`)
    const server = await startServer(folder)
    const call = await signIn(server)
    const day = (await call('GET', `/api/days/${DAY}`)).body
    const writes = kinds({ settings: day.plan.settings, log: '', random })
    const names = ['touch', 'entry of the day', 'student', 'car', 'question', 'picture']
    let [survived, lost, refused] = [0, 0, 0]
    for (let k = 0; k < episodes; k++) {
      const checks = []
      const send = async () => {
        const check = await writes[pick(names)](call).catch(() => null)
        if (check) checks.push(check)
        return check !== null
      }
      for (let j = 0; j < 3; j++) await send()
      disk.fill()
      for (let j = 0; j < 40; j++) if (!(await send())) refused++
      const told = (await call('GET', '/api/state')).body
      disk.free()
      const deadline = Date.now() + 60_000
      while (!(await send()) && Date.now() < deadline) await later(100)
      let whole = server.runs() && (told?.storage.problem === 'disk-full' || refused === 0)
      for (const check of checks)
        if (!(await check(call).catch(() => false))) {
          lost++
          whole = false
        }
      if (whole) survived++
    }
    const lived = server.runs()
    await kill(server)
    return { tried: episodes, survived: lived ? survived : 0, refused, lost }
  } finally {
    disk.remove()
  }
}

/** Damages a copy of a database: the server refuses it in words, or nothing of it was in use. */
const damagedRun = async (files) => {
  const good = resolve('.cache/faults/ochote.sqlite')
  if (!existsSync(good)) return { tried: 0, survived: 0, lost: 0 }
  const folder = resolve('.cache/faults-damaged')
  let [refused, unharmed, lost] = [0, 0, 0]
  for (let k = 0; k < files; k++) {
    rmSync(folder, { recursive: true, force: true })
    mkdirSync(folder, { recursive: true })
    copyFileSync(good, `${folder}/ochote.sqlite`)
    if (existsSync(`${good}-wal`)) copyFileSync(`${good}-wal`, `${folder}/ochote.sqlite-wal`)
    writeFileSync(`${folder}/.demo`, '')
    const bytes = readFileSync(`${folder}/ochote.sqlite`)
    const from = 100 + Math.floor(random() * (statSync(good).size - 5000))
    bytes.fill(Math.floor(random() * 256), from, from + 500 + Math.floor(random() * 4000))
    writeFileSync(`${folder}/ochote.sqlite`, bytes)
    rmSync(`${folder}/ochote.sqlite-wal`, { force: true })
    const server = await startServer(folder)
    if (server.runs()) {
      unharmed++
      await kill(server)
    } else if (/damaged|not a database/.test(server.words())) refused++
    else lost++
  }
  return { tried: files, survived: refused + unharmed, refused, unharmed, lost }
}

/** How far a time of the server may be from the true one (ms): what devices may differ by, and the time of an answer. */
const RIGHT_MS = 8000

/**
 * Sets the clock of a machine under its server, by days forth and back, every other time with a restart in between. Who is signed in stays
 * so; what a device says and what the server says itself bear the right time, at the latest once a device was heard.
 */
const clockRun = async (jumps) => {
  const folder = resolve('.cache/faults-clock')
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  for (const name of ['ochote.sqlite', 'ochote.sqlite-wal', 'secret.key', '.demo'])
    if (existsSync(`${DATA}/${name}`)) copyFileSync(`${DATA}/${name}`, `${folder}/${name}`)
  let shift_ms = 0
  let server = await startServer(folder, { shift_ms })
  // The same sign-in all along, also after a restart on another port.
  const call = await signIn(server, () => server.address)
  const { plan } = (await call('GET', `/api/days/${DAY}`)).body
  const open = () => ({
    id: randomUUID(),
    dayId: DAY,
    slotId: null,
    studentId: 'imke-valderan',
    settings: plan.settings,
    startedAt: now(),
  })
  const isNow = (time) => Math.abs(Date.parse(time) - Date.now()) < RIGHT_MS
  let [survived, lost] = [0, 0]
  const wrong = []
  for (let k = 0; k < jumps; k++) {
    const days = (random() < 0.5 ? -1 : 1) * (1 + random() * 400)
    shift_ms = k % 5 === 4 ? 0 : Math.round(days * 86_400_000)
    if (k % 2 === 0) {
      server.child.send(shift_ms)
      await new Promise((done) => server.child.once('message', done))
    } else {
      await kill(server)
      server = await startServer(folder, { shift_ms })
    }
    const run = open()
    const signedIn = (await call('POST', '/api/runs', run)).status === 200
    const touches = []
    for (let j = 0; j < 4; j++) {
      const event = { id: randomUUID(), runId: run.id, at: now(), kind: 'observation', cornerId: 'T1', code: 'coast', lap: 1 }
      const { body } = await call('POST', '/api/events', { events: [event], deviceNow: now() })
      if (body?.stored?.includes(event.id)) touches.push(event)
    }
    await call('POST', `/api/runs/${run.id}/end`)
    const kept = (await call('GET', `/api/runs/${run.id}/events`)).body ?? []
    const found = touches.map(({ id }) => kept.find((e) => e.id === id))
    lost += found.filter((e) => !e).length
    const { endedAt } = (await call('GET', `/api/runs/${run.id}`)).body ?? {}
    const right = found.every((e) => e && isNow(e.at)) && isNow(endedAt)
    if (signedIn && touches.length === 4 && right) survived++
    else
      wrong.push({
        jump: k + 1,
        days: Math.round(shift_ms / 86_400_000),
        signedIn,
        touches: touches.length,
        at: found[0]?.at,
        endedAt,
        true: now(),
      })
  }
  await kill(server)
  return { tried: jumps, survived, lost, ...(wrong.length > 0 ? { wrong } : {}) }
}

const result = {
  seed: Number(values.seed),
  kills: await killRun(Number(values.kills)),
  full: await fullRun(Number(values.full)),
  damaged: await damagedRun(Number(values.damaged)),
  jumps: await clockRun(Number(values.jumps)),
}
const faults = ['kills', 'full', 'damaged', 'jumps']
if (values.table) {
  console.log('| faults | tried | survived | lost |\n| --- | ---: | ---: | ---: |')
  for (const name of faults) console.log(`| ${name} | ${result[name].tried} | ${result[name].survived} | ${result[name].lost} |`)
  console.log('\n| write | tried | acknowledged | lost |\n| --- | ---: | ---: | ---: |')
  for (const [name, one] of Object.entries(result.kills.writes))
    console.log(`| ${name} | ${one.tried} | ${one.acknowledged} | ${one.lost} |`)
} else console.log(JSON.stringify(result, null, 1))
const lost = faults.reduce((sum, name) => sum + result[name].lost, 0)
const fell = faults.some((name) => result[name].survived < result[name].tried)
process.exit(lost > 0 || fell ? 1 : 0)
