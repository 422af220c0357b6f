import type { Page } from '@playwright/test'
import { ownServer } from './own-server.ts'
import { expect, test } from './page-fixture.ts'
import { faultsAtRest, staffPages } from './sizes.ts'

const server = ownServer('sizes')
test.use({ baseURL: server.address })
test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => server.kill())

/** A wide screen, a laptop, a tablet upright, a phone, and the laptop at twice the zoom. */
const sizes = {
  '1920×1080': { width: 1920, height: 1080 },
  '1280×800': { width: 1280, height: 800 },
  '820×1180': { width: 820, height: 1180 },
  '390×844': { width: 390, height: 844 },
  'twice the zoom': { width: 640, height: 400 },
} as const

const LONG = 'Wilhelmina-Josephine Featherstonehaugh-Cholmondeley'

/** A day of sixty students with long names, made by the calls that the pages make. */
const fillDay = (page: Page): Promise<number> =>
  page.evaluate(async (long) => {
    const call = async (method: string, path: string, body?: unknown) => {
      const answer = await fetch(path, {
        method,
        headers: { 'content-type': 'application/json' },
        ...(body ? { body: JSON.stringify(body) } : {}),
      })
      if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`)
      return answer.json()
    }
    // The day of the demo, not one of those before it.
    const [{ id: dayId }] = await call('GET', '/api/days')
    const day = await call('GET', `/api/days/${dayId}`)
    const here = new Set<string>(day.plan.studentIds)
    for (let n = here.size; n < 60; n++) {
      const { id } = await call('POST', '/api/students', {
        id: crypto.randomUUID(),
        name: `${long} ${n}`,
        level: 'building',
        talk: 'guided',
        units: 'metric',
      })
      here.add(id)
    }
    await call('PUT', `/api/days/${day.id}`, { version: day.version, plan: { ...day.plan, studentIds: [...here] } })
    return here.size
  }, LONG)

test('no page overlaps, cuts off or scrolls sideways, from the wide screen to the phone, with sixty students of long names', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
  await expect(page.getByRole('navigation', { name: 'Stages of the day' })).toBeVisible()
  expect(await fillDay(page)).toBe(60)
  await page.goto('/debrief')
  const drive = await page
    .getByRole('link', { name: /\d laps/ })
    .first()
    .getAttribute('href')
  await page.goto('/brief/students')
  // Twelve of them were known to this device before.
  await expect(page.getByRole('table', { name: 'Students of the day' }).getByRole('row')).toHaveCount(61)
  await page.getByRole('button', { name: 'Create a link for Odalys Merrow' }).click()
  const link = (await page.getByRole('link', { name: 'Open here: The page of Odalys Merrow' }).getAttribute('href')) ?? ''
  await page.goto(link)
  const ownDrive = (await page.locator('a[href*="/drives/"]').first().getAttribute('href')) ?? ''
  await page.goto('/run')
  await page.getByRole('button', { name: 'Start the run' }).first().click()
  await expect(page.getByRole('button', { name: 'Send out' })).toBeVisible()
  const beforeRun = page.url()
  const told: string[] = []
  for (const path of [...staffPages, drive ?? '', `${drive}/sheet`, link, `${link}/memory`, ownDrive, beforeRun]) {
    // Read once, then as a window whose size changes, or a tablet that is turned.
    await page.goto(path)
    for (const [size, viewport] of Object.entries(sizes)) {
      await page.setViewportSize(viewport)
      await expect(page.locator('main, header, h1, table').first()).toBeVisible()
      await expect(page.getByText(/^(Reading|Computing|One moment|computing).*…$/)).toHaveCount(0)
      for (const fault of await faultsAtRest(page)) told.push(`${path} at ${size}: ${fault.what}, ${fault.control} ${fault.by ?? ''}`)
    }
  }
  expect(told).toEqual([])
})

test('whatever has the focus by key shows it', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
  for (const path of ['/circuit', '/cones', '/brief/calls', '/debrief', '/run']) {
    await page.goto(path)
    await expect(page.getByText(/^(Reading|Computing|One moment|computing|Loading|Drawing).*…$/)).toHaveCount(0)
    await page.keyboard.press('Tab')
    const unseen: string[] = []
    for (let tab = 0; tab < 24; tab++) {
      const focused = await page.$(':focus')
      if (!focused) break
      const box = await focused.boundingBox()
      if (box && box.width > 2 && box.height > 2 && box.y >= 0 && box.y + box.height < 800) {
        const clip = {
          x: Math.max(0, box.x - 6),
          y: Math.max(0, box.y - 6),
          width: Math.min(1280 - Math.max(0, box.x - 6), box.width + 12),
          height: Math.min(800 - Math.max(0, box.y - 6), box.height + 12),
        }
        const name = await focused.evaluate((el) => el.getAttribute('aria-label') ?? el.textContent ?? el.tagName)
        const withFocus = await page.screenshot({ clip, animations: 'disabled' })
        await focused.evaluate((el) => (el as HTMLElement).blur())
        const without = await page.screenshot({ clip, animations: 'disabled' })
        if (withFocus.equals(without)) unseen.push(`${path}: ${name.slice(0, 40)}`)
        await focused.evaluate((el) => (el as HTMLElement).focus({ preventScroll: true }))
      }
      await page.keyboard.press('Tab')
    }
    expect(unseen).toEqual([])
  }
})
