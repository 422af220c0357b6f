import { enterDemo, expect, lapButtons, openDebrief, test } from './page-fixture.ts'

test('the laying sheet prints on A4 with nothing cut off', async ({ page }) => {
  await enterDemo(page)
  await page.getByRole('button', { name: 'Dark' }).click()
  await page.goto('/cones/sheet')
  await expect(page.getByRole('table', { name: 'Laying sheet' })).toBeVisible()
  await page.emulateMedia({ media: 'print' })
  await expect(page.getByRole('button', { name: 'Print' })).toBeHidden()
  await expect(page.locator('body')).toHaveCSS('color', 'rgb(28, 26, 23)')
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)
  expect(overflow).toBeLessThanOrEqual(0)
  const pdf = (await page.pdf({ preferCSSPageSize: true, printBackground: true })).toString('latin1')
  const count = pdf.match(/\/Type\s*\/Page\b/g)?.length ?? 0
  expect(count).toBeGreaterThanOrEqual(2)
  expect(count).toBeLessThanOrEqual(3)
})

test('a debrief compares two laps, and refuses a log from elsewhere in words', async ({ page, allowed }) => {
  allowed.allow(/Failed to load resource/)
  await enterDemo(page)
  await openDebrief(page, 'Odalys Merrow', 'newest')
  await expect(lapButtons(page)).toHaveCount(4)
  await page.getByRole('combobox', { name: 'Compare lap 1 with' }).click()
  await page.getByRole('option', { name: /^lap 3/ }).click()
  await expect(page.getByRole('img', { name: 'Speed, time difference and pedals of lap 1 over lap 3' })).toBeVisible()
  const elsewhere = ['time_s,lat_deg,lon_deg,ele_m', ...Array.from({ length: 50 }, (_, i) => `${i / 10},12.${500 + i},3.1,0`)].join('\n')
  await page.getByLabel('Add a log file').setInputFiles({ name: 'log.csv', mimeType: 'text/csv', buffer: Buffer.from(elsewhere) })
  await page.getByRole('button', { name: 'Replace the log' }).click()
  await expect(page.getByRole('alert')).toContainText('The log was not driven here')
  await page.getByRole('button', { name: 'Cancel' }).click()
  await expect(lapButtons(page)).toHaveCount(4)
})
