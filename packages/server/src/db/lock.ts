import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { storageProblemOf } from '../storage/storage.ts'

/** Who holds a data folder: the process and when it began. */
export type Owner = { pid: number; startedAt: string }

/** Where the command line reaches the server of a folder: a socket that nobody else may open. */
export const socketIn = (dataDir: string): string => join(dataDir, 'server.sock')

const ownerFile = (dataDir: string): string => join(dataDir, 'server.json')

/** Who wrote last that they hold a folder; null where nobody did. They may be gone by now. */
export const ownerOf = (dataDir: string): Owner | null => {
  try {
    return JSON.parse(readFileSync(ownerFile(dataDir), 'utf8')) as Owner
  } catch {
    return null
  }
}

const inUse = (dataDir: string): Error => {
  const owner = ownerOf(dataDir)
  const who = owner ? ` (process ${owner.pid}, since ${owner.startedAt})` : ''
  return new Error(
    `Another server works with ${dataDir}${who}. Two at once would harm the data. Use that one, stop it, or choose another folder with --data.`,
  )
}

const notWritable = (dataDir: string, error: unknown): Error => {
  const problem = storageProblemOf(error)
  if (problem === null) return error instanceof Error ? error : new Error(String(error))
  const what = problem === 'disk-full' ? 'The disk is full' : `${dataDir} cannot be written`
  return new Error(
    `${what}: the server cannot start. Make room there, or give its user the right to write, then start again. Nothing was changed.`,
  )
}

/** @throws Error with a sentence where the folder cannot be written */
const openLock = (dataDir: string): Database.Database => {
  try {
    return new Database(join(dataDir, 'server.lock'), { timeout: 0 })
  } catch (error) {
    throw notWritable(dataDir, error)
  }
}

/**
 * Holds a data folder for one process. The operating system holds the lock and lets it go when the process ends, however it ends:
 * one that was killed leaves none behind. @throws Error with a sentence where another process holds it
 */
export const lockFolder = (dataDir: string) => {
  const lock = openLock(dataDir)
  try {
    lock.exec('begin exclusive')
  } catch (error) {
    lock.close()
    throw (error as { code?: string }).code === 'SQLITE_BUSY' ? inUse(dataDir) : notWritable(dataDir, error)
  }
  return {
    /** Says who holds the folder. */
    tell: (owner: Owner): void => writeFileSync(ownerFile(dataDir), JSON.stringify(owner), { mode: 0o600 }),
    release: (): void => {
      rmSync(ownerFile(dataDir), { force: true })
      lock.close()
    },
  }
}

/** True while another process holds a folder. */
export const isHeld = (dataDir: string): boolean => {
  if (!existsSync(join(dataDir, 'server.lock'))) return false
  try {
    lockFolder(dataDir).release()
    return false
  } catch {
    return true
  }
}
