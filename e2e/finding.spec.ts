import { enterDemo, expect, test } from './page-fixture.ts'
import { addressOf } from './ports.ts'

test('everything is found by one key, and the guide answers in both languages without the network', async ({ page }) => {
  await enterDemo(page)
  const searched = async (text: string): Promise<void> => {
    await page.keyboard.press('/')
    await page.getByRole('combobox', { name: /^Search people/ }).fill(text)
  }

  await test.step('a person, a corner, a setting', async () => {
    await searched('valderan')
    await page
      .getByRole('option', { name: /^Imke Valderan/ })
      .first()
      .click()
    await expect(page).toHaveURL(/\/record\/imke-valderan/)
    await searched('long heron')
    // The corner, not the meadow of that name: corners follow once the lap is computed.
    await page.getByRole('option', { name: /^Long Heron ?T3$/ }).click()
    await expect(page.getByLabel('Name of this corner')).toHaveValue('Long Heron')
    await page.keyboard.press('Escape')
    await page.locator('main').click({ position: { x: 2, y: 2 } })
    await searched('certificate')
    await page.keyboard.press('Enter')
    await expect(page).toHaveURL(/\/school\/network/)
  })

  await test.step('the keys are listed', async () => {
    await page.keyboard.press('?')
    await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Corner by corner')
    await page.keyboard.press('Escape')
  })

  await test.step('the guide is searched, and speaks German', async () => {
    await page.getByRole('link', { name: 'Guide', exact: true }).click()
    await expect(page.getByRole('heading', { name: 'Starting, and keeping a school' })).toBeVisible()
    await page.getByLabel('Search the guide').fill('sighter apex')
    await page.getByRole('link', { name: 'Cones', exact: true }).last().click()
    await expect(page.getByRole('heading', { name: 'Preparing a day: cones, calls, briefing' })).toBeVisible()
    await page.getByRole('combobox', { name: 'Language' }).click()
    await page.getByRole('option', { name: 'Deutsch' }).click()
    await expect(page.getByRole('heading', { name: 'Einen Tag vorbereiten: Pylonen, Ansagen, Einweisung' })).toBeVisible()
    await expect(page.getByRole('img', { name: /^Einen Tag vorbereiten/ })).toBeVisible()
  })
})

test('the tour leads through five pages and is not offered again', async ({ browser }) => {
  const context = await browser.newContext({ baseURL: addressOf('demo') })
  const page = await context.newPage()
  await page.goto('/')
  await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
  const tour = page.getByRole('complementary', { name: 'Tour' })
  await tour.getByRole('button', { name: 'Show me' }).click()
  for (const path of ['/circuit', '/cones', '/day', '/run', '/debrief']) {
    await expect(page).toHaveURL(new RegExp(`${path}$`))
    await tour.getByRole('button', { name: /^(Next|Done)$/ }).click()
  }
  await expect(tour).toHaveCount(0)
  await page.reload()
  await expect(page.getByRole('heading', { name: 'Debrief' }).first()).toBeVisible()
  await expect(tour).toHaveCount(0)
  await context.close()
})
