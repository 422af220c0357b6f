import { ownServer } from './own-server.ts'
import { enterDemo, expect, test } from './page-fixture.ts'

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
