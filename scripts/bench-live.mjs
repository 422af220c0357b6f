// Measures the live chain: fifteen receivers at 25 Hz over TCP, one screen at the pit wall, touches in the car, and a day of memory; prints JSON.
// node scripts/bench-live.mjs [seconds] [hours of the memory run]
import { spawn, spawnSync } from 'node:child_process'
import { readFileSync, rmSync } from 'node:fs'
import { cpus } from 'node:os'
import { chromium } from '@playwright/test'
import { carsOnTrack, demoPlan, percentiles, residentMB } from './bench-tools.mjs'
import { bundle } from './bundle.mjs'

const [seconds = '60', hours = '8'] = process.argv.slice(2)
const PORT = 4194 + 10
const DATA = '.cache/bench-live'
const address = `http://localhost:${PORT}`
const CARS = 15
const RATE_HZ = 25

const ownPackages = {
  alias: { '@ochote/core': './packages/core/src/index.ts', '@ochote/contract': './packages/contract/src/index.ts' },
}
const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms))
/** CPU time (s) and memory (MB) of a process, as Linux tells them. */
const usage = (pid) => {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1].split(' ')
  return { cpu_s: (Number(fields[11]) + Number(fields[12])) / 100, rss_MB: residentMB(pid) }
}

await bundle('packages/core/src/index.ts', 'core', ownPackages)
const core = await import('../.cache/bench/core.mjs')
rmSync(DATA, { recursive: true, force: true })
const server = spawn('node', ['packages/server/dist/main.mjs', '--demo', '--port', String(PORT), '--data', DATA], { stdio: 'ignore' })
const ready = async () => (await fetch(`${address}/api/health`).catch(() => null))?.ok
while (!(await ready())) await wait(200)
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: JSON.parse(readFileSync('e2e/chromium-arguments.json', 'utf8')),
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: address })
await page.goto('/')
await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
await page.getByRole('table', { name: 'Corners' }).waitFor()

// Six more cars, so that there are fifteen.
const dayId = 'day-2027-05-15'
await page.evaluate(
  async ({ dayId, more }) => {
    const day = await fetch(`/api/days/${dayId}`).then((r) => r.json())
    const cars = [
      ...day.plan.cars,
      ...Array.from({ length: more }, (_, k) => ({ id: `bench-${k}`, number: String(20 + k), vehicleId: 'hatchback', owner: 'school' })),
    ]
    const body = JSON.stringify({ version: day.version, plan: { ...day.plan, cars } })
    await fetch(`/api/days/${dayId}`, { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body })
  },
  { dayId, more: CARS - 9 },
)
// A run in the car, which makes the track read its cars anew.
await page.goto('/day')
await page
  .getByRole('row', { name: /Imke Valderan/ })
  .first()
  .getByRole('button', { name: 'Start the run' })
  .click()
await page.getByRole('button', { name: 'In the car' }).click()
await page.getByRole('button', { name: 'Send out' }).click()
const ride = page.url()
const day = await page.evaluate((id) => fetch(`/api/days/${id}`).then((r) => r.json()), dayId)
const receivers = await page.evaluate(() => fetch('/api/receivers').then((r) => r.json()))

const plan = demoPlan(core)
const { log } = core.simulateDrive(plan, { laps: 4, seed: 3, rate_hz: RATE_HZ, noise_m: 0.1, habits: core.habitsOf(4, plan, 0) })
const more = (i) => ({ throttle_pct: log.throttle_pct[i], brake_bar: log.brake_bar[i], steer_deg: log.steer_deg[i] })
const track = carsOnTrack(core, { log, cars: day.plan.cars, port: receivers[0].port, rate_hz: RATE_HZ, more })

/** Watches when drawn positions change, and how old they are in the picture that shows them. */
const watch = () => {
  window.ages = []
  new MutationObserver((changes) => {
    const stamps = changes.filter((c) => c.attributeName === 'data-stamped').map((c) => Number(c.target.getAttribute('data-stamped')))
    if (stamps.length === 0) return
    requestAnimationFrame(() => {
      const now = Date.now()
      for (const stamp of stamps) window.ages.push(now - stamp)
    })
  }).observe(document.body, { attributes: true, subtree: true, attributeFilter: ['data-stamped'] })
}
await page.goto('/run/pit-wall')
await page.locator('[data-stamped]').first().waitFor()
await wait(5000)
await page.evaluate(watch)
const before = usage(server.pid)
const from = Date.now()
await wait(1000 * Number(seconds))
const after = usage(server.pid)
const ages = await page.evaluate(() => window.ages)
const took_s = (Date.now() - from) / 1000

// A screen that slept: nothing of it runs for eight seconds, while messages pile up; then the time until a fresh position is drawn.
const asleep = []
for (let k = 0; k < 5; k++)
  asleep.push(
    await page.evaluate(
      () =>
        new Promise((resolve) => {
          const until = performance.now() + 8000
          while (performance.now() < until);
          const woke = performance.now()
          const look = () => {
            const stamps = [...document.querySelectorAll('[data-stamped]')].map((n) => Number(n.getAttribute('data-stamped')))
            if (Date.now() - Math.max(...stamps) < 250) resolve(performance.now() - woke)
            else requestAnimationFrame(look)
          }
          look()
        }),
    ),
  )

/** Touches in the car: from the touch to the changed answer on the screen, once all positions flow and once without a network. */
const touch = async (count) =>
  page.evaluate(async (count) => {
    const times = []
    const line = document.querySelector('[aria-label="Last logged"]')
    for (let k = 0; k < count; k++) {
      const tile = document.querySelectorAll('section[aria-label="What went wrong"] button')[k % 6]
      times.push(
        await new Promise((resolve) => {
          const observer = new MutationObserver(() => {
            observer.disconnect()
            requestAnimationFrame(() => resolve(performance.now() - began))
          })
          observer.observe(line, { childList: true, subtree: true, characterData: true })
          const began = performance.now()
          tile.click()
        }),
      )
      await new Promise((resolve) => setTimeout(resolve, 400))
    }
    return times
  }, count)
/** The target's own mark, which comes before the answer is on the disk. */
const mark = async (count) =>
  page.evaluate(async (count) => {
    const times = []
    for (let k = 0; k < count; k++) {
      const tile = document.querySelectorAll('section[aria-label="What went wrong"] button')[k % 6]
      const began = performance.now()
      tile.click()
      await new Promise((resolve) => requestAnimationFrame(resolve))
      if (tile.dataset.touched !== 'true') throw new Error('not marked')
      times.push(performance.now() - began)
      await new Promise((resolve) => setTimeout(resolve, 700))
    }
    return times
  }, count)
await page.goto(ride)
await page.getByRole('region', { name: 'What went wrong' }).getByRole('button').nth(5).waitFor()
await touch(5)
const online = await touch(60)
const marked = await mark(10)
await page.context().setOffline(true)
const offline = await touch(60)
track.stop()
await browser.close()
server.kill()

await bundle('packages/server/bench/live-day.ts', 'live-day', ownPackages)
const whole = spawnSync('node', ['--expose-gc', '.cache/bench/live-day.mjs', hours], { encoding: 'utf8', maxBuffer: 1e8 })
if (whole.status !== 0) throw new Error(whole.stderr)
console.log(
  JSON.stringify(
    {
      machine: { cpu: cpus()[0].model.trim(), cores: cpus().length, node: process.version },
      date: new Date().toISOString().slice(0, 10),
      chain: { cars: CARS, rate_hz: RATE_HZ, seconds: Math.round(took_s), positionsSent: track.sent() },
      fixToPixels_ms: percentiles(ages),
      server: { shareOfACore: Math.round((100 * (after.cpu_s - before.cpu_s)) / took_s) / 100, rss_MB: after.rss_MB },
      wokenScreen_ms: percentiles(asleep),
      touchToAnswer_ms: { online: percentiles(online), offline: percentiles(offline), ownMark: percentiles(marked) },
      day: JSON.parse(whole.stdout),
    },
    null,
    2,
  ),
)
