import { simulateDrive, writeLogCsv } from '@ochote/core'
import type { Page } from '@playwright/test'
import { planHere } from './demo-plan.ts'
import { ownServer } from './own-server.ts'
import { endByKey, enterDemo, expect, lookOver, openDebrief, openStage, positionsFrom, sendOut, startRunOf, test } from './page-fixture.ts'

const server = ownServer('stopped')
test.use({ baseURL: server.address })
test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => server.kill())

const eventsAtServer = (page: Page, runId: string | undefined): Promise<{ id: string; kind: string }[]> =>
  page.evaluate((id) => fetch(`/api/runs/${id}/events`).then((r) => r.json()), runId)

const touchesAtServer = async (page: Page, runId: string | undefined) =>
  (await eventsAtServer(page, runId)).filter((e) => e.kind === 'observation')

test('touches survive a killed server and are sent once when it is back', async ({ page, allowed }) => {
  allowed.allow(/Failed to load resource|ERR_CONNECTION_REFUSED|net::/)
  await enterDemo(page)
  await startRunOf(page, 'Imke Valderan')
  await page.getByRole('group', { name: 'Sighting lap' }).getByRole('button', { name: 'none' }).click()
  await positionsFrom(page, '×4')
  await sendOut(page)
  const runId = page.url().split('/').at(-1)
  const last = page.getByRole('status', { name: 'Last logged' })
  await expect(page.getByRole('region', { name: 'What went wrong' })).toContainText('Just driven: Boathouse')
  await page.keyboard.press('1')
  await expect(last).toContainText('1 in this run')
  await expect.poll(async () => (await touchesAtServer(page, runId)).length).toBe(1)
  await expect(page.getByText('all sent')).toBeVisible()

  server.kill()
  await expect(page.getByText('No position: following the plan')).toBeVisible()
  const before = await page.getByRole('region', { name: 'Next call' }).innerText()
  await page.keyboard.press('2')
  await page.keyboard.press('3')
  await expect(page.getByText('2 saved here, not sent yet')).toBeVisible()
  await expect(last).toContainText('3 in this run')
  await expect(page.getByRole('region', { name: 'Next call' })).not.toHaveText(before)

  await server.start()
  await expect(page.getByText('all sent')).toBeVisible({ timeout: 30_000 })
  await page.reload()
  await expect(last).toContainText('3 in this run')
  const touches = await touchesAtServer(page, runId)
  expect(touches).toHaveLength(3)
  expect(new Set(touches.map((e) => e.id)).size).toBe(3)
})

test('the run screen opens and works with the server stopped, from the start of a run to its end', async ({ page, allowed }) => {
  allowed.allow(/Failed to load resource|ERR_CONNECTION_REFUSED|net::/)
  await enterDemo(page)
  await openStage(page, 'Run')
  await expect(page.getByRole('button', { name: 'Start the run' }).first()).toBeVisible()
  // The pages are there without the server once their worker has them all.
  await page.evaluate(() => navigator.serviceWorker.ready)
  await page.reload()
  await expect(page.getByText('Rashid Okonwe').first()).toBeVisible()
  expect(await page.evaluate(() => navigator.serviceWorker.controller !== null)).toBe(true)
  // Plan and day of a run are on this device after they were looked at once.
  await page.goto('/day')
  await expect(page.getByRole('row', { name: /Rashid Okonwe/ }).first()).toBeVisible()

  server.kill()
  await page.goto('/day')
  await page
    .getByRole('row', { name: /Rashid Okonwe/ })
    .first()
    .getByRole('button', { name: 'Start the run' })
    .click()
  await lookOver(page)
  await positionsFrom(page, 'In the car')
  await sendOut(page)
  await expect(page.getByText(/Waiting for a position · no server/)).toBeVisible()
  const runId = page.url().split('/').at(-1)
  // The screen listens to keys a moment after it shows.
  await expect(async () => {
    await page.keyboard.press('l')
    await expect(page.getByRole('region', { name: 'What went wrong' })).toContainText('Just driven: Lantern', { timeout: 1000 })
  }).toPass({ timeout: 30_000 })
  const last = page.getByRole('status', { name: 'Last logged' })
  await page.keyboard.press('1')
  await expect(last).toContainText('1 in this run')
  await page.keyboard.press('2')
  await expect(last).toContainText('2 in this run')
  await page.reload()
  await expect(last).toContainText('2 in this run')
  await page.keyboard.press('u')
  await expect(last).toContainText('1 in this run')
  // Two touches, not too soon after each other.
  await endByKey(page, (within) => expect(page.getByText('the run has ended')).toBeVisible(within))
  await expect(page.getByText('Its log is made as soon as the server hears of it.')).toBeVisible()
  await expect(page.getByText(/6 saved here, not sent yet/)).toBeVisible()

  await server.start()
  await expect(page.getByText('all sent')).toBeVisible({ timeout: 30_000 })
  expect((await eventsAtServer(page, runId)).map((e) => e.kind)).toEqual([
    'checked',
    'sent-out',
    'observation',
    'observation',
    'undo',
    'ended',
  ])
  await expect
    .poll(() =>
      page.evaluate(
        (id) =>
          fetch(`/api/runs/${id}`)
            .then((r) => r.json())
            .then((run) => run.endedAt !== null),
        runId,
      ),
    )
    .toBe(true)
})

test('a server that is killed while it is sent a log stores nothing of it, says so, and takes the log again', async ({ page, allowed }) => {
  allowed.allow(/Failed to load resource|ERR_CONNECTION|net::/)
  await enterDemo(page)
  await openDebrief(page, 'Odalys Merrow', 'newest')
  await expect(page.getByText(/simulated logger/).first()).toBeVisible()
  const runId = new URL(page.url()).pathname.split('/').at(-1)
  const stored = () => page.evaluate((id) => fetch(`/api/runs/${id}/debrief`).then((r) => r.json()), runId)
  const before = await stored()

  const drive = simulateDrive(planHere({ surface: 'dry', pace: 0.75, school: 'straight' }), { laps: 2, seed: 8, rate_hz: 100 })
  const file = { name: 'evening.csv', mimeType: 'text/csv', buffer: Buffer.from(writeLogCsv(drive.log)) }
  const network = await page.context().newCDPSession(page)
  await network.send('Network.emulateNetworkConditions', { offline: false, latency: 0, downloadThroughput: -1, uploadThroughput: 200_000 })
  await page.getByLabel('Add a log file').setInputFiles(file)
  await expect(page.getByRole('status', { name: 'Sending the log' })).toHaveText(/Sending the log, [1-9]\d?%/)
  server.kill()
  const told = page.getByRole('alert').filter({ hasText: 'The connection dropped during the upload.' })
  await expect(told).toContainText('A file is stored whole or not at all.')

  await network.send('Network.emulateNetworkConditions', { offline: false, latency: 0, downloadThroughput: -1, uploadThroughput: -1 })
  await server.start()
  expect(server.dataFiles('uploads')).toEqual([])
  expect(await stored()).toEqual(before)
  await page.getByLabel('Add a log file').setInputFiles(file)
  await page.getByRole('button', { name: 'Replace the log' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(page.getByText(/evening\.csv/).first()).toBeVisible({ timeout: 30_000 })
  expect((await stored()).laps).toHaveLength(2)
  expect(server.dataFiles('uploads')).toEqual([])
})
