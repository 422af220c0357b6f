import type { Page } from '@playwright/test'
import { conesHere, planHere, sheetHere } from './demo-plan.ts'
import { choose, enterDemo, expect, openStage, test } from './page-fixture.ts'

test.use({ baseURL: 'http://localhost:4194' })
test.describe.configure({ mode: 'serial' })

const settings = { surface: 'dry', pace: 0.6, school: 'straight' } as const

/** Pages of the PDF that a page prints to, and by how much it is wider than its paper (px). */
const printed = async (page: Page): Promise<{ pages: number; overflow: number }> => {
  await page.emulateMedia({ media: 'print' })
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)
  const pdf = (await page.pdf({ preferCSSPageSize: true, printBackground: true })).toString('latin1')
  await page.emulateMedia({ media: 'screen' })
  return { pages: pdf.match(/\/Type\s*\/Page\b/g)?.length ?? 0, overflow }
}

test('cones follow dry and wet, keep what a hand did, and say why they are out of date', async ({ page }) => {
  const dry = planHere(settings)
  await enterDemo(page)
  await openStage(page, 'Cones')
  const sheet = page.getByRole('table', { name: 'Laying sheet' })
  const rowsOf = async (): Promise<string[]> => (await sheet.getByRole('row').allInnerTexts()).slice(1).map((t) => t.replace(/\s+/g, ' '))
  /** Metres from the cone before, as the sheet shows them. */
  const fromLast = (rows: readonly string[]): number[] => rows.map((r) => Number(/ (\d+) m(?: | at )/.exec(r)?.[1]))

  await test.step('the sheet is the core’s, dry and wet', async () => {
    for (const surface of ['wet', 'dry'] as const) {
      await choose(page, 'Surface', surface === 'wet' ? 'Wet' : 'Dry')
      const expected = sheetHere(planHere({ ...settings, surface }))
      await expect.poll(async () => fromLast(await rowsOf())).toEqual(expected.map((r) => Math.round(r.fromLast_m)))
    }
  })

  const brake = sheet.getByRole('row', { name: /Boathouse Brake/ }).last()
  const difference = page.getByRole('status', { name: 'Difference to the computed place' })
  await test.step('a nudge shows its metres and its grace, a lock stays when the surface changes', async () => {
    await page.getByRole('button', { name: 'Settle these cones' }).click()
    await brake.click()
    await expect(difference).toContainText('+0.0 m along')
    await page.getByRole('button', { name: '5 m earlier' }).click()
    const speed = dry.marks.find((m) => m.cornerId === 'T1' && m.kind === 'brake')?.speed_mps ?? 1
    await expect(difference).toContainText(`−5.0 m along, +0.0 m out, +${(5 / speed).toFixed(2)} s of grace`)
    await page.getByRole('button', { name: 'Lock here' }).click()
    await choose(page, 'Surface', 'Wet')
    const cone = (plan: typeof dry, nudge_m: number) =>
      conesHere(plan, { nudges: { 'T1-brake': { along_m: nudge_m, across_m: 0 } }, locks: {} }).find((c) => c.id === 'T1-brake-2')
        ?.station_m ?? 0
    const moved = cone(dry, -5) - cone(planHere({ ...settings, surface: 'wet' }), 0)
    await expect(difference).toContainText(`+${moved.toFixed(1)} m along`)
    await expect(difference).toContainText(/−\d\.\d\d s of grace/)
    await expect(page.getByText('are out of date: surface: dry, now wet')).toBeVisible()
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')
    await expect(difference).toContainText('+0.0 m along')
    await choose(page, 'Surface', 'Dry')
    await expect(page.getByText('are out of date')).toHaveCount(0)
  })

  await test.step('for several vehicles, the table says how long each waits from the cone', async () => {
    await page.getByRole('button', { name: 'For whom' }).click()
    await expect(page.getByRole('table', { name: 'Shared cones' })).toContainText(/from the cone, wait \d\.\d s/)
    await page.getByRole('button', { name: 'Remove' }).click()
    await expect(page.getByRole('table', { name: 'Shared cones' })).toHaveCount(0)
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(page.getByRole('table', { name: 'Shared cones' })).toBeVisible()
  })

  await test.step('a scheme of our own without brake cones is told so, and a colour that runs out drops the least worth', async () => {
    await page.getByRole('link', { name: 'Schemes and stock' }).click()
    await page.getByRole('button', { name: 'Make our own from it' }).click()
    await page
      .getByRole('row', { name: /^Brake/ })
      .getByRole('button', { name: 'No cone' })
      .click()
    await expect(page.getByRole('note')).toContainText('No cone stands for braking')
    await page.getByRole('button', { name: 'Remove this scheme' }).click()
    await page.getByLabel('Cones in pink').fill('5')
    await page.getByLabel('Cones in pink').blur()
    await page.getByRole('link', { name: 'Plan', exact: true }).click()
    await expect(page.getByText(/2 pink cones are missing\. Left out, least worth first: exit at /)).toBeVisible()
    await expect(page.getByText('5 of 5 pink')).toBeVisible()
    await page.getByRole('link', { name: 'Schemes and stock' }).click()
    await page.getByLabel('Cones in pink').fill('9')
    await page.getByLabel('Cones in pink').blur()
  })
})

test('two cones are laid on the tablet with their errors, one is found knocked over', async ({ page, context, allowed }) => {
  allowed.allow(/ERR_INTERNET_DISCONNECTED|Failed to load resource/)
  await enterDemo(page)
  await page.setViewportSize({ width: 820, height: 1180 })
  await page.goto('/cones/lay')
  const next = page.getByRole('region', { name: 'Next cone' })
  const laid = page.getByRole('status', { name: 'Laid so far' })
  const rows = sheetHere(planHere(settings))
  for (const number of [1, 2]) {
    await expect(next).toContainText(`${number} `)
    await expect(next).toContainText(
      `${rows[number - 1].cone.colour} ${rows[number - 1].cone.shape}, ${rows[number - 1].cone.roadSide} side`,
    )
    await page.getByRole('button', { name: 'Drive to it' }).click()
    await expect(page.getByRole('status', { name: 'Distance to the place' })).toContainText(/^0\.\d\d m off/)
    // The network is gone for the second: the touch counts all the same.
    if (number === 2) await context.setOffline(true)
    await page.getByRole('button', { name: 'Put down here' }).click()
    await expect(laid).toHaveText(`${number} of ${rows.length} laid`)
    await expect(page.getByRole('status', { name: 'Last laid' })).toContainText(/laid, 0\.\d\d m off its place/)
  }
  await expect(page.getByText('1 kept here, waiting')).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByText('all sent')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(laid).toHaveText(`1 of ${rows.length} laid`)
  await page.reload()
  await expect(laid).toHaveText(`1 of ${rows.length} laid`)
  await page.goto('/cones/check')
  const list = page.getByRole('list', { name: 'Cones to look at' })
  await expect(list.getByRole('listitem')).toHaveCount(rows.length)
  await list.getByRole('button', { name: 'No. 3 knocked over' }).click()
  await expect(list.getByRole('listitem').first()).toContainText('knocked over at')
  await list.getByRole('button', { name: 'Put right again' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'none known to stand wrong' })).toBeVisible()
})

test('calls are dragged, silenced and rehearsed', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/brief/calls')
  const sheet = page.getByRole('table', { name: 'Call sheet' })
  const brake = sheet.getByRole('row', { name: /^Boathouse Brake/ })
  await expect(brake).toContainText('brake firmly now')
  await test.step('a call that is silenced is listed with its reason and can come back', async () => {
    await brake.getByRole('button', { name: 'Silence' }).click()
    await expect(brake).toHaveCount(0)
    await expect(page.getByText('silenced by hand')).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(brake).toBeVisible()
  })
  await test.step('dragging its bar up the road says it earlier', async () => {
    const before = Number(/(\d+\.\d) s/.exec(await brake.innerText())?.[1])
    const bar = page.locator('g[style*="ew-resize"]').first()
    const box = await bar.boundingBox()
    if (!box) throw new Error('no bar')
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
    await page.mouse.down()
    await page.mouse.move(box.x + box.width / 2 - 12, box.y + box.height / 2, { steps: 4 })
    await page.mouse.up()
    await expect.poll(async () => Number(/(\d+\.\d) s/.exec(await brake.innerText())?.[1])).toBeGreaterThan(before)
    await page.keyboard.press('Control+z')
  })
  await test.step('another book and language change every phrase', async () => {
    await choose(page, 'Phrase book', /Ruhig/)
    await expect(brake).toContainText('jetzt fest bremsen')
    await choose(page, 'Phrase book', /Plain/)
    await expect(brake).toContainText('brake firmly now')
  })
  await test.step('a rehearsed lap is judged call by call', async () => {
    await page.getByRole('link', { name: 'Rehearse' }).click()
    // At its own speed, so that a slow machine presses no later than a slow person would.
    await page.getByRole('button', { name: 'Drive the lap' }).click()
    await expect(page.getByRole('region', { name: 'Call now' })).toContainText('your next call, at Reedbank')
    await page.keyboard.press('Space')
    await expect(page.getByText('1 called on this lap')).toBeVisible()
    await page.getByRole('button', { name: 'Finish and judge' }).click()
    await expect(page.getByRole('region', { name: 'How the lap was called' })).toContainText(
      /1 of 1 called, on average (on the moment|\d\.\d s (early|late))/,
    )
    await expect(page.getByRole('region', { name: 'How the lap was called' })).toContainText('Boathouse, brake')
  })
})

test('a briefing is arranged, presented in two windows, and printed', async ({ page, context }) => {
  await enterDemo(page)
  await openStage(page, 'Brief')
  const pages = page.getByRole('list', { name: 'Pages of the briefing' })
  await test.step('a page of our own, moved and hidden, with Markdown made safe', async () => {
    await page.getByRole('button', { name: 'Add our own page' }).click()
    await page.getByLabel('Title').fill('Lunch')
    await page.getByLabel('Title').blur()
    await page.getByLabel('Text (Markdown)').fill('**Soup** <img src=x onerror=alert(1)>')
    await page.getByLabel('Text (Markdown)').blur()
    await expect(page.getByLabel('How it reads').locator('strong')).toHaveText('Soup')
    await expect(page.getByLabel('How it reads').locator('img')).toHaveCount(0)
    await page.getByRole('button', { name: 'Lunch earlier' }).click()
    await page.getByLabel('Told in the briefing').uncheck()
    await expect(page.getByText('27 pages, made from this plan')).toBeVisible()
    for (let k = 0; k < 5; k++) await page.getByRole('button', { name: 'Undo' }).click()
    await expect(pages.getByRole('listitem')).toHaveCount(27)
  })
  await test.step('the projector follows the presenter, and a typed number jumps to its corner', async () => {
    await page.getByRole('link', { name: 'Presenter’s window' }).click()
    const opened = context.waitForEvent('page')
    await page.getByRole('button', { name: 'Open the projector’s window' }).click()
    const projector = await opened
    await expect(projector.getByRole('heading', { name: 'Safety first' })).toBeVisible()
    await page.getByRole('button', { name: /^Next: / }).click()
    await expect(projector.getByRole('heading', { name: 'Rules at Ostrel Mere' })).toBeVisible()
    await page.keyboard.type('6')
    await expect(projector.getByRole('heading', { name: '6 The Staithe' })).toBeVisible()
    await expect(page.getByLabel('My notes on this page')).toHaveValue(/eyes to the post/)
    await page.getByLabel('New question').fill('Where is the post?')
    await page.getByLabel('Answer', { exact: true }).fill('Left, white.')
    await page.getByRole('button', { name: 'Keep' }).click()
    await expect(page.getByRole('region', { name: 'Questions asked' })).toContainText('Where is the post?')
    await projector.keyboard.press('ArrowRight')
    await expect(page.getByText(/page 19 of \d+/)).toBeVisible()
    await projector.close()
  })
  await test.step('the sighting lap plays with what comes', async () => {
    await page.goto('/brief/present?page=12')
    await expect(page.getByRole('heading', { name: 'The sighting lap' })).toBeVisible()
    await page.keyboard.press('f')
    await page.keyboard.press('f')
    await page.keyboard.press('p')
    await expect(page.getByText('Seam across the road')).toBeVisible()
    await expect(page.getByRole('status')).toHaveText('2 Reedbank')
  })
  await test.step('hand-out, pocket card and laying sheet fit their papers, in the student’s language and units', async () => {
    await page.goto('/brief/card?student=hal-brackenbury')
    await expect(page.getByRole('region', { name: 'Pocket card 1' })).toContainText('for Hal Brackenbury')
    await expect(page.getByRole('region', { name: 'Pocket card 1' })).toContainText(/\d+ mph/)
    expect(await printed(page)).toEqual({ pages: 2, overflow: 0 })
    for (const card of await page.getByRole('region', { name: /Pocket card/ }).all())
      expect(await card.evaluate((node) => node.scrollHeight - node.clientHeight)).toBeLessThanOrEqual(1)
    await page.goto('/brief/handout?student=odalys-merrow')
    await expect(page.getByRole('heading', { name: 'Sicherheit zuerst' })).toBeVisible()
    const handout = await printed(page)
    expect(handout.overflow).toBeLessThanOrEqual(0)
    expect(handout.pages).toBeGreaterThanOrEqual(3)
    expect(handout.pages).toBeLessThanOrEqual(6)
  })
})

test('a student takes the quiz on a phone, and the instructor sees the gaps before the run', async ({ page, browser }) => {
  await enterDemo(page)
  await page.goto('/brief/students')
  const table = page.getByRole('table', { name: 'Students of the day' })
  await page.getByRole('button', { name: 'Give Rashid Okonwe a link' }).click()
  const address = await page.getByRole('region', { name: 'About Rashid Okonwe' }).getByRole('link', { name: /\/s\// }).getAttribute('href')
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage()
  await phone.goto(address ?? '')
  await expect(phone.getByRole('heading', { name: 'Hello Rashid' })).toBeVisible()
  await test.step('acknowledges, and tells about himself', async () => {
    await phone.getByRole('button', { name: /^Pits and passing/ }).click()
    await phone.getByRole('button', { name: 'I have heard and understood this' }).click()
    await expect(phone.getByRole('button', { name: /Pits and passing acknowledged at/ })).toBeVisible()
    await phone.getByRole('button', { name: 'Osier' }).click()
    await phone.getByRole('button', { name: 'Keep this' }).click()
    await expect(phone.getByRole('button', { name: 'Kept.' })).toBeVisible()
  })
  await test.step('answers a round: every form of question tells what is right', async () => {
    const quiz = phone.getByRole('region', { name: 'What do you remember?' })
    await quiz.getByRole('button', { name: 'More questions' }).click()
    for (let question = 1; question <= 6; question++) {
      await expect(quiz.getByRole('heading', { level: 3 })).toBeVisible()
      const sure = quiz.getByRole('button', { name: 'Sure' })
      const picture = quiz.getByRole('img')
      if ((await sure.count()) > 0 && (await picture.count()) > 0) {
        await picture.click({ position: { x: 30, y: 30 } })
        await sure.click()
      } else if ((await sure.count()) > 0) {
        const choices = quiz.getByRole('button').filter({ hasNotText: 'Sure' })
        for (const choice of await choices.all()) await choice.click()
        await sure.click()
      } else await quiz.getByRole('button').first().click()
      await expect(quiz.getByRole('status')).toContainText(/Right\.|Not quite\./)
      expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
      await quiz.getByRole('button', { name: 'Next' }).click()
    }
    await expect(quiz).toContainText(/\d of 8 right so far/)
  })
  await test.step('the lead sees it, and a withdrawn link is dead', async () => {
    await page.reload()
    await expect(table.getByRole('row', { name: /Rashid Okonwe/ })).toContainText(/\d of 8/)
    await expect(table.getByRole('row', { name: /Rashid Okonwe/ })).toContainText('3 of 7')
    await page.getByRole('button', { name: 'Rashid Okonwe', exact: true }).click()
    await expect(page.getByRole('region', { name: 'About Rashid Okonwe' })).toContainText('Feels wrong at: The Staithe, Osier')
    await table
      .getByRole('row', { name: /Rashid Okonwe/ })
      .getByRole('button', { name: 'Withdraw' })
      .click()
    await expect(page.getByRole('button', { name: 'Give Rashid Okonwe a link' })).toBeVisible()
    await phone.reload()
    await expect(phone.getByRole('alert')).toContainText('This link is not valid any more.')
  })
  await test.step('gaps stand before the run', async () => {
    await openStage(page, 'Run')
    await page
      .getByRole('row', { name: /Imke Valderan/ })
      .or(page.getByText('Imke Valderan'))
      .first()
      .waitFor()
    await page.getByRole('button', { name: 'Start the run' }).first().click()
    await expect(page.getByRole('region', { name: 'Before the run' })).toContainText('Not remembered yet: ')
    await expect(page.getByRole('region', { name: 'Before the run' })).toContainText('Long Heron')
  })
  await phone.context().close()
})
