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
  let link = ''
  await enterDemo(page)
  await openStage(page, 'Day')
  await page.getByRole('link', { name: 'Plan it' }).click()
  const full = page.getByRole('status', { name: 'How full the day is' })
  const proposal = page.getByRole('region', { name: 'Proposed plan' })
  const what = page.getByRole('status', { name: 'What the plan does' })

  await test.step('what cannot fit is said before anything is searched', async () => {
    await page.getByText('What the day gives', { exact: true }).click()
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

  await test.step('a student sees their own times on the phone, and takes them into a calendar', async () => {
    const token = await page.evaluate(async () => {
      const { id } = ((await (await fetch('/api/days')).json()) as { id: string; date: string }[]).find((d) => d.date === '2027-05-15') ?? {
        id: '',
      }
      return ((await (await fetch(`/api/days/${id}/links/imke-valderan`, { method: 'POST' })).json()) as { token: string }).token
    })
    await page.setViewportSize({ width: 390, height: 844 })
    await page.goto(`/s/${token}`)
    const times = page.getByRole('region', { name: 'Your times' })
    await expect(times.getByRole('listitem').filter({ hasText: 'Drive, car' })).toHaveCount(2)
    link = `/s/${token}`
    await expect(times.getByRole('listitem').first()).toContainText('08:30–09:10Briefing')
    const address = await times.getByRole('link', { name: 'Into my calendar' }).getAttribute('href')
    const file = await page.evaluate(async (at) => (await fetch(at ?? '')).text(), address)
    expect(file.match(/BEGIN:VEVENT/g)?.length).toBe(await times.getByRole('listitem').count())
    await page.setViewportSize({ width: 1280, height: 800 })
    await page.goto('/day')
  })

  await test.step('a session is moved by keys, told with what it breaks, taken back, and locked', async () => {
    await page.getByRole('link', { name: 'Plan it' }).click()
    const board = page.getByRole('region', { name: 'The plan', exact: true })
    const result = page.getByRole('status', { name: 'What the change does' })
    await board.getByRole('button', { name: 'Students', exact: true }).click()
    const bar = board.getByRole('button', { name: /Ride-along · Bram Holliskay/ }).first()
    const at = (await bar.getAttribute('aria-label')) ?? ''
    await bar.click()
    const editor = page.getByRole('region', { name: 'Chosen on the board' })
    await expect(editor).toContainText(at.slice(0, 11))
    // Before the briefing is over nobody drives, and the track is closed.
    const minutes = Number(at.slice(0, 2)) * 60 + Number(at.slice(3, 5)) - 540
    for (let moved = 0; moved < minutes; moved += 5) await editor.getByRole('button', { name: '5 min earlier' }).click()
    await expect(editor).toContainText('09:00–09:20')
    await expect(result).toContainText('is closed then')
    for (let moved = 0; moved < minutes; moved += 5) await page.getByRole('button', { name: 'Undo' }).click()
    await expect(result).toContainText('It fits')
    await board
      .getByRole('button', { name: /Ride-along · Bram Holliskay/ })
      .first()
      .focus()
    await page.keyboard.press('ArrowRight')
    await expect(editor).not.toContainText(at.slice(0, 11))
    await page.getByRole('button', { name: 'Undo' }).click()
    await board
      .getByRole('button', { name: /Ride-along · Bram Holliskay/ })
      .first()
      .click()
    await editor.getByRole('button', { name: 'Lock it here' }).click()
    await expect(editor.getByRole('button', { name: '5 min later' })).toBeDisabled()
  })

  await test.step('what is announced stays what people know until the changes are announced, and each is told what changed', async () => {
    const announcing = page.getByRole('region', { name: 'Announcing' })
    await announcing.getByRole('button', { name: 'Announce it to all' }).click()
    await expect(announcing).toContainText('nothing has changed since')
    const board = page.getByRole('region', { name: 'The plan', exact: true })
    await board
      .getByRole('button', { name: /Ride-along · Imke Valderan/ })
      .first()
      .click()
    const editor = page.getByRole('region', { name: 'Chosen on the board' })
    const before = ((await editor.textContent()) ?? '').slice(0, 11)
    await editor.getByRole('combobox', { name: 'Change places with' }).click()
    await page
      .getByRole('option', { name: /Tomas Wrenfield/ })
      .first()
      .click()
    await expect(announcing).toContainText(/Proposed, not announced: other times than at \d\d:\d\d for .*Imke Valderan/)
    const phone = await page.context().newPage()
    await phone.setViewportSize({ width: 390, height: 844 })
    await phone.goto(link)
    const times = phone.getByRole('region', { name: 'Your times' })
    await expect(times).toContainText(before)
    await expect(phone.getByRole('status', { name: /^Changed at/ })).toHaveCount(0)
    await announcing.getByRole('button', { name: 'Announce the changes to all' }).click()
    await expect(announcing).toContainText('nothing has changed since')
    await expect(async () => {
      await phone.reload()
      await expect(phone.getByRole('status', { name: /^Changed at/ })).toContainText(`${before} Drive`, { timeout: 5000 })
    }).toPass()
    await expect(phone.getByRole('status', { name: /^Changed at/ })).toContainText('no longer')
    await phone.close()
    await announcing.getByRole('button', { name: 'Let them follow every change' }).click()
    for (let k = 0; k < 4; k++) await page.getByRole('button', { name: 'Undo' }).click()
    await expect(announcing).toContainText('Nothing is announced yet')
  })

  await test.step('two plans are compared by what they give', async () => {
    for (const name of ['A', 'B']) {
      await page.getByRole('button', { name: 'Plan the day' }).click()
      await expect(proposal).toBeVisible()
      await page.getByRole('button', { name: 'Stop, keep this plan' }).click()
      await page.getByRole('button', { name: 'Keep it beside others' }).click()
      await expect(page.getByRole('table', { name: 'Plans side by side' })).toContainText(`Plan ${name}: as the rules say`)
    }
    const compared = page.getByRole('table', { name: 'Plans side by side' })
    await expect(compared.getByRole('row', { name: /^Left out/ })).toContainText('00')
    await compared.getByRole('button', { name: 'Drop plan A' }).click()
    await compared.getByRole('button', { name: 'Drop plan B' }).click()
    await page.getByRole('button', { name: 'Drop it', exact: true }).click()
  })

  await test.step('a car drops out and somebody is late: the new plan says whom it changes', async () => {
    await page.getByRole('link', { name: 'Plan it' }).click()
    const differs = page.getByRole('region', { name: 'What differs' })
    await differs.getByRole('textbox', { name: 'At' }).fill('13:00')
    await differs.getByRole('textbox', { name: 'At' }).blur()
    await differs.getByRole('button', { name: 'Add it' }).click()
    await expect(differs).toContainText('comes at 13:00')
    await page.getByRole('button', { name: 'Plan the day' }).click()

    await expect(what).toContainText(/(people change|person changes) against the plan in use/)
    await page.getByRole('button', { name: 'Use this plan' }).click()
    await expect(page.getByRole('region', { name: 'The plan' })).toBeVisible()
  })

  await test.step('a board for the paddock shows first names by its link, until it is withdrawn', async () => {
    await page.getByRole('button', { name: 'A board for the paddock' }).click()
    const board = page.getByRole('region', { name: 'Board in the paddock' })
    const address = (await board.getByRole('link', { name: 'Open here: Board in the paddock' }).getAttribute('href')) ?? ''
    const screen = await page.context().newPage()
    await expect(async () => {
      await screen.goto(address)
      await expect(screen.getByRole('list').getByRole('listitem')).toHaveCount(8, { timeout: 2000 })
    }).toPass()
    await expect(screen.getByRole('main')).not.toContainText('Holliskay')
    await screen.close()
    await board.getByRole('button', { name: 'Withdraw the board’s link' }).click()
    await expect(page.getByRole('button', { name: 'A board for the paddock' })).toBeVisible()
    for (let k = 0; k < 2; k++) await page.getByRole('button', { name: 'Undo' }).click()
  })

  await test.step('a step back takes the plan away again', async () => {
    await page.getByRole('button', { name: 'Undo' }).click()
    await page.getByRole('link', { name: 'The day', exact: true }).click()
    await expect(page.getByRole('table', { name: 'Run list' }).getByRole('row', { name: /Ride-along/ })).toHaveCount(24)
  })

  await test.step('on the pit wall what happens is one touch, and the rest of the day is planned anew', async () => {
    await page.goto('/run/pit-wall')
    const today = page.getByRole('region', { name: 'The day', exact: true })
    const rest = today.getByRole('status', { name: 'The rest of the day' })
    await expect(rest).toBeVisible()
    await today.getByRole('button', { name: /Safiya Brandreth is away/ }).click()
    await today.getByRole('button', { name: 'Car 3 is out' }).click()
    await today.getByRole('button', { name: 'It rains, for an hour' }).click()
    await expect(rest).toContainText('The rest of the day does not fit')
    await expect(rest).toContainText('Safiya Brandreth: is away')
    // A busy machine draws what was touched a moment later; the search takes what is drawn.
    await expect(today.getByRole('button', { name: 'The rain is over' })).toBeVisible()
    await expect(today.getByRole('button', { name: 'Car 3 is out' })).toBeDisabled()
    await today.getByRole('button', { name: 'Plan the rest of the day' }).click()
    const changes = today.getByRole('group', { name: 'What changes for whom' })
    await expect(changes).toContainText('→')
    const use = today.getByRole('button', { name: 'Use it and announce it' })
    await expect(use).toBeEnabled()
    await use.click()
    await expect(rest).toContainText('fits as it is planned')
    await expect(today.getByRole('list', { name: 'Due now' })).not.toContainText('Safiya')
    for (let k = 0; k < 4; k++) await today.getByRole('button', { name: 'Undo' }).click()
    await expect(today.getByRole('button', { name: 'Car 3 is out' })).toBeEnabled()
  })
})
