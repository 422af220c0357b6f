import { readFileSync } from 'node:fs'
import { defineConfig } from '@playwright/test'
import { addressOf, databaseOf, onPostgres, portOf, receiverPortOf, type ServerName } from './ports.ts'

const chromiumArguments = JSON.parse(readFileSync(new URL('chromium-arguments.json', import.meta.url), 'utf8')) as string[]

/** Words of a command line, kept together. */
const quoted = (words: readonly string[]): string => words.map((word) => `'${word}'`).join(' ')
const made = ({ make }: { make: readonly string[] }): string => (make.length > 0 ? `node ${quoted(make)} && ` : '')

const server = (name: ServerName, data: string, options: string) => ({
  command: `${made(databaseOf(name))}rm -rf .cache/${data} && mkdir -p .cache && node packages/server/dist/main.mjs --port ${portOf(name)} --receiver-port ${receiverPortOf(name)} --data .cache/${data} --no-disk-warning ${quoted(databaseOf(name).options)} ${options}`,
  cwd: '..',
  url: `${addressOf(name)}/api/health`,
  reuseExistingServer: false,
  timeout: 240_000,
})

export default defineConfig({
  testDir: '.',
  // A folder is served by one process.
  testIgnore: onPostgres ? [] : ['two-processes.spec.ts'],
  // Two files at a time: each that changes the day's plan has a server of its own.
  workers: 2,
  fullyParallel: false,
  timeout: 900_000,
  // Long enough for a machine that is busy with other work; a page that answers is not waited for.
  expect: { timeout: 60_000 },
  outputDir: '../.cache/e2e-results',
  reporter: [['list'], ['json', { outputFile: '../.cache/e2e.json' }]],
  use: {
    baseURL: addressOf('demo'),
    viewport: { width: 1280, height: 800 },
    timezoneId: 'UTC',
    actionTimeout: 60_000,
    launchOptions: { executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: chromiumArguments },
  },
  webServer: [
    server('demo', 'e2e-demo', '--demo'),
    server('empty', 'e2e-empty', ''),
    server('day', 'e2e-day', '--demo'),
    server('preparation', 'e2e-preparation', '--demo'),
  ],
})
