// A server of a fault run: started, called, killed; and numbers that are the same for the same seed.
import { spawn } from 'node:child_process'
import { createServer } from 'node:net'
import { setTimeout as later } from 'node:timers/promises'

/** Numbers from 0 to 1, the same for the same seed (mulberry32). */
export const seeded = (seed) => {
  let state = seed >>> 0
  const random = () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  return { random, pick: (list) => list[Math.floor(random() * list.length)] }
}

const freePort = () =>
  new Promise((done) => {
    const server = createServer()
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => done(port))
    })
  })

/** A server over a folder, or a database beside it; its words, and whether it runs. */
export const startServer = async (data, { shift_ms = null, database = null } = {}) => {
  const port = await freePort()
  const before = shift_ms === null ? [] : ['--import', './scripts/moved-clock.mjs']
  const child = spawn(
    'node',
    [
      ...before,
      'packages/server/dist/main.mjs',
      '--demo',
      '--port',
      String(port),
      '--data',
      data,
      ...(database === null ? [] : ['--database', database]),
    ],
    {
      stdio: ['ignore', 'ignore', 'pipe', ...(shift_ms === null ? [] : ['ipc'])],
      env: { ...process.env, CLOCK_SHIFT_MS: String(shift_ms ?? 0) },
    },
  )
  let words = ''
  child.stderr.on('data', (piece) => {
    words += piece
  })
  const ended = new Promise((done) => child.once('exit', done))
  const address = `http://localhost:${port}`
  const answers = async () => (await fetch(`${address}/api/health`).catch(() => null))?.ok
  while (child.exitCode === null && child.signalCode === null && !(await answers())) await later(25)
  return { address, child, ended, words: () => words, runs: () => child.exitCode === null && child.signalCode === null }
}

export const signIn = async (server, address = () => server.address) => {
  const answer = await fetch(`${server.address}/api/session/demo`, { method: 'POST', headers: { 'Sec-Fetch-Site': 'same-origin' } })
  return callsWith(answer.headers.getSetCookie()[0].split(';')[0], address)
}

/** Calls of somebody who is signed in, to wherever their server is. */
const callsWith = (cookie, address) => async (method, path, body) => {
  const file = typeof body === 'string'
  const headers = {
    Cookie: cookie,
    'Sec-Fetch-Site': 'same-origin',
    ...(body === undefined ? {} : { 'Content-Type': file ? 'application/octet-stream' : 'application/json' }),
  }
  const sent = await fetch(address() + path, {
    method,
    headers,
    ...(body === undefined ? {} : { body: file ? body : JSON.stringify(body) }),
  })
  return { status: sent.status, body: await sent.json().catch(() => null) }
}

export const kill = async (server) => {
  server.child.kill('SIGKILL')
  await server.ended
}
