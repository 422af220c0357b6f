// Pans and zooms the lap band and the ground view over a 5 km circuit in headless Chromium and prints how long the
// interface's thread was taken, as JSON. Needs a build (node scripts/build.mjs).
import { bundle } from './bundle.mjs'
import { withDemoPage } from './demo-browser.mjs'

const entry =
  "export { ringRoad } from './packages/core/bench/ring-road.ts'; export { writeCircuitCsv } from './packages/core/src/index.ts'"
const bundled = await bundle({ code: entry }, 'ring')
const { ringRoad, writeCircuitCsv } = await import(`../${bundled}`)
const csv = writeCircuitCsv(ringRoad(5.2))

await withDemoPage(4196, async (page) => {
  await page.evaluate(
    (body) => fetch('/api/circuits?name=Ring', { method: 'POST', body, headers: { 'Content-Type': 'application/octet-stream' } }),
    csv,
  )
  await page.reload()
  await page.getByRole('combobox', { name: 'Layout' }).click()
  await page.getByRole('option', { name: 'Ring' }).click()
  await page.getByRole('heading', { name: 'Ring' }).waitFor()
  await page.getByRole('button', { name: 'Grip used' }).click()
  await page.getByText('computing …').first().waitFor({ state: 'detached' })
  const measure = async (name, over) => {
    await page.evaluate(() => {
      window.longTasks = []
      window.frames = []
      new PerformanceObserver((list) => window.longTasks.push(...list.getEntries().map((e) => e.duration))).observe({
        entryTypes: ['longtask'],
      })
      let last = performance.now()
      const tick = (now) => {
        window.frames.push(now - last)
        last = now
        requestAnimationFrame(tick)
      }
      requestAnimationFrame(tick)
    })
    const box = await over.boundingBox()
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
    await page.mouse.move(x, y)
    for (let k = 0; k < 6; k++) await page.mouse.wheel(0, -120)
    await page.mouse.down()
    for (let k = 0; k < 120; k++) await page.mouse.move(x + 300 * Math.sin(k / 12), y + 8 * Math.sin(k / 7))
    await page.mouse.up()
    const { longTasks, frames } = await page.evaluate(() => ({ longTasks: window.longTasks, frames: window.frames }))
    const sorted = frames.slice(5).sort((a, b) => a - b)
    return {
      name,
      longTasks_ms: longTasks.map(Math.round),
      frame_ms: { median: Math.round(sorted[sorted.length >> 1]), p95: Math.round(sorted[Math.floor(0.95 * sorted.length)]) },
    }
  }
  const results = [
    await measure('lap band', page.getByRole('application')),
    await measure('ground view', page.getByRole('img', { name: 'Ground view, north up' })),
  ]
  /** From choosing an option in the context bar until another lap time stands there. */
  const change = async (label, option) => {
    // Nobody chooses twice within half a second: what the last choice left to compute is done by then.
    await page.waitForTimeout(500)
    await page.getByRole('combobox', { name: label }).click()
    const choice = page.getByRole('option', { name: option })
    await choice.waitFor()
    const taken = page.evaluate(
      () =>
        new Promise((resolve) => {
          const lap = [...document.querySelectorAll('[role="status"]')].find((n) => n.textContent.startsWith('Planned lap'))
          const before = lap.textContent
          let began = 0
          document.addEventListener('click', () => (began = performance.now()), { capture: true, once: true })
          new MutationObserver(() => {
            if (/\d:\d\d\.\d$/.test(lap.textContent) && lap.textContent !== before) resolve(Math.round(performance.now() - began))
          }).observe(lap, { childList: true, characterData: true, subtree: true })
        }),
    )
    await choice.click()
    return taken
  }
  const each_ms = []
  for (const [label, option] of [
    ['Pace', /Steady/],
    ['Surface', 'Wet'],
    ['Pace', /Quick/],
    ['Surface', 'Damp'],
    ['Pace', /Building/],
    ['Surface', 'Dry'],
    ['Pace', /Sighting/],
    ['Surface', 'Standing water'],
    ['Pace', /Steady/],
    ['Surface', 'Dry'],
    ['Pace', /Building/],
    ['Surface', 'Wet'],
  ])
    each_ms.push(await change(label, option))
  const changes_ms = { each_ms, median_ms: [...each_ms].sort((a, b) => a - b)[each_ms.length >> 1], worst_ms: Math.max(...each_ms) }
  console.log(JSON.stringify({ changes_ms, circuit_km: 5.2, date: new Date().toISOString().slice(0, 10), results }, null, 1))
})
