import { X509Certificate } from 'node:crypto'
import { existsSync, mkdirSync, rmSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { createServer as createSecureServer } from 'node:https'
import { hostname } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Express } from 'express'
import { type Logger, pino } from 'pino'
import { createApp } from './app.ts'
import { goBy } from './clock/clock.ts'
import { openClock } from './clock/kept-clock.ts'
import { type Config, readConfig } from './config.ts'
import { lockFolder, socketIn } from './db/lock.ts'
import { alone, openSchool } from './db/open.ts'
import { loadDemo } from './demo/load.ts'
import { markFromSocket } from './http/identity.ts'
import { onboardingServer } from './http/onboarding.ts'
import { toLog } from './http/problems.ts'
import { networkAddresses, ownTls, type TlsFiles, tlsFromFiles } from './http/tls.ts'
import { forgetUploads } from './http/upload.ts'
import { fileLanes, type Jobs, threadJobs } from './jobs/jobs.ts'
import { queuedJobs } from './jobs/queue.ts'
import { closeToOthers } from './secrets/secrets.ts'
import { storageProblemOf } from './storage/storage.ts'
import { createStores } from './stores.ts'

const here = dirname(fileURLToPath(import.meta.url))
const root = resolve(here, '../../..')

/** Key and certificate, where connections are to be secure. */
const tlsOf = ({ tls, dataDir }: Config): TlsFiles | null => {
  if (tls.kind === 'off') return null
  return tls.kind === 'auto' ? ownTls(dataDir) : tlsFromFiles(tls.cert, tls.key)
}

const fingerprintOf = (authority: string): string => new X509Certificate(authority).fingerprint256

/** Addresses at which other devices reach this server: none where it listens to itself alone. */
const addressesOf = ({ host, port, address }: Config, secure: boolean, at = port): string[] => {
  if (address && at === port) return [address]
  const hosts = /^(0\.0\.0\.0|::)$/.test(host) ? networkAddresses() : /^(127\.|localhost$|::1$)/.test(host) ? [] : [host]
  return hosts.map((name) => `${secure ? 'https' : 'http'}://${name}:${at}`)
}

/** Worker threads; where several processes may serve one school, behind a queue that they share. */
const jobsOf = async ({ database, dataDir }: Config, workerFile: string, log: Logger): Promise<Jobs> => {
  const jobs = threadJobs(workerFile)
  if (database === null) return jobs
  const onFailure = (error: unknown): void => log.error(toLog(error))
  return queuedJobs(jobs, { url: database, folder: join(dataDir, 'uploads'), lanes: fileLanes(), onFailure })
}

/** The server of the pages, and the plain one that hands out its own authority. */
const listening = (app: Express, config: Config, tls: TlsFiles | null): { server: Server; onboarding: Server | null } => {
  const failed = (port: number) => (error: NodeJS.ErrnoException) => {
    const busy = error.code === 'EADDRINUSE'
    process.stderr.write(busy ? `Port ${port} is in use. Stop the other server, or choose another with --port.\n` : `${error.message}\n`)
    process.exit(1)
  }
  const server = tls ? createSecureServer({ key: tls.key, cert: `${tls.cert}${tls.authority ?? ''}` }, app) : createServer(app)
  server.once('error', failed(config.port))
  const onboarding = tls?.authority ? onboardingServer(tls.authority, fingerprintOf(tls.authority), config.port) : null
  onboarding?.once('error', failed(config.port + 1))
  return { server, onboarding }
}

/** Lines for people, and where these go there is nobody to complain to: an output that is gone must not end the server. */
const say = (text: string): void => void process.stdout.write(text)
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => {})

/** The log, as lines of JSON. A disk that does not take them loses them, and nothing else. */
const openLog = ({ logLevel }: Config): Logger => {
  const out = pino.destination({ fd: 1, sync: true })
  out.on('error', () => {})
  return pino({ level: logLevel }, out)
}

/**
 * What nobody was waiting for is logged, and the server goes on: each promise has somebody who waits for it, and this is for the one
 * that was forgotten. After an exception in the middle of something nobody knows what holds: then it stops, to be started again.
 */
const catchForgotten = (log: Logger, stop: (code: number) => void): void => {
  process.on('unhandledRejection', (error) => log.error(toLog(error), 'unhandled rejection'))
  process.on('uncaughtException', (error) => {
    log.fatal(toLog(error), 'uncaught exception')
    if (storageProblemOf(error) === null) stop(1)
  })
}

/** How long requests that are under way may take to end when the server is stopped (ms). */
const FAREWELL_MS = 10_000

/** Lets requests that are under way come to their end, then closes what is left. */
const closed = async (server: Server): Promise<void> => {
  const done = new Promise<void>((resolve) => server.close(() => resolve()))
  server.closeIdleConnections()
  const late = setTimeout(() => server.closeAllConnections(), FAREWELL_MS)
  await done
  clearTimeout(late)
}

const readiness = (config: Config, secure: boolean, addresses: readonly string[], needsCode: boolean): string =>
  [
    '',
    `  Ochote is ready: ${secure ? 'https' : 'http'}://localhost:${config.port}`,
    ...(addresses.length > 0 ? [`  For phones and tablets: ${addresses.join(' ')}`] : []),
    ...(needsCode ? [`  To make the first account, type this code there: ${config.setUpCode}`] : []),
    `  Data: ${config.dataDir}`,
    '  Stop it with Ctrl+C. Everything that was entered is kept.',
    '',
    '',
  ].join('\n')

/** Answers the command line over a socket in the data folder. A path that is too long for one leaves the server without it. */
const commandSocket = (app: Express, dataDir: string): Server => {
  rmSync(socketIn(dataDir), { force: true })
  const server = createServer((req, res) => {
    markFromSocket(req)
    app(req, res)
  })
  server.once('error', () => {})
  server.listen(socketIn(dataDir))
  return server
}

/** The data folder, locked for this process and closed to others. */
const openFolder = (dataDir: string, shared: boolean) => {
  process.umask(0o077)
  mkdirSync(dataDir, { recursive: true })
  // Processes that share a database share the folder of its secrets and recordings too.
  const lock = shared ? { tell: () => {}, release: () => {} } : lockFolder(dataDir)
  closeToOthers(dataDir)
  return lock
}

/** Starts the server and stops it cleanly on a signal. */
const main = async (): Promise<void> => {
  const config = readConfig(process.argv.slice(2), root)
  const log = openLog(config)
  const workerFile = join(here, 'jobs/worker.mjs')
  if (!existsSync(workerFile)) throw new Error(`The server is not built (${workerFile} is missing). Run bin/demo, bin/start or bin/test.`)
  const lock = openFolder(config.dataDir, config.database !== null)
  const opened = await openSchool(config.dataDir, config.database, (line) => say(`${line}\n`))
  if (opened.backup) say(`A backup was made before the migration: ${opened.backup}\n`)
  const { clock, close: closeClock } = await openClock(opened.db, (error) => log.error(toLog(error)), {
    name: config.database === null ? undefined : hostname(),
    corrects: () => application.live.isOwner(),
  })
  goBy(clock)
  await forgetUploads(config)
  const jobs = await jobsOf(config, workerFile, log)
  const stores = createStores(opened)
  if (config.demo) await alone(opened, () => loadDemo(stores, jobs, join(root, 'demo'), (line) => say(`${line}\n`)))
  const tls = tlsOf(config)
  const addresses = addressesOf(config, tls !== null)
  const network = {
    addresses,
    onboarding: tls?.authority ? addressesOf(config, false, config.port + 1) : [],
    fingerprint: tls?.authority ? fingerprintOf(tls.authority) : null,
  }
  const application = createApp(opened, config, jobs, log, network)
  const onPortsFailed = (error: unknown): void => {
    const busy = (error as NodeJS.ErrnoException).code === 'EADDRINUSE'
    const words = error instanceof Error ? error.message : String(error)
    process.stderr.write(
      busy
        ? `A port for receivers (${config.receiverPort} and up) is in use: receivers cannot send. Choose others with --receiver-port.\n`
        : `${words}\n`,
    )
  }
  const { server, onboarding } = listening(application.app, config, tls)
  const needsCode = config.setUpCode !== null && (await stores.accounts.count()) === 0
  const local = commandSocket(application.app, config.dataDir)
  onboarding?.listen(config.port + 1, config.host)
  let stopping = false
  const stop = (code: number): void => {
    if (stopping) return
    stopping = true
    const end = async (): Promise<void> => {
      const servers = [server, onboarding, local].flatMap((one) => (one ? [closed(one)] : []))
      application.live.stream.close()
      await Promise.all(servers)
      await application.close()
      await closeClock()
      await Promise.all([opened.db.destroy(), jobs.close()])
      lock.release()
    }
    end().then(
      () => process.exit(code),
      () => process.exit(1),
    )
  }
  catchForgotten(log, stop)
  await application.begin({
    onPortsFailed,
    // What earlier rules found is judged anew once, behind everything that people wait for.
    onOwned: () => void application.judging.all().catch((error: unknown) => log.error(toLog(error))),
    // Another process has the receivers now; whoever watches over this one starts it again, and it follows that one.
    onDisowned: () => {
      log.fatal('the receivers belong to another process now')
      stop(1)
    },
  })
  server.listen(config.port, config.host, () => {
    lock.tell({ pid: process.pid, startedAt: config.startedAt })
    say(readiness(config, tls !== null, addresses, needsCode))
  })
  process.once('SIGINT', () => stop(0))
  process.once('SIGTERM', () => stop(0))
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
})
