import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { TestProject } from 'vitest/node'
import { openSchool } from './db/open.ts'
import { DEMO, databaseAt, dropAll, EMPTY, makeDatabase, testPostgres } from './db/test-postgres.test-data.ts'
import { loadDemo } from './demo/load.ts'
import { directJobs } from './jobs/jobs.ts'
import { createStores } from './stores.ts'

declare module 'vitest' {
  interface ProvidedContext {
    /** The data folder of a demo; every server over the demo begins with a copy of it. */
    demoData: string
  }
}

/** The folder of the demo scenario. */
export const demoFolder = new URL('../../../demo', import.meta.url).pathname

let dataDir = ''

/** Makes what databases of tests are copied from in PostgreSQL: the schema is made once. */
const makeTemplates = async (): Promise<void> => {
  await dropAll()
  await makeDatabase(EMPTY)
  await (await openSchool(dataDir, databaseAt(EMPTY))).db.destroy()
  await makeDatabase(DEMO, EMPTY)
}

/** Loads the demo once for all test files. */
export const setup = async (project: TestProject): Promise<void> => {
  dataDir = mkdtempSync(join(tmpdir(), 'ochote-demo-'))
  if (testPostgres) await makeTemplates()
  const opened = await openSchool(dataDir, testPostgres && databaseAt(DEMO))
  await loadDemo(createStores(opened), directJobs(), demoFolder, () => {})
  await opened.db.destroy()
  project.provide('demoData', dataDir)
}

/** Takes it away again. */
export const teardown = async (): Promise<void> => {
  rmSync(dataDir, { recursive: true, force: true })
  if (testPostgres) await dropAll()
}
