// Drags the charts of a debrief with ten laps of 100 Hz over a corner and plays them on the ground view, in headless Chromium,
// and prints how long frames took, as JSON. Needs a build (node scripts/build.mjs).
import { bundle, withFixtures } from './bundle.mjs'
import { withDemoPage } from './demo-browser.mjs'

const entry =
  "export { demoPlan } from './packages/core/fixtures/load.ts'; export { simulateDrive, writeLogCsv } from './packages/core/src/index.ts'"
const bundled = await bundle({ code: entry }, 'ten-laps', withFixtures)
const { demoPlan, simulateDrive, writeLogCsv } = await import(`../${bundled}`)
const csv = writeLogCsv(simulateDrive(demoPlan({ pace: 0.7 }), { laps: 10, seed: 5, rate_hz: 100, noise_m: 0.1 }).log)

const frames = (page) =>
  page.evaluate(() => {
    window.measured = { frames: [], long: [] }
    new PerformanceObserver((list) => window.measured.long.push(...list.getEntries().map((e) => Math.round(e.duration)))).observe({
      entryTypes: ['longtask'],
    })
    let last = performance.now()
    const tick = (now) => {
      window.measured.frames.push(now - last)
      last = now
      requestAnimationFrame(tick)
    }
    requestAnimationFrame(tick)
  })
const told = async (page, name) => {
  const { frames: list, long } = await page.evaluate(() => window.measured)
  const sorted = list.slice(5).sort((a, b) => a - b)
  const at = (share) => Math.round(10 * sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]) / 10
  return { name, frames: sorted.length, frame_ms: { median: at(0.5), p95: at(0.95), most: at(1) }, longTasks_ms: long }
}

await withDemoPage(4197, async (page) => {
  await page.goto('/debrief')
  await page
    .getByRole('link', { name: /Odalys Merrow/ })
    .first()
    .click()
  await page.getByRole('img', { name: /Speed, time difference/ }).waitFor()
  const runId = page.url().split('/').at(-1)
  await page.evaluate(
    ([id, body]) => fetch(`/api/runs/${id}/log?name=ten`, { method: 'PUT', body, headers: { 'Content-Type': 'application/octet-stream' } }),
    [runId, csv],
  )
  await page.reload()
  await page.getByRole('button', { name: /^Lap 10: / }).waitFor()
  await page.getByRole('button', { name: 'All laps', exact: true }).first().click()
  await page
    .getByRole('article', { name: 'Boathouse' })
    .first()
    .click({ timeout: 3000 })
    .catch(() => page.keyboard.press('Shift+ArrowRight'))
  await page
    .getByRole('group', { name: 'Charts' })
    .getByRole('button', { name: / only$/ })
    .click()
  const charts = page.getByRole('img', { name: /Speed, time difference/ })
  await charts.scrollIntoViewIfNeeded()
  const box = await charts.boundingBox()
  const [x, y] = [box.x + box.width / 2, box.y + 100]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await frames(page)
  for (let k = 0; k < 160; k++) await page.mouse.move(x + 250 * Math.sin(k / 14), y)
  const results = [await told(page, 'charts dragged')]
  await page.mouse.up()
  await page.getByRole('button', { name: 'Play' }).click()
  await frames(page)
  await page.waitForFunction(() => window.measured.frames.length > 240)
  results.push(await told(page, 'two laps played'))
  console.log(JSON.stringify(results, null, 1))
})
