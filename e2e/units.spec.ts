import { readFileSync } from 'node:fs'
import { ownServer } from './own-server.ts'
import { enterDemo, expect, test } from './page-fixture.ts'
import { faultsAtRest, staffPages } from './sizes.ts'

const server = ownServer('units')
test.use({ baseURL: server.address })
test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => server.kill())

test('the staff’s pages speak feet and miles once the school says so, and metres again', async ({ page }) => {
  await enterDemo(page)
  const corners = page.getByRole('table', { name: 'Corners' })
  const first = corners.getByRole('row').nth(1)
  const metric = /(\d+) m\s+(\d+) km\/h/.exec(await first.innerText())
  const chooseUnits = async (words: string): Promise<void> => {
    await page.goto('/school/settings')
    await page.getByRole('combobox', { name: 'Units of all pages' }).click()
    const loaded = page.waitForEvent('load')
    await page.getByRole('option', { name: words }).click()
    await loaded
  }
  await chooseUnits('feet, miles and mph')
  await page.goto('/circuit')
  const imperial = /(\d+) ft\s+(\d+) mph/.exec(await first.innerText())
  expect(Math.abs(Number(imperial?.[1]) - Number(metric?.[1]) / 0.3048)).toBeLessThan(2)
  expect(Math.abs(Number(imperial?.[2]) - Number(metric?.[2]) / 1.609344)).toBeLessThan(1)
  for (const path of ['/circuit', '/cones', '/brief/calls']) {
    await page.goto(path)
    await expect(page.getByText(/\d (mph|ft)\b/)).not.toHaveCount(0)
    await expect(page.getByText(/\d km\/h/)).toHaveCount(0)
  }
  await chooseUnits('metres and km/h')
  await page.goto('/circuit')
  await expect(first).toContainText(`${metric?.[1]} m`)
})

/** Texts whose German differs, as the pages themselves have them. */
const german = JSON.parse(readFileSync(new URL('../packages/web/src/language/staff-german.json', import.meta.url), 'utf8')) as Record<
  string,
  string
>

test('the staff’s pages speak German and miles once the school says so: no text is left, nothing is cut off, dates in its form', async ({
  page,
}) => {
  await enterDemo(page)
  await page.goto('/school/settings')
  const choose = async (label: string, option: string): Promise<void> => {
    await page.getByRole('combobox', { name: label }).click()
    const loaded = page.waitForEvent('load')
    await page.getByRole('option', { name: option }).click()
    await loaded
  }
  await choose('Units of all pages', 'feet, miles and mph')
  await choose('Language of all pages', 'Deutsch')
  await expect(page.locator('html')).toHaveAttribute('lang', 'de')
  const told: string[] = []
  for (const path of staffPages) {
    await page.goto(path)
    for (const [width, height] of [
      [1280, 800],
      [390, 844],
    ]) {
      await page.setViewportSize({ width, height })
      await expect(page.locator('main, header, h1, table').first()).toBeVisible()
      await expect(page.getByText(/(wird|werden|Wird|Werden) (gelesen|berechnet|geladen|erfragt) …$/)).toHaveCount(0)
      for (const fault of await faultsAtRest(page)) told.push(`${path} at ${width}: ${fault.what}, ${fault.control} ${fault.by ?? ''}`)
      const texts = await page.evaluate(() => {
        const named = [...document.querySelectorAll('[aria-label], [title], [placeholder]')].flatMap((el) =>
          ['aria-label', 'title', 'placeholder'].map((name) => el.getAttribute(name) ?? ''),
        )
        const walker = document.createTreeWalker(document.querySelector('#root') ?? document.body, NodeFilter.SHOW_TEXT)
        const shown: string[] = []
        while (walker.nextNode()) shown.push(walker.currentNode.textContent?.trim() ?? '')
        return [...new Set([...named, ...shown])]
      })
      // One word may be a name, or the same in German; a text of several is neither.
      for (const text of texts) if (/\s/.test(text) && text in german && german[text] !== text) told.push(`${path}: “${text}” is English`)
    }
  }
  expect(told).toEqual([])
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.goto('/day')
  await expect(page.getByText('Samstag, 15. Mai 2027')).not.toHaveCount(0)
  await page.goto('/circuit')
  await expect(page.getByRole('table', { name: 'Kurven' }).getByText(/\d mph/)).not.toHaveCount(0)
  await page.goto('/debrief')
  await page
    .getByRole('link', { name: /\d Runden/ })
    .first()
    .click()
  await expect(page.getByRole('region', { name: 'Was zu sagen ist' })).toBeVisible()
  await expect(page.getByText(/So ist es richtig:/)).not.toHaveCount(0)
})
