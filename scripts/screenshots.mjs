// Takes the pictures of docs/screenshots from fresh demo data: node scripts/screenshots.mjs [name …]
import { spawn } from 'node:child_process'
import { readFileSync, rmSync } from 'node:fs'
import { chromium } from '@playwright/test'

const port = 4195
const data = '.cache/screenshots'
const address = `http://localhost:${port}`
const only = process.argv.slice(2)
rmSync(data, { recursive: true, force: true })
const server = spawn('node', ['packages/server/dist/main.mjs', '--demo', '--port', String(port), '--data', data], { stdio: 'ignore' })
const ready = async () => (await fetch(`${address}/api/health`).catch(() => null))?.ok
for (let tries = 0; !(await ready()) && tries < 300; tries++) await new Promise((resolve) => setTimeout(resolve, 200))

const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: JSON.parse(readFileSync('e2e/chromium-arguments.json', 'utf8')),
})
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: address, timezoneId: 'UTC' })
  await page.goto('/')
  await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
  await page.getByRole('table', { name: 'Corners' }).waitFor()
  const shoot = async (name) => {
    if (only.length > 0 && !only.includes(name)) return
    await page.evaluate(() => document.fonts.ready)
    await page.getByText('computing …').first().waitFor({ state: 'detached' })
    await page.screenshot({ path: `docs/screenshots/${name}.png`, animations: 'disabled' })
  }
  await page.keyboard.press('Shift+ArrowRight')
  await page.getByRole('region', { name: 'Corner card Boathouse' }).waitFor()
  await shoot('circuit')
  await page.goto('/cones')
  await page.getByRole('table', { name: 'Laying sheet' }).waitFor()
  await shoot('cones')
  await page.goto('/day')
  await page.getByRole('table', { name: 'Run list' }).waitFor()
  await shoot('day')
  await page.goto('/brief/present?page=12')
  await page.getByRole('heading', { name: '6 The Staithe' }).waitFor()
  await shoot('brief')
  await page.goto('/run')
  await page.getByRole('button', { name: 'Start the run' }).nth(4).click()
  await page.getByRole('button', { name: '×4' }).click()
  await page.getByRole('button', { name: 'Send out' }).click()
  const wrong = page.getByRole('region', { name: 'What went wrong' })
  await wrong.getByText('At Boathouse').waitFor()
  await page.keyboard.press('3')
  await wrong.getByText('At Long Heron').waitFor({ timeout: 60_000 })
  await shoot('run')
  await page.setViewportSize({ width: 820, height: 1180 })
  await shoot('run-tablet')
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.goto('/debrief')
  await page
    .getByRole('link', { name: /Bram Holliskay/ })
    .last()
    .click()
  await page.getByRole('img', { name: /Speed, time difference/ }).waitFor()
  await shoot('debrief')
  await page.getByRole('link', { name: 'Student sheet' }).click()
  await page.getByText('Only this:').waitFor()
  await shoot('student-sheet')
  await page.goto('/record/bram-holliskay')
  await page.getByRole('region', { name: 'Next focus' }).waitFor()
  await shoot('record')
} finally {
  await browser.close()
  server.kill()
}
