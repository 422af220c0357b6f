import { cpSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pino } from 'pino'
import request from 'supertest'
import { inject } from 'vitest'
import { type App, createApp } from './app.ts'
import { type Config, defaultConfig } from './config.ts'
import { type Opened, openDatabase } from './db/open.ts'
import type { JudgeAnew } from './debrief/judge-anew.ts'
import { directJobs } from './jobs/jobs.ts'
import { createStores, type Stores } from './stores.ts'

/** A server over a fresh database, answering on no port. */
export type TestServer = {
  agent: ReturnType<typeof request.agent>
  stores: Stores
  opened: Opened
  config: Config
  judging: JudgeAnew
  application: App
  close: () => Promise<void>
}

/** Starts the application for a test; writes carry the header by which browsers name their own origin. */
export const startTestServer = async (
  change: Partial<Config> = {},
  dataDir = mkdtempSync(join(tmpdir(), 'ochote-server-')),
): Promise<TestServer> => {
  const config = { ...defaultConfig(dataDir), checkResponses: true, logLevel: 'silent', ...change }
  const opened = await openDatabase(dataDir)
  const application = createApp(opened, config, directJobs(), pino({ level: 'silent' }))
  const { app, judging } = application
  await application.begin()
  const agent = request.agent(app)
  const close = async (): Promise<void> => {
    await application.close()
    await opened.db.destroy()
  }
  agent.set('Sec-Fetch-Site', 'same-origin')
  return { agent, stores: createStores(opened), opened, config, judging, application, close }
}

/** A server with the demo loaded and its lead signed in. */
export const startDemoServer = async (change: Partial<Config> = {}): Promise<TestServer> => {
  const dataDir = mkdtempSync(join(tmpdir(), 'ochote-server-'))
  cpSync(inject('demoData'), dataDir, { recursive: true })
  const server = await startTestServer({ demo: true, ...change }, dataDir)
  await server.agent.post('/api/session/demo')
  return server
}
