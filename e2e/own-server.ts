import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { connect } from 'node:net'
import { expect } from '@playwright/test'
import { addressOf, databaseOf, portOf, receiverPortOf, type ServerName } from './ports.ts'

/** True once something listens at a port of this machine, securely or not. */
const isThere = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1')
    socket.once('connect', () => {
      socket.destroy()
      resolve(true)
    })
    socket.once('error', () => resolve(false))
  })

/**
 * A demo server of one test alone, to be killed and started again; its data stay. `more`: other options of its command line; `of`: the
 * server whose school it has, as another process.
 */
export const ownServer = (name: ServerName, more: readonly string[] = [], of: ServerName = name) => {
  const data = `../.cache/e2e-${of}`
  const address = addressOf(name)
  let process: ChildProcess | null = null
  return {
    address,
    /** The server's data folder. */
    folder: new URL(data, import.meta.url).pathname,
    clear: (): void => {
      rmSync(new URL(data, import.meta.url), { recursive: true, force: true })
      const { make } = databaseOf(of)
      if (make.length > 0) execFileSync('node', [...make], { cwd: new URL('..', import.meta.url) })
    },
    start: async (): Promise<void> => {
      process = spawn(
        'node',
        [
          '../packages/server/dist/main.mjs',
          '--demo',
          '--port',
          String(portOf(name)),
          '--receiver-port',
          String(receiverPortOf(of)),
          '--data',
          data,
          // The machine of the tests may be nearly full: that is no news to them.
          '--no-disk-warning',
          ...databaseOf(of).options,
          ...more,
        ],
        {
          cwd: import.meta.dirname,
          stdio: 'ignore',
        },
      )
      const answers = () => isThere(portOf(name))
      await expect.poll(answers, { timeout: 240_000, intervals: [100] }).toBe(true)
    },
    kill: (): void => {
      process?.kill('SIGKILL')
      process = null
    },
    /** Names of the files in a folder of the server's data. */
    dataFiles: (folder: string): string[] => {
      const place = new URL(`${data}/${folder}`, import.meta.url)
      return existsSync(place) ? readdirSync(place) : []
    },
    /** The text of a file in the server's data. */
    dataFile: (file: string): string => readFileSync(new URL(`${data}/${file}`, import.meta.url), 'utf8'),
    /** Files of the server's data in which some bytes stand, backups aside. */
    filesWith: (text: string): string[] => {
      const root = new URL(`${data}/`, import.meta.url).pathname
      return readdirSync(root, { recursive: true, withFileTypes: true })
        .filter((entry) => entry.isFile())
        .map((entry) => `${entry.parentPath}/${entry.name}`)
        .filter((path) => !path.includes('/backups') && readFileSync(path).includes(text))
    },
    runs: (): boolean => process !== null,
  }
}
