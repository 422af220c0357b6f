// Starts the built server on fresh demo data and a browser signed in as its lead, for scripts that look or measure.
import { spawn } from 'node:child_process'
import { readFileSync, rmSync } from 'node:fs'
import { chromium } from '@playwright/test'

/** Runs `work` with a page at 1280 × 800; stops server and browser afterwards. */
export const withDemoPage = async (port, work) => {
  const data = `.cache/demo-${port}`
  const address = `http://localhost:${port}`
  rmSync(data, { recursive: true, force: true })
  const server = spawn('node', ['packages/server/dist/main.mjs', '--demo', '--port', String(port), '--data', data, '--no-disk-warning'], {
    stdio: 'ignore',
  })
  const ready = async () => (await fetch(`${address}/api/health`).catch(() => null))?.ok
  for (let tries = 0; !(await ready()) && tries < 300; tries++) await new Promise((resolve) => setTimeout(resolve, 200))
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: JSON.parse(readFileSync('e2e/chromium-arguments.json', 'utf8')),
  })
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: address, timezoneId: 'UTC' })
    // Whoever looks has seen the tour.
    await page.addInitScript(() => localStorage.setItem('ochote.tour', 'seen'))
    await page.goto('/')
    await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
    await page.getByRole('table', { name: 'Corners' }).waitFor()
    await work(page)
  } finally {
    await browser.close()
    server.kill()
  }
}
