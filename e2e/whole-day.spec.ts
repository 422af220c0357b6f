import { lapTimesHere, planHere, sheetHere } from './demo-plan.ts'
import {
  enterDemo,
  expect,
  lapButtons,
  lookOver,
  openStage,
  positionsFrom,
  sendOut,
  shownLapTimes,
  startRunOf,
  test,
} from './page-fixture.ts'
import { addressOf } from './ports.ts'

test.use({ baseURL: addressOf('day') })

test('one instructor takes one student through a day', async ({ page }) => {
  const settings = { surface: 'dry', pace: 0.6, school: 'straight' } as const
  const plan = planHere(settings)
  await enterDemo(page)

  await test.step('the circuit shows its corners, and keys step through them', async () => {
    const corners = page.getByRole('table', { name: 'Corners' })
    await expect(corners.getByRole('row')).toHaveCount(12)
    await expect(corners).toContainText('3 Long Heron')
    await page.keyboard.press('Shift+ArrowRight')
    const card = page.getByRole('region', { name: 'Corner card Boathouse' })
    await expect(card).toContainText('Right corner, radius 30 m, turns 98°')
    const brake = plan.marks.find((m) => m.cornerId === 'T1' && m.kind === 'brake')
    await expect(card.getByRole('row', { name: /^Brake/ })).toContainText(`${Math.round(brake?.station_m ?? 0)} m`)
    await page.keyboard.press('Escape')
    await expect(corners).toBeVisible()
  })

  await test.step('the cones stand where the core puts them, and leave as a table', async () => {
    await openStage(page, 'Cones')
    const rows = sheetHere(plan)
    const sheet = page.getByRole('table', { name: 'Laying sheet' })
    await expect(sheet.getByRole('row')).toHaveCount(rows.length + 1)
    await page.getByRole('button', { name: 'Save as …' }).click()
    const download = page.waitForEvent('download')
    await page.getByRole('menuitem', { name: 'CSV table' }).click()
    let text = ''
    for await (const chunk of await (await download).createReadStream()) text += chunk
    const lines = text.trim().split('\n').slice(1)
    expect(lines.map((l) => l.split(',')[6])).toEqual(rows.map((r) => r.cone.station_m.toFixed(1)))
  })

  await test.step('the briefing begins with safety and turns by arrow keys', async () => {
    await openStage(page, 'Brief')
    await page.getByRole('link', { name: 'Present', exact: true }).click()
    await expect(page.getByRole('heading', { name: 'Safety first', level: 1 })).toBeVisible()
    await page.keyboard.press('ArrowRight')
    await expect(page.getByRole('heading', { name: 'Rules at Ostrel Mere' })).toBeVisible()
    await page.keyboard.type('11')
    await expect(page.getByRole('heading', { name: '11 Lantern' })).toBeVisible()
    await page.keyboard.press('Escape')
  })

  await test.step('the run starts from the run list', async () => {
    await startRunOf(page, 'Imke Valderan')
    await page.getByRole('button', { name: 'Mirrors, the instructor’s too' }).click()
    await expect(page.getByRole('button', { name: 'Log 1 not OK' })).toBeVisible()
    await page.getByRole('button', { name: 'Mirrors, the instructor’s too: not OK' }).click()
    await lookOver(page)
    await expect(page.getByRole('status', { name: 'Checked' })).toContainText('all OK')
    await page.getByRole('group', { name: 'Sighting lap' }).getByRole('button', { name: 'none' }).click()
    await page.getByRole('group', { name: 'Cool-down lap' }).getByRole('button', { name: 'none' }).click()
    await page.getByRole('group', { name: 'Laps', exact: true }).getByRole('button', { name: '2', exact: true }).click()
    await positionsFrom(page, '×8')
    await sendOut(page)
  })
  const runId = page.url().split('/').at(-1) ?? ''
  /** The corner that the touch was logged at: on a slow machine the car may have gone on to the next one. */
  let touched = 'Boathouse'

  await test.step('calls come, mistakes are one key or one touch, and a reload loses none', async () => {
    await expect(page.getByRole('heading', { name: 'Lap 1 of 2' })).toBeVisible()
    await expect(page.getByRole('region', { name: 'Next call' })).toContainText(/\d+ m/)
    const last = page.getByRole('status', { name: 'Last logged' })
    const wrong = page.getByRole('region', { name: 'What went wrong' })
    await expect(wrong).toContainText('Just driven: Boathouse')
    await expect(wrong.getByRole('button')).toHaveCount(6)
    await page.keyboard.press('3')
    await expect(last).toContainText('1 in this run')
    const logged = await last.innerText()
    touched = / at (.+), lap /.exec(logged)?.[1] ?? touched
    await wrong.getByRole('button').first().click()
    await expect(last).toContainText('2 in this run')
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(last).toHaveText(logged)
    await page.reload()
    await expect(last).toHaveText(logged)
    await expect(page.getByText('all sent')).toBeVisible()
  })

  await test.step('the debrief holds its laps to 0.02 s, and what was logged', async () => {
    await expect(page.getByText('The car is back in the pits.')).toBeVisible({ timeout: 60_000 })
    await page.getByRole('button', { name: 'Brakes: keep an eye on' }).click()
    await page.getByRole('button', { name: 'Tyres: good' }).click()
    await page.getByRole('button', { name: 'Anything else: good' }).click()
    await expect(page.getByRole('status', { name: 'The car' })).toContainText('brakes: keep an eye on')
    await page.getByRole('button', { name: 'End the run' }).click()
    const account = page.getByRole('region', { name: 'Own account' })
    await account.getByRole('group', { name: 'Which corner felt best?' }).getByRole('button', { name: 'Lantern' }).click()
    await account.getByRole('group', { name: 'Which felt worst?' }).getByRole('button', { name: 'Osier' }).click()
    await account.getByRole('button', { name: 'Busy' }).click()
    await expect(page.getByText('best: Lantern · worst: Osier · “busy”')).toBeVisible()
    await expect(lapButtons(page)).toHaveCount(2)
    const logged = await page.evaluate((id) => fetch(`/api/runs/${id}/events`).then((r) => r.json()), runId)
    const undone = new Set(logged.map((e: { undoes?: string }) => e.undoes))
    const corrected = logged.filter((e: { kind: string; id: string }) => e.kind === 'observation' && !undone.has(e.id))
    const expected = lapTimesHere(plan, runId, 'imke-valderan', 2, corrected)
    const shown = await shownLapTimes(page)
    for (const [i, time] of expected.entries()) expect(Math.abs(shown[i] - time)).toBeLessThan(0.02)
    const corner = page.getByRole('region', { name: 'Findings by corner' }).getByRole('article', { name: touched })
    await expect(corner).toContainText(/logged in the car/)
  })

  await test.step('the student sheet is one page of A4', async () => {
    await page.getByRole('link', { name: 'Student sheet' }).click()
    await expect(page.getByRole('heading', { name: 'Imke Valderan' })).toBeVisible()
    await expect(page.getByText('Only this:')).toBeVisible()
    const pdf = (await page.pdf({ preferCSSPageSize: true, printBackground: true })).toString('latin1')
    expect(pdf.match(/\/Type\s*\/Page\b/g)).toHaveLength(1)
  })

  await test.step('the record remembers', async () => {
    await page.goto('/record/imke-valderan')
    await expect(page.getByRole('region', { name: 'Next focus' })).toBeVisible()
    await page.getByRole('link', { name: 'Mistakes and corrections' }).click()
    await expect(page.getByRole('region', { name: 'Mistakes by corner over runs' })).toContainText(touched)
    await page.getByRole('link', { name: 'Runs', exact: true }).click()
    await expect(page.getByRole('region', { name: 'Runs', exact: true })).toContainText(/\d in the car, \d by both/)
  })
})
