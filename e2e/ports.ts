import { execFileSync } from 'node:child_process'

/** Servers of the tests: each has a port for its pages and sixteen for receivers. */
const servers = [
  'demo',
  'empty',
  'day',
  'preparation',
  'stopped',
  'modes',
  'faults',
  'sizes',
  'secure',
  'onboarding',
  'units',
  'planning',
  'lap',
  'trust',
  'rights',
  'first',
  'second',
] as const
export type ServerName = (typeof servers)[number]

const RECEIVERS = 16

/** Finds a row of free ports; runs in a process of its own, because the configuration of the tests is read synchronously. */
const search = `
const net = require('node:net')
const isFree = (port) => new Promise((resolve) => {
  const server = net.createServer()
  server.once('error', () => resolve(false))
  server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)))
})
const count = Number(process.argv[1])
const find = async () => {
  for (let tries = 0; tries < 200; tries++) {
    const first = 20000 + Math.floor(Math.random() * (12000 - count))
    const all = await Promise.all(Array.from({ length: count }, (_, k) => isFree(first + k)))
    if (all.every(Boolean)) return first
  }
  throw new Error('No row of ' + count + ' free ports was found.')
}
find().then((first) => process.stdout.write(String(first)))
`

const VARIABLE = 'OCHOTE_E2E_PORT'

/** The first port of this test run; found once, and handed to the processes of the tests by the environment. */
const firstPort = (): number => {
  process.env[VARIABLE] ??= execFileSync(process.execPath, ['-e', search, String(servers.length * (RECEIVERS + 1))], { encoding: 'utf8' })
  return Number(process.env[VARIABLE])
}

/** The port of a server's pages. */
export const portOf = (name: ServerName): number => firstPort() + servers.indexOf(name)

/** The first of the ports on which a server's receivers send. */
export const receiverPortOf = (name: ServerName): number => firstPort() + servers.length + RECEIVERS * servers.indexOf(name)

/** Address of a PostgreSQL server on which the tests keep their schools; null keeps them in files. */
const postgres = process.env.OCHOTE_E2E_POSTGRES || null

/** True where schools are in PostgreSQL, which keeps its own files and backups, and lets several processes serve one school. */
export const onPostgres = postgres !== null

/** What makes a server's database anew, and the options that name it; neither where its school is in files. */
export const databaseOf = (name: ServerName): { make: readonly string[]; options: readonly string[] } => {
  if (postgres === null) return { make: [], options: [] }
  const url = new URL(postgres)
  url.pathname = `/e2e_${name}`
  return { make: ['scripts/fresh-database.mjs', postgres, `e2e_${name}`], options: ['--database', url.href] }
}

/** The address of a server's pages. */
export const addressOf = (name: ServerName): string => `http://localhost:${portOf(name)}`
