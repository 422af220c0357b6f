import { enterDemo, expect, lapButtons, lookOver, openStage, positionsFrom, sendOut, test } from './page-fixture.ts'
import { addressOf } from './ports.ts'

test.use({ baseURL: addressOf('day') })

test('laps that were told to be slow are not judged, and a lap that is set aside is not either', async ({ page }) => {
  await enterDemo(page)

  await test.step('out for a sighting lap, a coached one and a cool-down', async () => {
    await openStage(page, 'Day')
    await page
      .getByRole('row', { name: /Emil Quillan/ })
      .first()
      .getByRole('button', { name: 'Start the run' })
      .click()
    await lookOver(page)
    const pick = (group: string, value: string) =>
      page.getByRole('group', { name: group, exact: true }).getByRole('button', { name: value, exact: true }).click()
    await pick('Sighting lap', 'one')
    await pick('Cool-down lap', 'one')
    await pick('Laps', '2')
    await positionsFrom(page, '×8')
    await sendOut(page)
    await expect(page.getByText('The car is back in the pits.')).toBeVisible({ timeout: 120_000 })
    await page.getByRole('button', { name: 'End the run' }).click()
    const account = page.getByRole('region', { name: 'Own account' })
    await account.getByRole('group', { name: 'Which corner felt best?' }).getByRole('button').first().click()
    await account.getByRole('group', { name: 'Which felt worst?' }).getByRole('button').last().click()
    await account.getByRole('button', { name: 'Calm' }).click()
  })

  const laps = page.getByRole('table', { name: 'Laps' })
  const row = (lap: number) => laps.getByRole('row').filter({ has: page.getByRole('button', { name: new RegExp(`^Lap ${lap}: `) }) })
  const findings = page.getByRole('region', { name: 'Findings, scrolls' })

  await test.step('each lap says what it was for, and only the coached one is judged', async () => {
    await expect(lapButtons(page)).toHaveCount(4)
    for (const [lap, kind] of [
      [1, 'sighting'],
      [2, 'coached'],
      [3, 'coached'],
      [4, 'cool-down'],
    ] as const)
      await expect(page.getByLabel(`What lap ${lap} is for`)).toHaveValue(kind)
    await expect(row(1)).toContainText('no')
    await expect(row(2).getByRole('button', { name: 'Set lap 2 aside' })).toBeVisible()
    await expect(row(4).getByRole('button', { name: /^Set lap/ })).toHaveCount(0)
    await expect(findings).not.toContainText(/lap [14]\b/i)
  })

  await test.step('set aside, it leaves nothing to say; counted again, it is as it was', async () => {
    const before = await findings.innerText()
    for (const lap of [2, 3])
      await row(lap)
        .getByRole('button', { name: `Set lap ${lap} aside` })
        .click()
    await expect(findings).toContainText('Nothing stood out against the plan')
    await expect(page.getByRole('region', { name: 'What to say' })).toContainText('Nothing stood out against the plan')
    for (const lap of [2, 3])
      await row(lap)
        .getByRole('button', { name: `Count lap ${lap} again` })
        .click()
    await expect.poll(() => findings.innerText()).toBe(before)
  })
})
