import { ownServer } from './own-server.ts'
import { enterDemo, expect, openStage, test } from './page-fixture.ts'

const server = ownServer('planning')
test.use({ baseURL: server.address })
test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => server.kill())

test('a day is counted, planned, taken over, broken and planned again', async ({ page }) => {
  await enterDemo(page)
  await openStage(page, 'Day')
  await page.getByRole('link', { name: 'Plan it' }).click()
  const full = page.getByRole('status', { name: 'How full the day is' })
  const proposal = page.getByRole('region', { name: 'Proposed plan' })
  const what = page.getByRole('status', { name: 'What the plan does' })

  await test.step('what cannot fit is said before anything is searched', async () => {
    await expect(full).toContainText(/Instructors \d\d%/)
    const rides = page.getByLabel('Ride-along, times each')
    await rides.fill('8')
    await rides.blur()
    await expect(full).toContainText('This is more than fits')
    await expect(full).toContainText('What would help most')
    await page.getByLabel('Ride-along, times each').fill('2')
    await page.getByLabel('Ride-along, times each').blur()
    await expect(full).not.toContainText('This is more than fits')
  })

  await test.step('a plan is found in which everybody gets everything, with a proof of how good it is', async () => {
    await page.getByRole('button', { name: 'Plan the day' }).click()
    await expect(what).toContainText('Everybody gets everything.')
    await expect(what).toContainText(/Proven: no plan is better by more than \d+%/)
    await page.getByRole('button', { name: 'Stop, keep this plan' }).click()
    await proposal.getByRole('button', { name: 'Students' }).click()
    await expect(proposal.getByRole('list', { name: 'Students' }).getByRole('listitem')).toHaveCount(12)
    await page.getByRole('button', { name: 'Use this plan' }).click()
    await expect(proposal).toHaveCount(0)
    await page.getByRole('link', { name: 'The day', exact: true }).click()
    // Twelve students drive twice, each with an instructor and in a car, and nobody is in two places.
    const runs = page.getByRole('table', { name: 'Run list' }).getByRole('row', { name: /Ride-along/ })
    await expect(runs).toHaveCount(24)
    await expect(page.getByText(/is out at|drives at|is with/)).toHaveCount(0)
  })

  await test.step('a car drops out and somebody is late: the new plan says whom it changes', async () => {
    await page.getByRole('link', { name: 'Plan it' }).click()
    const differs = page.getByRole('region', { name: 'What differs' })
    await differs.getByRole('textbox', { name: 'At' }).fill('13:00')
    await differs.getByRole('textbox', { name: 'At' }).blur()
    await differs.getByRole('button', { name: 'Add it' }).click()
    await expect(differs).toContainText('comes at 13:00')
    await page.getByRole('button', { name: 'Plan the day' }).click()
    await expect(what).toContainText(/\d+ people change against the plan in use|Everybody gets everything/)
    await expect(what).toContainText('people change against the plan in use')
    await page.getByRole('button', { name: 'Use this plan' }).click()
    await expect(page.getByRole('region', { name: 'The plan' })).toBeVisible()
  })

  await test.step('a step back takes the plan away again', async () => {
    await page.getByRole('button', { name: 'Undo' }).click()
    await page.getByRole('link', { name: 'The day', exact: true }).click()
    await expect(page.getByRole('table', { name: 'Run list' }).getByRole('row', { name: /Ride-along/ })).toHaveCount(24)
  })
})
