import { cpSync, mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Run } from '@ochote/contract'
import { pino } from 'pino'
import request from 'supertest'
import { v7 as uuid } from 'uuid'
import { inject } from 'vitest'
import { type App, createApp } from './app.ts'
import { type Config, defaultConfig } from './config.ts'
import { type Opened, openSchool } from './db/open.ts'
import { DEMO, databaseOf, EMPTY, testPostgres } from './db/test-postgres.test-data.ts'
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
  template = EMPTY,
): Promise<TestServer> => {
  const database = testPostgres ? await databaseOf(dataDir, template) : null
  const config = { ...defaultConfig(dataDir), database, checkResponses: true, logLevel: 'silent', ...change }
  const opened = await openSchool(dataDir, config.database)
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
  const server = await startTestServer({ demo: true, ...change }, dataDir, DEMO)
  await server.agent.post('/api/session/demo')
  return server
}

/** Starts a run with the settings of its day. */
export const startRunAt = async (server: TestServer, run: { dayId: string; studentId: string; carId: string }): Promise<Run> => {
  const day = (await server.agent.get(`/api/days/${run.dayId}`)).body
  const body = { id: uuid(), slotId: null, ...run, settings: day.plan.settings, startedAt: new Date().toISOString() }
  return (await server.agent.post('/api/runs').send(body)).body
}

/** All that a school's database holds, as text: the bytes of its file, or every row of every table in PostgreSQL. */
export const storedText = async ({ db, file }: Opened): Promise<string> => {
  if (file !== null) {
    await db.raw('PRAGMA wal_checkpoint(TRUNCATE)')
    return readFileSync(file, 'utf8')
  }
  const { rows } = await db.raw('select table_name from information_schema.tables where table_schema = current_schema()')
  const texts = await Promise.all(
    (rows as { table_name: string }[]).map(({ table_name }) => db(table_name).select(db.raw('to_jsonb(??.*)::text as row', [table_name]))),
  )
  return texts
    .flat()
    .map(({ row }: { row: string }) => row)
    .join('\n')
}

/** References that lead nowhere; PostgreSQL allows none at any time. */
export const brokenReferences = async ({ db }: Opened): Promise<unknown[]> => (testPostgres ? [] : db.raw('PRAGMA foreign_key_check'))
