import { expect, openStage, test } from './page-fixture.ts'
import { addressOf } from './ports.ts'

const demo = (file: string): string => new URL(`../demo/${file}`, import.meta.url).pathname

test.use({ baseURL: addressOf('empty') })

test('an empty school becomes one that can run', async ({ page, allowed }) => {
  allowed.allow(/Failed to load resource/)
  await page.goto('/')
  await expect(page.getByRole('button', { name: 'Enter the demo as the lead' })).toHaveCount(0)
  await page.getByLabel('Name').fill('Marit Oakhanger')
  await page.getByLabel('Password').fill('short')
  await page.getByRole('button', { name: 'Make the account' }).click()
  await expect(page.getByText('At least 10 characters')).toBeVisible()
  await page.getByLabel('Password').fill('reeds and water')
  await page.getByRole('button', { name: 'Make the account' }).click()
  await expect(page.getByRole('heading', { name: 'First steps' })).toBeVisible()

  await test.step('a file that is no circuit is refused with place and remedy', async () => {
    await page.getByLabel('Choose a circuit file').setInputFiles(demo('vehicles.json'))
    await page.getByRole('button', { name: 'Import', exact: true }).first().click()
    await expect(page.getByRole('alert')).toContainText('Columns are missing')
    await expect(page.getByRole('alert')).toContainText('row 1')
  })

  await test.step('a track without widths is imported with the width that was given', async () => {
    await page
      .getByLabel('Choose a circuit file')
      .setInputFiles(new URL('../packages/core/fixtures/ostrel-mere.gpx', import.meta.url).pathname)
    await page.getByLabel('Half width if missing (m)').fill('6')
    await page.getByRole('button', { name: 'Import', exact: true }).first().click()
    await expect(page.getByRole('heading', { name: /Import a circuit · done/ })).toBeVisible()
    await expect(page.getByRole('status')).toContainText('11 corners found. It lies at 47.100° north, 21.400° west.')
  })

  await test.step('with vehicles the stages open', async () => {
    await page.getByLabel('Choose a vehicle file').setInputFiles(demo('vehicles.json'))
    await page.getByRole('button', { name: 'Import', exact: true }).click()
    await expect(page.getByRole('table', { name: 'Corners' }).getByRole('row')).toHaveCount(12)
    await expect(page.getByText('12 m wide')).toBeVisible()
  })

  await test.step('a width that nobody gave is said to be assumed, and set; the start line moves', async () => {
    await page.getByRole('button', { name: 'Import circuit' }).click()
    await page
      .getByLabel('Choose a circuit file')
      .setInputFiles(new URL('../packages/core/fixtures/ostrel-mere.gpx', import.meta.url).pathname)
    await page.getByRole('button', { name: 'Import', exact: true }).click()
    const assumed = page.getByText('Nobody measured this road’s width: 5 m on each side are assumed.')
    await expect(assumed).toBeVisible()
    await page.getByRole('button', { name: 'Correct the survey' }).click()
    const correction = page.getByRole('region', { name: 'Correct the survey' })
    await correction.getByLabel('Left of the middle (m)').fill('7')
    await correction.getByRole('button', { name: 'Set this width everywhere' }).click()
    await expect(page.getByText('12 m wide')).toBeVisible()
    await expect(assumed).toHaveCount(0)
    await page.keyboard.press('Shift+ArrowRight')
    await page.getByRole('button', { name: 'Correct the survey' }).click()
    const start = correction.getByRole('button', { name: /^Start line at \d+ m$/ })
    const at_m = Number(/\d+/.exec(await start.innerText())?.[0])
    await start.click()
    expect(at_m).toBeGreaterThan(100)
    // The same corners, counted from where the first one was.
    await page.keyboard.press('Escape')
    await expect(page.getByRole('table', { name: 'Corners' }).getByRole('row')).toHaveCount(12)
  })

  await test.step('a student and a day are enough for a run', async () => {
    await openStage(page, 'Day')
    await page.getByLabel('Student’s name').fill('Imke Valderan')
    await page.getByRole('button', { name: 'Add the student' }).click()
    await page.getByRole('button', { name: 'Create today' }).click()
    await page.getByLabel('Instructor’s name').fill('Dunstan Ilves')
    await page.getByLabel('First password').fill('gravel and water')
    await page.getByRole('button', { name: 'Add the instructor' }).click()
    await expect(page.getByText('Marit Oakhanger (lead), Dunstan Ilves')).toBeVisible()
    await page.getByRole('button', { name: 'Start the run' }).click()
    await expect(page.getByRole('button', { name: 'Send out' })).toBeVisible()
  })

  await test.step('signed out, the name and password lead back in', async () => {
    await page.goto('/circuit')
    await page.getByRole('button', { name: 'Sign out' }).click()
    await page.getByLabel('Name').fill('Marit Oakhanger')
    await page.getByLabel('Password').fill('reeds and wine')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await expect(page.getByRole('alert')).toContainText('Wrong name or password.')
    await page.getByLabel('Password').fill('reeds and water')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await expect(page.getByRole('navigation', { name: 'Stages of the day' })).toBeVisible()
  })

  await test.step('without any file a circuit is drawn over a picture, and its length is that of the drawing', async () => {
    await openStage(page, 'Circuit')
    await page.getByRole('button', { name: 'Import circuit' }).click()
    await page.getByRole('combobox', { name: 'From' }).click()
    await page.getByRole('option', { name: 'a drawing over a picture' }).click()
    const board = page.getByRole('img', { name: 'Drawing board' })
    await page.getByLabel('Distance between the clicks (m)').fill('500')
    await page.getByLabel('Name of the circuit').fill('Drawn')
    const box = await board.boundingBox()
    if (!box) throw new Error('No board')
    const clickAt = (x: number, y: number): Promise<void> =>
      board.click({ position: { x: (x / 900) * box.width, y: (y / 520) * box.height } })
    await clickAt(200, 30)
    await clickAt(700, 30)
    // One pixel of the drawing is a metre: a circle of 200 m.
    for (let i = 0; i < 12; i++) await clickAt(450 + 200 * Math.cos((i * Math.PI) / 6), 260 - 200 * Math.sin((i * Math.PI) / 6))
    await page.getByRole('button', { name: 'Create circuit' }).click()
    const words = await page.getByText(/^Drawn: \d+ m long/).innerText()
    expect(Math.abs(Number(words.match(/\d+/)) / (2 * Math.PI * 200) - 1)).toBeLessThan(0.03)
  })
})
