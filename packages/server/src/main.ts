import { existsSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { pino } from 'pino'
import { createApp } from './app.ts'
import { readConfig } from './config.ts'
import { openDatabase } from './db/open.ts'
import { loadDemo } from './demo/load.ts'
import { forgetUploads } from './http/upload.ts'
import { threadJobs } from './jobs/jobs.ts'
import { createStores } from './stores.ts'

const here = dirname(fileURLToPath(import.meta.url))
const root = resolve(here, '../../..')

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
  const { app, live, judging } = await createApp(opened, config, jobs, log)
  await live.open().catch((error: unknown) => {
    const busy = (error as NodeJS.ErrnoException).code === 'EADDRINUSE'
    const words = error instanceof Error ? error.message : String(error)
    process.stderr.write(
      busy
        ? `A port for receivers (${config.receiverPort} and up) is in use: receivers cannot send. Choose others with --receiver-port.\n`
        : `${words}\n`,
    )
  })
  const server = app.listen(config.port, config.host, (error) => {
    if (error) {
      const busy = (error as NodeJS.ErrnoException).code === 'EADDRINUSE'
      process.stderr.write(
        busy ? `Port ${config.port} is in use. Stop the other server, or choose another with --port.\n` : `${error.message}\n`,
      )
      process.exit(1)
    }
    process.stdout.write(
      `\n  Ochote is ready: http://localhost:${config.port}\n  Data: ${config.dataDir}\n  Stop it with Ctrl+C. Everything that was entered is kept.\n\n`,
    )
  })
  // What earlier rules found is judged anew once, behind everything that people wait for.
  void judging.all()
  const stop = (): void => {
    server.close()
    server.closeAllConnections()
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
