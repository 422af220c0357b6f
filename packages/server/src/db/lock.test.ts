import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdirSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { isHeld, lockFolder, ownerOf } from './lock.ts'

const folder = (): string => mkdtempSync(join(tmpdir(), 'ochote-lock-'))

/** Another process that holds a folder until it is killed. */
const holder = async (dataDir: string) => {
  const program = `
    const Database = require('better-sqlite3')
    const { writeFileSync } = require('node:fs')
    new Database(process.argv[1] + '/server.lock').exec('begin exclusive')
    writeFileSync(process.argv[1] + '/server.json', JSON.stringify({ pid: process.pid, startedAt: '2027-05-15T06:00:00.000Z' }))
    console.log('held')
    setInterval(() => {}, 1000)`
  const child = spawn(process.execPath, ['-e', program, dataDir], { stdio: ['ignore', 'pipe', 'inherit'] })
  await once(child.stdout, 'data')
  return child
}

describe('the lock of a data folder', () => {
  it('is held by one process, is let go when that is killed, and names who holds it', async () => {
    const dataDir = folder()
    const child = await holder(dataDir)
    expect(isHeld(dataDir)).toBe(true)
    expect(() => lockFolder(dataDir)).toThrow(new RegExp(`process ${child.pid}, since 2027-05-15`))
    child.kill('SIGKILL')
    await once(child, 'exit')
    expect(isHeld(dataDir)).toBe(false)
    const lock = lockFolder(dataDir)
    lock.tell({ pid: process.pid, startedAt: '2027-05-16T06:00:00.000Z' })
    expect(ownerOf(dataDir)?.pid).toBe(process.pid)
    lock.release()
    expect(ownerOf(dataDir)).toBeNull()
  })

  it('says in words where the folder cannot be written', () => {
    const dataDir = folder()
    // A folder in the place of the lock: nothing can be opened there, whoever asks.
    mkdirSync(join(dataDir, 'server.lock'))
    expect(() => lockFolder(dataDir)).toThrow(/cannot be written: the server cannot start/)
  })
})
