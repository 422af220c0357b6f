import { type ChildProcess, spawn } from 'node:child_process'
import { existsSync, readdirSync, rmSync } from 'node:fs'
import { expect } from '@playwright/test'
import { addressOf, portOf, receiverPortOf, type ServerName } from './ports.ts'

/** A demo server of one test alone, to be killed and started again; its data stay. */
export const ownServer = (name: ServerName) => {
  const data = `../.cache/e2e-${name}`
  const address = addressOf(name)
  let process: ChildProcess | null = null
  return {
    address,
    clear: (): void => rmSync(new URL(data, import.meta.url), { recursive: true, force: true }),
    start: async (): Promise<void> => {
      process = spawn(
        'node',
        [
          '../packages/server/dist/main.mjs',
          '--demo',
          '--port',
          String(portOf(name)),
          '--receiver-port',
          String(receiverPortOf(name)),
          '--data',
          data,
        ],
        {
          cwd: import.meta.dirname,
          stdio: 'ignore',
        },
      )
      const answers = () =>
        fetch(`${address}/api/health`).then(
          (r) => r.ok,
          () => false,
        )
      await expect.poll(answers, { timeout: 60_000, intervals: [100] }).toBe(true)
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
    runs: (): boolean => process !== null,
  }
}
