import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { seededRandom } from '@ochote/core'
import { type BrowserContext, chromium, expect, type Page, test } from '@playwright/test'
import { ownServer } from './own-server.ts'
import { sendOut } from './page-fixture.ts'
import { onPostgres } from './ports.ts'

const SEED = 20270515
/** On the other database the same code is tried once more. */
const FAULTS = onPostgres ? 40 : 100
const server = ownServer('faults')
const profile = mkdtempSync(join(tmpdir(), 'ochote-faults-'))
const chromiumArguments = JSON.parse(readFileSync(new URL('chromium-arguments.json', import.meta.url), 'utf8')) as string[]

test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => {
  server.kill()
  rmSync(profile, { recursive: true, force: true })
})

/** A browser on a profile of its own that survives being killed, as a tablet does. */
const openBrowser = async (): Promise<{ context: BrowserContext; page: Page }> => {
  const context = await chromium.launchPersistentContext(profile, {
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: chromiumArguments,
    viewport: { width: 1280, height: 800 },
    baseURL: server.address,
  })
  const page = context.pages()[0] ?? (await context.newPage())
  page.setDefaultTimeout(30_000)
  return { context, page }
}
/** Ends every process of the browser at once, without a chance to write anything. */
const killBrowser = (): void => {
  try {
    execFileSync('pkill', ['-KILL', '-f', `user-data-dir=${profile}`])
  } catch {
    // Nothing was running any more.
  }
}

/** How many observations stand, by what the screen shows as its answer to a touch. */
const shown = async (page: Page): Promise<number> => {
  const text = await page.getByRole('status', { name: 'Last logged' }).innerText()
  return Number(/· (\d+) in this run/.exec(text)?.[1] ?? 0)
}

test(`no acknowledged touch is lost in ${FAULTS} killed browsers, killed servers and cut networks (seed ${SEED})`, async () => {
  const random = seededRandom(SEED)
  let { context, page } = await openBrowser()
  await page.goto('/')
  await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
  await page.goto('/day')
  await page
    .getByRole('row', { name: /Imke Valderan/ })
    .first()
    .getByRole('button', { name: 'Start the run' })
    .click()
  await page.getByRole('button', { name: 'Send out' }).waitFor()
  const path = new URL(page.url()).pathname
  const runId = path.split('/').at(-1)
  await page.evaluate(() => navigator.serviceWorker.ready)
  await page.reload()
  await page.getByRole('group', { name: 'Laps' }).getByRole('button', { name: '7' }).click()
  await sendOut(page)
  await expect(page.getByRole('region', { name: 'What went wrong' })).toContainText('Just driven: Boathouse')

  const counts = { 'browser killed': 0, 'server killed': 0, 'network cut': 0 }
  let acknowledged = 0
  let unanswered = 0
  let cut = false
  for (let fault = 0; fault < FAULTS; fault++) {
    // Somewhere between no and three touches, each waited for until the screen has answered.
    const touches = Math.floor(4 * random.uniform())
    for (let k = 0; k < touches; k++) {
      // Without any position the car is at the line by hand.
      const targets = page.getByRole('region', { name: 'What went wrong' }).getByRole('button')
      await expect(async () => {
        if ((await targets.count()) === 0) await page.keyboard.press('l')
        await expect(targets).toHaveCount(6, { timeout: 1000 })
      }).toPass()
      await page.keyboard.press(String(1 + Math.floor(6 * random.uniform())))
      await expect.poll(() => shown(page), { intervals: [10, 20, 50] }).toBe(acknowledged + unanswered + 1)
      acknowledged++
    }
    // Now and then one more touch, with the fault before its answer: that one may be there or not.
    const late = random.uniform() < 0.25
    if (late) await page.keyboard.press('1')
    const draw = random.uniform()
    let pageLived = true
    if (draw < 0.2) {
      counts['browser killed']++
      killBrowser()
      await context.close().catch(() => {})
      ;({ context, page } = await openBrowser())
      cut = false
      pageLived = false
      await page.goto(path)
    } else if (draw < 0.45) {
      counts['server killed']++
      server.kill()
      // Half of the time the screen is opened anew while there is no server.
      if (random.uniform() < 0.5) {
        pageLived = false
        await page.goto(path)
      }
    } else {
      counts['network cut']++
      cut = !cut
      await context.setOffline(cut)
    }
    if (!server.runs() && random.uniform() < 0.7) await server.start()
    if (cut && random.uniform() < 0.5) {
      cut = false
      await context.setOffline(false)
    }
    await expect(page.getByRole('status', { name: 'Last logged' })).toBeVisible()
    // Everything that was answered is there; a touch whose page died before its answer may be, too.
    const known = acknowledged + unanswered
    if (late && pageLived) {
      await expect.poll(() => shown(page), { intervals: [10, 20, 50] }).toBe(known + 1)
      acknowledged++
    } else {
      await expect.poll(() => shown(page), { intervals: [20, 50] }).toBeGreaterThanOrEqual(known)
      const more = (await shown(page)) - known
      expect(more).toBeLessThanOrEqual(late ? 1 : 0)
      unanswered += more
    }
  }
  await context.setOffline(false)
  if (!server.runs()) await server.start()
  // A browser killed soon after signing in has forgotten it: touches went on being kept, and go out after signing in again.
  await page.goto('/')
  // What the device remembers of the session stands on the page at once; the server is asked who is really there.
  const { account } = await page.evaluate(() => fetch('/api/session').then((r) => r.json()))
  if (account === null) await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
  await page.getByRole('navigation', { name: 'Stages of the day' }).waitFor()
  await page.goto(path)
  await expect(page.getByText('all sent')).toBeVisible({ timeout: 60_000 })
  const events = await page.evaluate((id) => fetch(`/api/runs/${id}/events`).then((r) => r.json()), runId)
  const stored = events.filter((e: { kind: string }) => e.kind === 'observation') as { id: string }[]
  const ids = new Set(stored.map((e) => e.id))
  const result = {
    seed: SEED,
    faults: FAULTS,
    ...counts,
    acknowledged,
    'kept though unanswered': unanswered,
    stored: ids.size,
    lost: acknowledged + unanswered - ids.size,
    doubled: stored.length - ids.size,
  }
  console.log(JSON.stringify(result))
  expect(result.doubled).toBe(0)
  expect(ids.size).toBe(acknowledged + unanswered)
  expect(acknowledged).toBeGreaterThan(FAULTS)
  await context.close()
})
