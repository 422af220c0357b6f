import { X509Certificate } from 'node:crypto'
import { existsSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { createServer as createSecureServer } from 'node:https'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Express } from 'express'
import { pino } from 'pino'
import { createApp } from './app.ts'
import { type Config, readConfig } from './config.ts'
import { openDatabase } from './db/open.ts'
import { loadDemo } from './demo/load.ts'
import { onboardingServer } from './http/onboarding.ts'
import { networkAddresses, ownTls, type TlsFiles, tlsFromFiles } from './http/tls.ts'
import { forgetUploads } from './http/upload.ts'
import { threadJobs } from './jobs/jobs.ts'
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

/** Starts the server and stops it cleanly on a signal. */
const main = async (): Promise<void> => {
  const config = readConfig(process.argv.slice(2), root)
  const log = pino({ level: config.logLevel })
  const opened = await openDatabase(config.dataDir)
  if (opened.backup) process.stdout.write(`A backup was made before the migration: ${opened.backup}\n`)
  const workerFile = join(here, 'jobs/worker.mjs')
  if (!existsSync(workerFile)) throw new Error(`The server is not built (${workerFile} is missing). Run bin/demo, bin/start or bin/test.`)
  await forgetUploads(config)
  const jobs = threadJobs(workerFile)
  if (config.demo) await loadDemo(createStores(opened), jobs, join(root, 'demo'), (line) => process.stdout.write(`${line}\n`))
  const tls = tlsOf(config)
  const addresses = addressesOf(config, tls !== null)
  const network = {
    addresses,
    onboarding: tls?.authority ? addressesOf(config, false, config.port + 1) : [],
    fingerprint: tls?.authority ? fingerprintOf(tls.authority) : null,
  }
  const { app, live, judging } = await createApp(opened, config, jobs, log, network)
  await live.open().catch((error: unknown) => {
    const busy = (error as NodeJS.ErrnoException).code === 'EADDRINUSE'
    const words = error instanceof Error ? error.message : String(error)
    process.stderr.write(
      busy
        ? `A port for receivers (${config.receiverPort} and up) is in use: receivers cannot send. Choose others with --receiver-port.\n`
        : `${words}\n`,
    )
  })
  const { server, onboarding } = listening(app, config, tls)
  server.listen(config.port, config.host, () => {
    const [first, ...others] = addresses
    const local = `${tls ? 'https' : 'http'}://localhost:${config.port}`
    process.stdout.write(
      `\n  Ochote is ready: ${local}\n${first ? `  For phones and tablets: ${[first, ...others].join(' ')}\n` : ''}  Data: ${config.dataDir}\n  Stop it with Ctrl+C. Everything that was entered is kept.\n\n`,
    )
  })
  onboarding?.listen(config.port + 1, config.host)
  // What earlier rules found is judged anew once, behind everything that people wait for.
  void judging.all()
  const stop = (): void => {
    for (const one of [server, onboarding]) {
      one?.close()
      one?.closeAllConnections()
    }
    void judging
      .close()
      .then(() => live.close())
      .then(() => Promise.all([opened.db.destroy(), jobs.close()]))
      .then(() => process.exit(0))
  }
  process.once('SIGINT', stop)
  process.once('SIGTERM', stop)
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
})
