import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { TestProject } from 'vitest/node'
import { openDatabase } from './db/open.ts'
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

/** Loads the demo once for all test files. */
export const setup = async (project: TestProject): Promise<void> => {
  dataDir = mkdtempSync(join(tmpdir(), 'ochote-demo-'))
  const opened = await openDatabase(dataDir)
  await loadDemo(createStores(opened), directJobs(), demoFolder, () => {})
  await opened.db.destroy()
  project.provide('demoData', dataDir)
}

/** Takes it away again. */
export const teardown = (): void => rmSync(dataDir, { recursive: true, force: true })
