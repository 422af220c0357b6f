import { withDemoPage } from './demo-browser.mjs'
await withDemoPage(4396, async (page) => {
  page.on('pageerror', (e) => console.log('ERR', e.message))
  page.on('console', (m) => m.type() === 'error' && console.log('CON', m.text()))
  const days = await page.evaluate(async () => (await (await fetch('/api/days')).json()).map((d) => [d.id, d.date ?? d.plan?.date]))
  console.log(JSON.stringify(days))
  const past = days.find(([id]) => /05-08/.test(id)) ?? days[1]
  await page.evaluate((id) => localStorage.setItem('ochote.day', id), past[0])
  console.log(await page.evaluate(async (id) => { const g = await (await fetch('/api/days/' + id + '/group')).json(); return JSON.stringify([g.drove?.length, g.runs?.slice(0,2), g.passes?.slice(0,2)]) }, past[0]))
  await page.goto(`/debrief/class`)
  await page.getByText('Drawing the road …').waitFor({ state: 'detached' })
  await page.waitForTimeout(1500)
  await page.screenshot({ path: '/tmp/c1.png' })
  const lap = page.getByRole('button', { name: 'A lap that was driven' })
  if (await lap.isEnabled().catch(() => false)) { await lap.click(); await page.waitForTimeout(3500); await page.screenshot({ path: '/tmp/c2.png' }) }
})
