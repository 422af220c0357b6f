import { readFileSync } from 'node:fs'
import { defineConfig } from '@playwright/test'

const chromiumArguments = JSON.parse(readFileSync(new URL('chromium-arguments.json', import.meta.url), 'utf8')) as string[]

const server = (port: number, data: string, options: string) => ({
  command: `rm -rf .cache/${data} && mkdir -p .cache && node packages/server/dist/main.mjs --port ${port} --data .cache/${data} ${options}`,
  cwd: '..',
  url: `http://localhost:${port}/api/health`,
  reuseExistingServer: false,
  timeout: 120_000,
})

export default defineConfig({
  testDir: '.',
  // Two files at a time: each that changes the day's plan has a server of its own.
  workers: 2,
  fullyParallel: false,
  timeout: 240_000,
  expect: { timeout: 30_000 },
  outputDir: '../.cache/e2e-results',
  reporter: [['list'], ['json', { outputFile: '../.cache/e2e.json' }]],
  use: {
    baseURL: 'http://localhost:4190',
    viewport: { width: 1280, height: 800 },
    timezoneId: 'UTC',
    actionTimeout: 30_000,
    launchOptions: { executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: chromiumArguments },
  },
  webServer: [
    server(4190, 'e2e-demo', '--demo'),
    server(4191, 'e2e-empty', ''),
    server(4193, 'e2e-day', '--demo'),
    server(4194, 'e2e-preparation', '--demo'),
  ],
})
