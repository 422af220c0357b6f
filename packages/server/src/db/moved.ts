import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { schoolOf } from './schools.ts'

/** Says in a data folder that its school is in PostgreSQL now; the file beside it is the school as it was before. */
const markIn = (dataDir: string): string => join(dataDir, 'moved-to')

/** Where a database is, without who signs in there. */
const placeOf = (url: string): string => {
  const { hostname, port, pathname, searchParams } = new URL(url)
  const host = searchParams.get('host') ?? hostname
  return `${pathname.slice(1)} on ${host || 'this machine'}${port ? `:${port}` : ''}, as school “${schoolOf(url)}”`
}

/** Marks a folder whose school was copied into PostgreSQL. */
export const markMoved = (dataDir: string, url: string): void => {
  writeFileSync(markIn(dataDir), `${placeOf(url)}\n`, { mode: 0o600 })
}

/** Takes the mark away from a folder into which a school was copied back. */
export const markBack = (dataDir: string): void => rmSync(markIn(dataDir), { force: true })

/** @throws Error with a sentence and a remedy for a folder whose school is elsewhere */
export const refuseMoved = (dataDir: string): void => {
  if (!existsSync(markIn(dataDir))) return
  const place = readFileSync(markIn(dataDir), 'utf8').trim()
  throw new Error(
    `The school of ${dataDir} was moved into a database: ${place}. The file here is what it was before. Nothing was changed. ` +
      `Give its address with --database (or DATABASE_URL); to come back: bin/ochote move --from URL --to ${dataDir} --again. ` +
      `To go on with the older state here, remove the file moved-to.`,
  )
}
