import { simulateDrive } from '@ochote/core'
import { planHere } from './demo-plan.ts'
import { enterDemo, expect, lapButtons, openDebrief, shownLapTimes, test } from './page-fixture.ts'
import { addressOf } from './ports.ts'

test.use({ baseURL: addressOf('day') })

const plan = planHere({ surface: 'dry', pace: 0.75, school: 'straight' })
const drive = simulateDrive(plan, {
  laps: 4,
  seed: 31,
  noise_m: 0.1,
  habits: [
    { cornerId: 'T1', code: 'brake-early', probability: 1, size: 45 },
    { cornerId: 'T4', code: 'turn-in-early', probability: 1, size: 16 },
  ],
})

/** The drive as a logger of another make would write it: semicolons, decimal commas, feet, miles an hour and psi. */
const imperialLog = (): string => {
  const { log } = drive
  const comma = (value: number, digits: number): string => value.toFixed(digits).replace('.', ',')
  const lines = ['Elapsed;Breite;GPS Longitude;Alt (ft);V;TPS;Line P;Wheel Angle']
  for (let i = 0; i < log.time_s.length; i++)
    lines.push(
      [
        comma(log.time_s[i], 2),
        comma(log.lat_deg[i], 8),
        comma(log.lon_deg[i], 8),
        comma(log.ele_m[i] / 0.3048, 1),
        comma((log.speed_mps?.[i] ?? 0) / 0.44704, 2),
        comma(log.throttle_pct?.[i] ?? 0, 1),
        comma((log.brake_bar?.[i] ?? 0) / 0.0689476, 1),
        comma(log.steer_deg?.[i] ?? 0, 1),
      ].join(';'),
    )
  return `${lines.join('\n')}\n`
}

test('an imperial log with names of its own is mapped, read, and made into a sheet that goes out and comes back', async ({
  page,
  browser,
  allowed,
}) => {
  allowed.allow(/Failed to load resource/)
  await enterDemo(page)
  await openDebrief(page, 'Odalys Merrow', 'newest')
  const laps = lapButtons(page)
  await expect(laps.first()).toBeVisible()
  const file = { name: 'borrowed logger.csv', mimeType: 'text/csv', buffer: Buffer.from(imperialLog()) }

  await test.step('what the guess leaves open is said by a person', async () => {
    await page.getByLabel('Add a log file').setInputFiles(file)
    const mapping = page.getByRole('dialog', { name: /Columns in/ })
    const columns = mapping.getByRole('table', { name: 'Columns' })
    await expect(columns.getByRole('combobox', { name: 'Column of latitude' })).toHaveText('Breite')
    await expect(columns.getByRole('combobox', { name: 'Unit of speed' })).toHaveText('mph')
    await expect(columns.getByRole('combobox', { name: 'Column of brake' })).toHaveText('not in this file')
    await columns.getByRole('combobox', { name: 'Column of brake' }).click()
    await page.getByRole('option', { name: 'Line P' }).click()
    await columns.getByRole('combobox', { name: 'Unit of brake' }).click()
    await page.getByRole('option', { name: 'psi' }).click()
    await mapping.getByRole('button', { name: 'Replace the log' }).click()
    await expect(mapping).toBeHidden()
  })

  await test.step('its laps are timed, and its roots are those that were driven', async () => {
    await expect(laps).toHaveCount(4)
    const shown = await shownLapTimes(page)
    for (const [i, time] of drive.lapTimes_s.entries()) expect(Math.abs(shown[i] - time)).toBeLessThan(0.02)
    const said = page.getByRole('region', { name: 'What to say' })
    const first = said.getByRole('article', { name: 'Boathouse' })
    await expect(first).toContainText('Stay on the throttle longer before you brake')
    await expect(first).toContainText('4 of 4 laps')
    await expect(said.getByRole('article', { name: 'Osier' })).toContainText('Turn in later')
    await expect(page.getByRole('region', { name: 'Time to find' })).toContainText('from the best pieces that join at matching speeds')
  })

  await test.step('the root finding opens its corner: marks of every lap, and where the time went', async () => {
    await page.getByRole('region', { name: 'What to say' }).getByRole('article', { name: 'Boathouse' }).click()
    await page.getByRole('button', { name: 'Boathouse only' }).click()
    const passes = page.getByRole('region', { name: 'Passes of Boathouse' })
    await expect(passes.getByRole('img', { name: 'Marks of every lap at Boathouse' })).toBeVisible()
    const entry = await passes.getByRole('table').getByRole('row').nth(1).getByRole('cell').nth(1).innerText()
    expect(Number(entry.replace('−', '-'))).toBeGreaterThan(0.3)
  })

  await test.step('a note stays where it was pinned', async () => {
    const notes = page.getByRole('region', { name: 'Notes' })
    await notes.getByRole('textbox').fill('Look at the board on the left')
    await notes.getByRole('button', { name: 'Pin it' }).click()
    await expect(notes.getByRole('button', { name: /^Boathouse, \d+ m, lap 1$/ })).toBeVisible()
    await page.reload()
    await expect(page.getByRole('region', { name: 'Notes' })).toContainText('Look at the board on the left')
  })

  await test.step('the same columns are known next time', async () => {
    await page.getByLabel('Add a log file').setInputFiles(file)
    const mapping = page.getByRole('dialog', { name: /Columns in/ })
    await expect(mapping.getByRole('combobox', { name: 'Column of brake' })).toHaveText('Line P')
    await mapping.getByRole('button', { name: 'Cancel' }).click()
  })

  await test.step('the sheet goes out by a link that needs no sign-in, and is dead once withdrawn', async () => {
    await page.getByRole('link', { name: 'Student sheet' }).click()
    await page.getByRole('button', { name: 'Create a link' }).click()
    const address = (await page.getByRole('link', { name: 'Open here: The sheet' }).getAttribute('href')) ?? ''
    const phone = await browser.newPage({ viewport: { width: 390, height: 844 } })
    await phone.goto(new URL(address, page.url()).href)
    await expect(phone.getByRole('heading', { name: 'Odalys Merrow' })).toBeVisible()
    await expect(phone.getByRole('article', { name: 'Boathouse' })).toContainText('In 4 von 4 Runden')
    await expect(phone.getByRole('img', { name: 'Boathouse von oben, deine Runde über dem Plan' })).toBeVisible()
    const overflow = await phone.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)
    expect(overflow).toBeLessThanOrEqual(0)
    await page.getByRole('button', { name: 'Withdraw the link' }).click()
    await expect(page.getByRole('button', { name: 'Create a link' })).toBeVisible()
    await phone.reload()
    await expect(phone.getByRole('alert')).toContainText('not valid any more')
    await phone.close()
  })
})
