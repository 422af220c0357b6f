import { simulateDrive, writeLogCsv } from '@ochote/core'
import { planHere } from './demo-plan.ts'
import { enterDemo, expect, openDebrief, test } from './page-fixture.ts'
import { addressOf } from './ports.ts'

test.use({ baseURL: addressOf('day') })

const plan = planHere({ surface: 'dry', pace: 0.6, school: 'straight' })

test('a student’s record: a focus overruled, a skill confirmed, a hand-over rewritten, all of it told and taken home as a table', async ({
  page,
}) => {
  await enterDemo(page)
  await page.goto('/record/bram-holliskay')
  const focus = page.getByRole('region', { name: 'Next focus' })
  await expect(focus).toContainText('Chosen because')
  await expect(focus).toContainText(/stuck \d+ of \d+/)

  await test.step('the focus is set by hand with a note, and goes back', async () => {
    await focus.getByRole('button', { name: 'Choose another' }).click()
    await focus.getByRole('combobox', { name: 'Corner' }).click()
    await page.getByRole('option', { name: 'Weir' }).click()
    await focus.getByLabel('Why this one').fill('He asked for it')
    await focus.getByRole('button', { name: 'Set the focus' }).click()
    await expect(focus).toContainText('Weir: looking too close')
    await expect(focus).toContainText('He asked for it')
    await page.reload()
    await expect(focus).toContainText('Next focus, set by hand')
    await focus.getByRole('button', { name: 'Use the suggestion' }).click()
    await expect(focus).toContainText('Chosen because')
  })

  await test.step('a skill that the record shows is confirmed by a person', async () => {
    const row = page.getByRole('region', { name: 'Skills and level' }).getByRole('row', { name: /^turn-in/ })
    await expect(row).toContainText('10 of 10 (79 to 100%)')
    await row.getByRole('button', { name: 'Confirm turn-in' }).click()
    await expect(row).toContainText('confirmed')
  })

  await test.step('the hand-over is made from the record and may be rewritten', async () => {
    const box = page.getByRole('region', { name: 'Hand-over' })
    await expect(box).toContainText('5 runs on 5 days, 20 laps looked at')
    await box.getByRole('button', { name: 'Rewrite' }).click()
    await box.getByRole('textbox', { name: 'Hand-over' }).fill('Let him find the braking place alone.')
    await box.getByRole('button', { name: 'Save' }).click()
    await expect(box).toContainText('Let him find the braking place alone.')
    await expect(box).toContainText('written')
  })

  await test.step('all of it is listed with who decided it', async () => {
    await page.getByRole('link', { name: 'Runs', exact: true }).click()
    const decided = page.getByRole('region', { name: 'Decided' })
    await expect(decided).toContainText('Marit Oakhanger: confirmed turn-in')
    await expect(decided).toContainText('set the focus to Weir, looking too close: He asked for it')
    const saving = page.waitForEvent('download')
    await page.getByRole('button', { name: 'CSV' }).click()
    const file = await saving
    const text = await (await file.createReadStream()).toArray()
    const rows = Buffer.concat(text).toString('utf8').trim().split('\n')
    expect(rows[0]).toContain('brake_later_m')
    expect(rows.length).toBe(1 + 5 * 4 * 11)
  })

  await test.step('mistakes show corner by skill, corrections with what stuck, and what days between took', async () => {
    await page.getByRole('link', { name: 'Mistakes and corrections' }).click()
    await expect(page.getByRole('region', { name: 'Corrections that stuck' }).getByRole('row').nth(1)).toContainText(
      /\d+ of \d+ \(\d+ to \d+%\)/,
    )
    await expect(page.getByRole('region', { name: 'Between days' }).getByRole('row')).toHaveCount(5)
    await expect(page.getByRole('region', { name: 'Corner by skill over runs' }).getByRole('img').first()).toBeVisible()
  })
})

test('a student sends a log from afar, the instructor answers with a note and a still, and the student reads it without signing in', async ({
  page,
  browser,
  allowed,
}) => {
  allowed.allow(/Failed to load resource/)
  await enterDemo(page)
  const drive = simulateDrive(plan, {
    laps: 3,
    seed: 5,
    noise_m: 0.1,
    habits: [{ cornerId: 'T1', code: 'brake-early', probability: 1, size: 45 }],
  })
  const { token } = await page.evaluate(async () =>
    (await fetch('/api/days/day-2027-05-15/links/yuna-tressider', { method: 'POST' })).json(),
  )
  const phone = await browser.newPage({ viewport: { width: 390, height: 844 } })

  await test.step('the log goes out from the phone', async () => {
    await phone.goto(`${addressOf('day')}/s/${token}`)
    const drives = phone.getByRole('region', { name: 'Your runs' })
    await drives
      .getByLabel('Send in a log')
      .setInputFiles({ name: 'evening.csv', mimeType: 'text/csv', buffer: Buffer.from(writeLogCsv(drive.log)) })
    await expect(drives).toContainText('It has arrived')
    await expect(drives).toContainText('Sent in, not answered yet')
  })

  await test.step('the instructor finds it, ties a video to it, steps a picture on, and draws on a still', async () => {
    await page.goto('/debrief')
    await page.getByRole('link', { name: /Yuna Tressider.*sent in by the student/ }).click()
    await expect(page.getByRole('article', { name: 'Boathouse' }).first()).toContainText(/[23] of 3 laps/)
    await expect(page.getByRole('region', { name: 'Held against' })).toContainText(
      /Held against the plan in \w+ braking style on the \w+ line at \d+% pace: of all styles, lines and paces it explains this drive best\./,
    )
    const video = page.getByRole('region', { name: 'Video' })
    await video
      .getByLabel('Open a video beside the log')
      .setInputFiles({ name: 'on-board.webm', mimeType: 'video/webm', buffer: await shortVideo(page) })
    await page.getByRole('article', { name: 'Boathouse' }).first().click()
    await video.getByRole('button', { name: /^This picture is at \d+ m of lap 1$/ }).click()
    await expect(video).toContainText('Tied: the video begins')
    const time = () => video.locator('video').evaluate((v: HTMLVideoElement) => v.currentTime)
    const before = await time()
    await video.getByRole('button', { name: 'Frame on' }).click()
    await expect.poll(async () => Math.round(1000 * ((await time()) - before))).toBe(40)
    await video.getByRole('button', { name: 'Draw on this frame' }).click()
    const still = video.getByAltText('The still')
    await still.scrollIntoViewIfNeeded()
    const box = await still.boundingBox()
    if (!box) throw new Error('no still')
    await page.mouse.move(box.x + 30, box.y + 30)
    await page.mouse.down()
    await page.mouse.move(box.x + 150, box.y + 90, { steps: 4 })
    await page.mouse.up()
    await video.getByLabel('Caption').fill('Hold on until here')
    await video.getByRole('button', { name: 'Save the frame' }).click()
    await expect(page.getByAltText('Still: Hold on until here')).toBeVisible()
  })

  await test.step('until the instructor has looked, the student sees laps and traces alone', async () => {
    await phone.reload()
    await phone
      .getByRole('region', { name: 'Your runs' })
      .getByRole('article')
      .filter({ hasText: 'One note' })
      .getByRole('link', { name: 'Look back' })
      .click()
    await expect(phone.getByText('Your instructor has not looked at this log yet.')).toBeVisible()
    await expect(phone.getByRole('article', { name: 'Boathouse' })).toHaveCount(0)
    await expect(phone.getByRole('table', { name: 'Laps' })).toBeVisible()
    await page.getByRole('button', { name: 'Let the student read them' }).click()
    await expect(page.getByText('The student reads these findings by their link.')).toBeVisible()
    await phone.goBack()
  })

  await test.step('the student reads findings, note and still on the phone', async () => {
    await phone.reload()
    const drives = phone.getByRole('region', { name: 'Your runs' })
    await expect(drives).toContainText('One note from your instructor')
    await drives.getByRole('article').filter({ hasText: 'One note' }).getByRole('link', { name: 'Look back' }).click()
    await expect(phone.getByAltText('Still: Hold on until here')).toBeVisible()
    await expect(phone.getByRole('article', { name: 'Boathouse' }).first()).toContainText('Stay on the throttle longer before you brake')
    await expect(phone.getByRole('button', { name: 'Pin it' })).toHaveCount(0)
    const natural = await phone.getByAltText('Still: Hold on until here').evaluate((img: HTMLImageElement) => img.naturalWidth)
    expect(natural).toBeGreaterThan(100)
    const overflow = await phone.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)
    expect(overflow).toBeLessThanOrEqual(0)
  })
  await phone.close()
})

/** A short moving picture, made by the browser itself. */
const shortVideo = async (page: import('@playwright/test').Page): Promise<Buffer> => {
  const text = await page.evaluate(async () => {
    const canvas = document.createElement('canvas')
    Object.assign(canvas, { width: 320, height: 180 })
    const context = canvas.getContext('2d') as CanvasRenderingContext2D
    const recorder = new MediaRecorder(canvas.captureStream(25), { mimeType: 'video/webm;codecs=vp8' })
    const parts: Blob[] = []
    recorder.ondataavailable = (event) => parts.push(event.data)
    const stopped = new Promise((resolve) => {
      recorder.onstop = resolve
    })
    recorder.start()
    await new Promise<void>((resolve) => {
      let n = 0
      const draw = (): void => {
        context.fillStyle = n % 2 ? '#334' : '#343'
        context.fillRect(0, 0, 320, 180)
        context.fillStyle = '#fff'
        context.fillRect((7 * n) % 320, 60, 40, 60)
        if (++n < 90) requestAnimationFrame(draw)
        else resolve()
      }
      draw()
    })
    recorder.stop()
    await stopped
    const bytes = new Uint8Array(await new Blob(parts).arrayBuffer())
    return btoa(Array.from(bytes, (b) => String.fromCharCode(b)).join(''))
  })
  return Buffer.from(text, 'base64')
}

test('a school says what counts as a mistake, and a log that was analysed already is analysed again by it when asked', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/debrief')
  await page.getByRole('link', { name: 'What counts as a mistake' }).click()
  const rows = page.getByRole('table', { name: 'Thresholds' })
  await expect(rows.getByRole('row')).toHaveCount(37)
  const apex = rows.getByRole('row', { name: /Missed the apex/ })
  const field = apex.getByRole('textbox')
  await field.fill('12')
  await field.press('Enter')
  await expect(apex).toContainText('0.48 to 4.8')
  await field.fill('4,5')
  await field.press('Enter')
  await expect(apex.getByRole('button', { name: 'Missed the apex: reset' })).toBeVisible()
  await page.reload()
  await expect(field).toHaveValue('4.5')

  await openDebrief(page, 'Bram Holliskay', 'oldest')
  const again = page.getByRole('button', { name: 'Re-analyse with today’s thresholds' })
  const answer = page.waitForResponse((r) => r.request().method() === 'PUT' && r.url().endsWith('/settings'))
  await again.click()
  expect((await (await answer).json()).review.thresholds).toEqual({ apexMissed_m: 4.5 })
  await expect(again).toHaveCount(0)

  await page.goto('/debrief/thresholds')
  await page.getByRole('button', { name: 'Reset all' }).click()
  await expect(field).toHaveValue('1.2')
})
