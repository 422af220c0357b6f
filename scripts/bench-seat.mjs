// Measures the view from the seat: the mesh of roads and the sight of marks in Node.js, and pictures a second while the lap is driven in
// headless Chromium, which computes them by the processor alone. Prints JSON. Needs a build (node scripts/build.mjs).
import { cpus } from 'node:os'
import { percentiles } from './bench-tools.mjs'
import { runBench, withFixtures } from './bundle.mjs'
import { withDemoPage } from './demo-browser.mjs'

const { mesh, sightOfMarks } = await runBench('mesh', [], { options: withFixtures })

const frames = (page) =>
  page.evaluate(
    () =>
      new Promise((done) => {
        const times = []
        const tick = (now) => {
          times.push(now)
          if (times.length < 150) requestAnimationFrame(tick)
          else done(times.slice(1).map((time, i) => time - times[i]))
        }
        requestAnimationFrame(tick)
      }),
  )

await withDemoPage(4198, async (page) => {
  const looked = async (name, path, drive) => {
    await page.goto(path)
    await page.locator('canvas').waitFor()
    await page.getByText('Drawing the road …').waitFor({ state: 'detached' })
    await drive()
    const box = await page.locator('canvas').boundingBox()
    return { name, picture: `${Math.round(box.width)}×${Math.round(box.height)}`, frame_ms: percentiles(await frames(page)) }
  }
  const driven = [
    await looked('circuit, from the seat', '/circuit/seat', () => page.getByRole('button', { name: 'Drive the lap' }).click()),
    await looked('projector, sighting lap', '/brief/present?page=12', async () => {
      await page.keyboard.press('s')
      await page.keyboard.press(' ')
    }),
  ]
  // A picture of about the size of a whole screen.
  await page.setViewportSize({ width: 2060, height: 1200 })
  driven.push(
    await looked('circuit, from the seat, large', '/circuit/seat', () => page.getByRole('button', { name: 'Drive the lap' }).click()),
  )
  console.log(
    JSON.stringify(
      { machine: `${cpus()[0].model}, ${cpus().length} cores, Node.js ${process.version}`, mesh, sightOfMarks, driven },
      null,
      1,
    ),
  )
})
