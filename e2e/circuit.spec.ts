import { cornerMetrics } from '@ochote/core'
import { planHere } from './demo-plan.ts'
import { choose, enterDemo, expect, test } from './page-fixture.ts'

test('a lead learns a circuit: what corners are worth, what lies there, how two set-ups compare', async ({ page, allowed }) => {
  allowed.allow(/422/)
  const settings = { surface: 'dry', pace: 0.6, school: 'straight' } as const
  const plan = planHere(settings)
  const numbers = cornerMetrics(plan)
  await enterDemo(page)
  const corners = page.getByRole('table', { name: 'Corners' })

  await test.step('the table sorts by price, and its numbers are the core’s', async () => {
    await expect(corners.getByRole('row').nth(1)).toContainText(numbers[0].worth.price_spmps.toFixed(3))
    await corners.getByRole('button', { name: 'Price per m/s', exact: true }).click()
    const dearest = numbers.reduce((best, n) => (n.worth.price_spmps > best.worth.price_spmps ? n : best))
    await expect(corners.getByRole('row').nth(1)).toContainText(dearest.worth.price_spmps.toFixed(3))
    await expect(corners).toContainText('mark hidden')
  })

  await test.step('a word explains itself where it stands, and the table stays as it is sorted', async () => {
    const before = await corners.getByRole('row').nth(1).innerText()
    await corners.getByRole('button', { name: 'What “Price” means' }).click()
    await expect(page.getByText('Work first on the corner with the highest price.')).toBeVisible()
    await page.keyboard.press('Escape')
    await expect(page.getByText('Work first on the corner with the highest price.')).toBeHidden()
    expect(await corners.getByRole('row').nth(1).innerText()).toBe(before)
  })

  await test.step('a number opens how it came about', async () => {
    await page.keyboard.press('Shift+ArrowRight')
    const card = page.getByRole('region', { name: 'Corner card Boathouse' })
    const grace = numbers[0].grace
    const row = card.locator('details', { hasText: 'Grace' })
    await expect(row).toContainText(`${Math.round(grace?.metres_m ?? 0)} m, ${grace?.time_s.toFixed(2)} s`)
    await row.locator('summary').click()
    await expect(row).toContainText('90% of the full grip')
    await page.keyboard.press('Escape')
  })

  await test.step('the wheel zooms the band and leaves the page where it is', async () => {
    await page.setViewportSize({ width: 1280, height: 480 })
    const band = page.getByRole('application')
    const names = () => band.locator('svg text').count()
    const all = await names()
    await band.hover()
    await page.mouse.wheel(0, 300)
    for (let k = 0; k < 8; k++) await page.mouse.wheel(0, -300)
    await expect.poll(names).toBeLessThan(all)
    expect(await page.evaluate(() => document.documentElement.scrollHeight > innerHeight)).toBe(true)
    expect(await page.evaluate(() => scrollY)).toBe(0)
    await band.dblclick({ position: { x: 5, y: 5 } })
    await page.keyboard.press('Escape')
    await page.setViewportSize({ width: 1280, height: 800 })
  })

  await test.step('an apex that is dragged pulls the line along, and is let go again', async () => {
    await page.keyboard.press('Shift+ArrowRight')
    const lap = page.getByRole('status').filter({ hasText: 'Planned lap' })
    const planned = (await lap.textContent()) ?? ''
    const apex = await page.locator('[aria-label="Drag the apex"]').boundingBox()
    if (!apex) throw new Error('no apex')
    await page.mouse.move(apex.x + apex.width / 2, apex.y + apex.height / 2)
    await page.mouse.down()
    await page.mouse.move(apex.x + apex.width / 2 + 14, apex.y + apex.height / 2 - 10, { steps: 4 })
    // The line follows before it is let go, with its lap time.
    await expect(page.getByRole('status', { name: 'While it is dragged' })).toContainText(/about \d:\d\d\.\d a lap/)
    await page.mouse.up()
    await expect(page.getByText('Marks moved by hand')).toBeVisible()
    await expect(lap).not.toHaveText(planned)
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(page.getByText('Marks moved by hand')).toHaveCount(0)
    await expect(lap).toHaveText(planned)
    await page.keyboard.press('Escape')
  })

  await test.step('a post is placed by a click on the band, edited, and taken back', async () => {
    await page.getByRole('button', { name: 'Ground and hazards' }).click()
    const ground = page.getByRole('table', { name: 'Ground' })
    const before = await ground.getByRole('row').count()
    await page.getByRole('combobox', { name: 'Add' }).click()
    await page.getByRole('option', { name: 'Marshal post' }).click()
    await page.getByRole('button', { name: 'Place on the track' }).click()
    const band = await page.getByRole('application').boundingBox()
    if (!band) throw new Error('No band')
    await page.mouse.click(band.x + band.width / 2, band.y + 60)
    await expect(ground.getByRole('row')).toHaveCount(before + 1)
    const placed = ground.getByRole('row', { name: /^Marshal post left/ })
    await expect(placed).toContainText(`${Math.round(plan.circuit.length_m / 2)} m`)
    await page.getByRole('button', { name: 'Done' }).click()
    await placed.getByRole('button', { name: 'Edit' }).click()
    await page.getByLabel('Marshal post', { exact: true }).fill('Post 6')
    await page.getByRole('button', { name: 'Save', exact: true }).click()
    await expect(ground).toContainText('Post 6')
    await page.reload()
    await page.getByRole('button', { name: 'Ground and hazards' }).click()
    await expect(ground).toContainText('Post 6')
    await ground
      .getByRole('row', { name: /Post 6/ })
      .getByRole('button', { name: 'Edit' })
      .click()
    await page.getByRole('button', { name: 'Remove' }).click()
    await expect(ground).not.toContainText('Post 6')
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(ground).toContainText('Post 6')
    await page.keyboard.press('Control+Shift+Z')
    await expect(ground).not.toContainText('Post 6')
  })

  await test.step('two set-ups stand side by side, corner by corner', async () => {
    await page.getByRole('button', { name: 'Compare' }).click()
    const wet = planHere({ ...settings, surface: 'wet' })
    await expect(page.getByRole('status').filter({ hasText: 'against' })).toContainText(
      `+${(wet.profile.lapTime_s - plan.profile.lapTime_s).toFixed(2)} s`,
    )
    await choose(page, 'Its surface', 'Dry')
    await choose(page, 'Its line', 'Fast')
    const fast = planHere({ ...settings, method: 'fast' })
    const won_s = plan.profile.lapTime_s - fast.profile.lapTime_s
    expect(won_s).toBeGreaterThan(0)
    await expect(page.getByRole('status').filter({ hasText: 'against' })).toContainText(`−${won_s.toFixed(2)} s`)
    await expect(page.getByRole('table', { name: 'Compared corner by corner' }).getByRole('row')).toHaveCount(12)
  })

  await test.step('the circuit is saved with its ground in an open format', async () => {
    await page.getByRole('button', { name: 'Save as' }).click()
    const download = page.waitForEvent('download')
    await page.getByRole('menuitem', { name: 'Circuit with its ground, GeoJSON' }).click()
    let text = ''
    for await (const chunk of await (await download).createReadStream()) text += chunk
    const { features } = JSON.parse(text) as { features: { properties: { kind?: string } }[] }
    expect(features.filter((f) => f.properties.kind === 'run-off')).toHaveLength(9)
  })

  await test.step('a file with several tracks is asked about', async () => {
    await page.getByRole('link', { name: 'New circuit' }).click()
    const track = (name: string): string => `<trk><name>${name}</name><trkseg><trkpt lat="47" lon="-21"/></trkseg></trk>`
    const gpx = `<?xml version="1.0"?><gpx version="1.1">${track('Car park')}${track('Lap')}</gpx>`
    await page
      .getByLabel('Choose a circuit file')
      .setInputFiles({ name: 'two.gpx', mimeType: 'application/gpx+xml', buffer: Buffer.from(gpx) })
    await expect(page.getByRole('alert')).toContainText('Car park, Lap')
    await expect(page.getByLabel('Which track (name or number)')).toBeVisible()
  })
})

test('a vehicle says what it can do, refuses what it cannot be, and is kept', async ({ page }) => {
  await enterDemo(page)
  await page.getByRole('link', { name: 'Vehicles' }).click()
  await page.getByRole('button', { name: 'Start from a typical kart' }).click()
  const form = page.getByRole('region', { name: 'Vehicle form' })
  const summary = form.getByRole('status')
  await expect(summary).toContainText('g in corners')
  await form.getByLabel('Lateral grip, μ').fill('9')
  await expect(summary).toContainText('it must be 0.2 to 3')
  await expect(form.getByRole('button', { name: 'Save', exact: true })).toBeDisabled()
  await form.getByLabel('Lateral grip, μ').fill('1.2')
  await expect(summary).toContainText('1.20 g in corners')
  await form.getByLabel('Name', { exact: true }).fill('Rental kart 7')
  await form.getByRole('button', { name: 'Save', exact: true }).click()
  const own = page.getByText('Rental kart 7', { exact: true })
  await expect(own).toBeVisible()
  await expect(form.getByLabel('Name', { exact: true })).toHaveValue('Rental kart 7')
  await page.getByRole('button', { name: 'Undo Rental kart 7' }).click()
  await expect(own).toHaveCount(0)
  await page.getByRole('button', { name: 'Redo Rental kart 7' }).click()
  await expect(own).toBeVisible()
  await page.reload()
  await expect(own).toBeVisible()
})
