import type { Locator, Page } from '@playwright/test'
import { choose, enterDemo, expect, openStage, positionsFrom, sendOut, test } from './page-fixture.ts'
import { addressOf } from './ports.ts'

/** The smallest type (px) among the visible texts of a page. */
const smallestType = (page: Page): Promise<{ size: number; text: string }> =>
  page.evaluate(() => {
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
    let smallest = { size: Number.POSITIVE_INFINITY, text: '' }
    while (walker.nextNode()) {
      const text = walker.currentNode.textContent?.trim() ?? ''
      const parent = walker.currentNode.parentElement
      // The north mark is a symbol, not a text to be read; titles are not drawn.
      if (!text || text === 'N' || !parent || parent.closest('title, style, script')) continue
      const scale = parent instanceof SVGElement && parent.ownerSVGElement ? (parent.ownerSVGElement.getScreenCTM()?.a ?? 1) : 1
      const size = Number.parseFloat(getComputedStyle(parent).fontSize) * scale
      if (size < smallest.size) smallest = { size, text }
    }
    return smallest
  })

const scrolls = (page: Page): Promise<{ x: number; y: number }> =>
  page.evaluate(() => ({
    x: document.documentElement.scrollWidth - window.innerWidth,
    y: document.documentElement.scrollHeight - window.innerHeight,
  }))

test('the projector is readable from eight metres: 28 px and up, one screen a page', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/brief/present?page=1')
  const counter = page.getByText(/^\d+\/\d+$/)
  // The wet page, the pace steps and the questions come a moment after the others.
  await expect(counter).toHaveText('1/34')
  for (let number = 1; number <= 34; number++) {
    await expect(counter).toHaveText(`${number}/34`)
    const { size, text } = await smallestType(page)
    expect(size, `page ${number}: “${text}”`).toBeGreaterThanOrEqual(27.5)
    expect(await scrolls(page), `page ${number}`).toEqual({ x: 0, y: 0 })
    await page.keyboard.press('ArrowRight')
  }
})

/** Seven targets at most, each big enough for a glove, on a page that does not scroll. */
const keepsKneeRules = async (page: Page): Promise<void> => {
  const targets = page.getByRole('button')
  expect(await targets.count()).toBeLessThanOrEqual(7)
  for (const target of await targets.all()) {
    const box = await target.boundingBox()
    expect(box?.height ?? 0).toBeGreaterThanOrEqual(64)
    expect(box?.width ?? 0).toBeGreaterThanOrEqual(64)
  }
  expect(await scrolls(page)).toEqual({ x: 0, y: 0 })
}

test('the knee tablet has at most seven targets, big ones, and never scrolls', async ({ page }) => {
  await enterDemo(page)
  await openStage(page, 'Run')
  await page.getByRole('button', { name: 'Start the run' }).last().click()
  await page.getByRole('group', { name: 'Sighting lap' }).getByRole('button', { name: 'none' }).click()
  await positionsFrom(page, '×8')
  await sendOut(page)
  await expect(page.getByRole('region', { name: 'What went wrong' })).toContainText('Just driven: Boathouse')
  await page.keyboard.press('1')
  await expect(page.getByRole('button', { name: 'Undo' })).toBeVisible()
  for (const [width, height] of [
    [1280, 800],
    [820, 1180],
  ]) {
    await page.setViewportSize({ width, height })
    for (const name of ['Other', 'This lap', 'The laps', 'The run', 'What went wrong']) {
      await page.keyboard.press('ArrowRight')
      await expect(page.getByRole('region', { name })).toBeVisible()
      await keepsKneeRules(page)
    }
  }
  await page.keyboard.press('u')
  await expect(page.getByRole('status', { name: 'Last logged' })).toHaveText('Nothing logged yet')
  // The next test looks at this run with a browser of its own: what was taken back must be so for the server, too.
  await expect(page.getByText('all sent')).toBeVisible()
  // A group of mistakes and the kinds of incident keep to the same rules.
  for (const [key, ...more] of [['o', '2'], ['i']]) {
    for (const one of [key, ...more]) await page.keyboard.press(one)
    await expect(page.getByRole('button', { name: 'Back' })).toBeVisible()
    await keepsKneeRules(page)
    await page.keyboard.press('Escape')
    await expect(page.getByRole('region', { name: 'What went wrong' })).toBeVisible()
  }
  // One touch that slipped ends nothing.
  await page.keyboard.press('e')
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByRole('button', { name: /^Touch again: end the run/ })).toBeVisible()
  await expect(page.getByRole('button', { name: /^End the run/ })).toBeVisible()
})

/** Where a target lies once it is drawn. */
const boxOf = async (target: Locator): Promise<{ x: number; y: number; width: number; height: number }> => {
  let box = await target.boundingBox()
  await expect(async () => {
    box = await target.boundingBox()
    expect(box).not.toBeNull()
  }).toPass()
  return box ?? { x: 0, y: 0, width: 0, height: 0 }
}

test('a swipe turns the page and touches nothing on its way', async ({ page }) => {
  await enterDemo(page)
  await openStage(page, 'Run')
  await page.locator('a[href^="/run/0"]').first().click()
  const wrong = page.getByRole('region', { name: 'What went wrong' })
  await expect(wrong.getByRole('button')).toHaveCount(6)
  const box = await boxOf(wrong.getByRole('button').nth(1))
  await page.mouse.move(box.x + box.width / 2, box.y + 40)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width / 2 - 120, box.y + 46, { steps: 4 })
  await page.mouse.up()
  await expect(page.getByRole('region', { name: 'Other' })).toBeVisible()
  await expect(page.getByRole('status', { name: 'Last logged' })).toHaveText('Nothing logged yet')
  await page.keyboard.press('ArrowRight')
  await page.getByRole('button', { name: /^Held well/ }).click()
  await expect(page.getByRole('status', { name: 'Last logged' })).toContainText('Held well at')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('status', { name: 'Last logged' })).toHaveText('Nothing logged yet')
})

test('touches are answered with the network gone, and sent when it is back', async ({ page, context, allowed }) => {
  allowed.allow(/ERR_INTERNET_DISCONNECTED|Failed to load resource/)
  await enterDemo(page)
  await openStage(page, 'Run')
  await page.locator('a[href^="/run/0"]').first().click()
  const wrong = page.getByRole('region', { name: 'What went wrong' })
  const last = page.getByRole('status', { name: 'Last logged' })
  await expect(wrong.getByRole('button')).toHaveCount(6)
  await context.setOffline(true)
  for (let count = 1; count <= 6; count++) {
    await wrong
      .getByRole('button')
      .nth(count - 1)
      .click()
    await expect(last).toContainText(`${count} in this run`)
  }
  await expect(page.getByText('6 saved here, not sent yet')).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByText('all sent')).toBeVisible()
})

test('two people change one day: both changes are kept, and a field that both changed is told', async ({ page, browser, allowed }) => {
  allowed.allow(/409/)
  await enterDemo(page)
  const second = await browser.newContext()
  const other = await second.newPage()
  await other.goto(`${addressOf('demo')}/`)
  await other.getByRole('button', { name: 'Enter the demo as the lead' }).click()
  const planIt = { name: 'Plan the day with this, for everybody' }
  const surface = page.getByRole('combobox', { name: 'Surface' })
  await expect(other.getByRole('table', { name: 'Corners' })).toBeVisible()
  await expect(page.getByRole('table', { name: 'Corners' })).toBeVisible()
  await test.step('what is only looked at changes no day', async () => {
    await choose(other, 'Surface', 'Damp')
    await expect(other.getByRole('region', { name: 'Only looked at' })).toContainText('The day is planned for dry.')
    await other.getByRole('button', { name: 'Back to the plan' }).click()
    await expect(other.getByRole('combobox', { name: 'Surface' })).toHaveText('Dry')
  })
  await test.step('different fields come together', async () => {
    const saved = other.waitForResponse((r) => r.request().method() === 'PUT')
    await choose(other, 'Surface', 'Damp')
    await other.getByRole('button', planIt).click()
    expect((await saved).status()).toBe(200)
    await choose(page, 'Pace', /Steady/)
    await page.getByRole('button', planIt).click()
    await expect(surface).toHaveText('Damp')
    await expect(page.getByRole('combobox', { name: 'Pace' })).toContainText('Steady')
    await expect(page.getByRole('alert')).toHaveCount(0)
  })
  await test.step('the same field stays as the first one has it, and the second one is told', async () => {
    await other.reload()
    await expect(other.getByRole('combobox', { name: 'Pace' })).toContainText('Steady')
    const saved = other.waitForResponse((r) => r.request().method() === 'PUT')
    await choose(other, 'Surface', 'Wet')
    await other.getByRole('button', planIt).click()
    expect((await saved).status()).toBe(200)
    await choose(page, 'Surface', 'Standing water')
    await page.getByRole('button', planIt).click()
    await expect(page.getByRole('alert')).toContainText('settings of the day, surface: yours standing, now wet')
    await expect(surface).toHaveText('Wet')
    await page.getByRole('button', { name: 'Seen' }).click()
    await expect(page.getByRole('alert')).toHaveCount(0)
  })
  await choose(page, 'Surface', 'Dry')
  await choose(page, 'Pace', /Building/)
  const back = page.waitForResponse((r) => r.request().method() === 'PUT')
  await page.getByRole('button', planIt).click()
  expect((await back).status()).toBe(200)
  await second.close()
})

test('a corner’s name is kept and shown on every drawing of it', async ({ page }) => {
  await enterDemo(page)
  await expect(page.getByRole('table', { name: 'Corners' })).toBeVisible()
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowRight')
  const name = page.getByLabel('Name of this corner')
  await expect(name).toHaveValue('Long Heron')
  await name.fill('Heron Long')
  await name.press('Enter')
  await expect(page.getByRole('region', { name: 'Corner card Heron Long' })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('table', { name: 'Corners' })).toContainText('3 Heron Long')
  await expect(page.locator('svg text', { hasText: '3 Heron Long' })).toHaveCount(2)
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowRight')
  await name.fill('Long Heron')
  await name.press('Enter')
  await expect(page.getByRole('region', { name: 'Corner card Long Heron' })).toBeVisible()
})
