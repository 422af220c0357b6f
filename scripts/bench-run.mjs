// Tasks of the run screens that hold up the page: the demo with three simulated cars at eight times their speed, so many seconds of each
// screen, a touch every second. Prints JSON. Argument: seconds of each screen (20).
import { withDemoPage } from './demo-browser.mjs'

const seconds = Number(process.argv[2] ?? 20)
const screens = {}
await withDemoPage(4196, async (page) => {
  await page.addInitScript(() => {
    window.longTasks = []
    new PerformanceObserver((list) => window.longTasks.push(...list.getEntries().map((e) => e.duration))).observe({
      entryTypes: ['longtask'],
    })
  })
  const watch = async (name, ready, keys) => {
    await ready()
    // Opening a screen computes plans and draws once; what is measured is how it runs.
    await page.waitForTimeout(3000)
    await page.evaluate(() => {
      window.longTasks = []
    })
    for (let second = 0; second < seconds; second++) {
      await page.keyboard.press(keys[second % keys.length])
      await page.waitForTimeout(1000)
    }
    const tasks = await page.evaluate(() => window.longTasks.map(Math.round))
    screens[name] = { seconds, longTasks: tasks.length, longest_ms: Math.max(0, ...tasks) }
  }
  const row = ['Odalys Merrow', 'Bram Holliskay', 'Yuna Tressider']
  await watch('lead-follow', async () => {
    await page.goto('/run/lead-follow')
    for (const name of row) await page.getByRole('button', { name }).click()
    for (const name of row) await page.getByRole('button', { name: `${name.split(' ')[0]}: car OK, radio heard` }).click()
    await page.getByRole('button', { name: 'simulated ×8' }).click()
    await page.getByRole('button', { name: 'Send the train out' }).click()
    await page.getByRole('region', { name: 'The train' }).waitFor()
  }, ['1', '2', 'u', 'c'])
  const [run] = await page.evaluate(() => fetch('/api/runs?dayId=day-2027-05-15').then((answer) => answer.json()))
  await watch('ride-along', async () => {
    await page.goto(`/run/${run.id}`)
    await page.getByRole('region', { name: 'What went wrong' }).waitFor()
  }, ['1', 'ArrowRight', 'u', 'ArrowLeft', 'o', 'Escape'])
  await watch('corner post', () => page.goto('/run/corner-post?corner=T6'), ['1', 'ArrowRight', 'u', 'ArrowLeft'])
  await watch('pit wall', () => page.goto('/run/pit-wall'), ['Tab'])
  await watch('pad', () => page.goto('/run/pad'), ['1', '4', '2', 'u', 'n'])
})
process.stdout.write(`${JSON.stringify(screens, null, 1)}\n`)
