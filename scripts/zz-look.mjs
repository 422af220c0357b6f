import { readFileSync } from 'node:fs'
import { transformSync } from 'esbuild'
import { withDemoPage } from './demo-browser.mjs'

const code = transformSync(readFileSync('e2e/sizes.ts', 'utf8'), { loader: 'ts' })
  .code.replace('export const', 'const')
  .replace(/export \{[^}]*\};?/, '')
const [which = '', sizesArg = '', shots = ''] = process.argv.slice(2)
const sizes = { desk: [1280, 800], wide: [1920, 1080], tall: [820, 1180], phone: [390, 844], zoom: [640, 400] }
const wanted = sizesArg ? sizesArg.split(',') : Object.keys(sizes)
const pages = {
  circuit: '/circuit',
  vehicles: '/circuit/vehicles',
  cones: '/cones',
  schemes: '/cones/schemes',
  check: '/cones/check',
  lay: '/cones/lay',
  laysheet: '/cones/sheet',
  day: '/day',
  brief: '/brief',
  calls: '/brief/calls',
  rehearse: '/brief/rehearse',
  bstudents: '/brief/students',
  present: '/brief/present?page=13',
  presenter: '/brief/presenter',
  card: '/brief/card?student=hal-brackenbury',
  handout: '/brief/handout?student=hal-brackenbury',
  run: '/run',
  pitwall: '/run/pit-wall',
  history: '/run/history',
  devices: '/run/devices',
  lf: '/run/lead-follow',
  post: '/run/corner-post',
  pad: '/run/pad',
  debriefs: '/debrief',
  thresholds: '/debrief/thresholds',
  debrief: 'DEBRIEF',
  sheet: 'SHEET',
  report: '/debrief/report/first-day',
  record: '/record',
  records: '/record/imke-valderan',
  mistakes: '/record/imke-valderan/mistakes',
  before: 'BEFORE',
  student: 'STUDENT',
}
const names = which ? which.split(',') : Object.keys(pages)
await withDemoPage(4197, async (page) => {
  for (const size of wanted) {
    await page.setViewportSize({ width: sizes[size][0], height: sizes[size][1] })
    for (const name of names) {
      let url = pages[name] ?? name
      try {
        if (/DEBRIEF|SHEET/.test(url)) {
          await page.goto('/debrief')
          const l = page.locator('main a[href^="/debrief/"]:not([href*="report"]):not([href*="thresholds"])').first()
          await l.waitFor()
          const h = await l.getAttribute('href')
          url = url === 'SHEET' ? h + '/sheet' : h
        }
        if (url === 'BEFORE') {
          await page.goto('/run')
          await page.getByRole('button', { name: 'Start the run' }).nth(3).click()
          await page.waitForURL(/run\/.+/)
          url = null
        }
        if (url === 'STUDENT') {
          await page.goto('/brief/students')
          await page
            .getByRole('button', { name: /Create a link for Imke/ })
            .click({ timeout: 5000 })
            .catch(() => {})
          url = await page.getByRole('link', { name: /\/s\// }).first().getAttribute('href')
        }
        if (url) await page.goto(url)
        await page.waitForLoadState('networkidle').catch(() => {})
        await page.waitForTimeout(900)
        const faults = await page.evaluate(`(()=>{${code}; return sizeFaults()})()`)
        const seen = new Map()
        for (const f of faults) {
          const k = f.what
          seen.set(k, [...(seen.get(k) ?? []), f.control + (f.by ? ' / ' + f.by : '')])
        }
        console.log(size, name, [...seen].map(([k, v]) => `${k} ${v.length}: ${v.slice(0, 4).join(' | ')}`).join('; ') || 'fine')
        if (shots) await page.screenshot({ path: `/tmp/shots/${name}-${size}.png`, animations: 'disabled', fullPage: shots === 'full' })
      } catch (e) {
        console.log(size, name, 'ERR', String(e).slice(0, 200))
      }
    }
  }
})
