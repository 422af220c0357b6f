import type { Page } from '@playwright/test'
import { ownServer } from './own-server.ts'
import { dayId, enterDemo, expect, get, sendOut, startRunOf, test } from './page-fixture.ts'

const first = ownServer('first')
const second = ownServer('second', [], 'first')
test.use({ baseURL: first.address })
test.beforeAll(async () => {
  first.clear()
  await first.start()
  await second.start()
})
test.afterAll(() => {
  first.kill()
  second.kill()
})

const touchesOf = async (page: Page, runId: string | undefined): Promise<string[]> =>
  (await get<{ id: string; kind: string }[]>(page, `/api/runs/${runId}/events`)).filter((e) => e.kind === 'observation').map((e) => e.id)

test('two processes are one school: a tablet at one, the pit wall at the other, and one of them is killed', async ({
  page,
  context,
  allowed,
}) => {
  allowed.allow(/Failed to load resource|ERR_CONNECTION_REFUSED|net::/)
  await enterDemo(page)
  // Whoever signed in at one is signed in at the other.
  const wall = await context.newPage()
  await wall.goto(`${second.address}/run/pit-wall`)
  await expect(wall.getByRole('navigation', { name: 'Stages of the day' })).toBeVisible()

  await startRunOf(page, 'Imke Valderan')
  await page.getByRole('group', { name: 'Sighting lap' }).getByRole('button', { name: 'none' }).click()
  await sendOut(page)
  const runId = new URL(page.url()).pathname.split('/').at(-1)
  // What was started at one stands on a screen of the other.
  await expect(wall.getByText('Imke Valderan').first()).toBeVisible()
  const runs = () => get<{ id: string; endedAt: string | null }[]>(wall, `/api/runs?dayId=${dayId}`)
  await expect.poll(async () => (await runs()).some((run) => run.id === runId)).toBe(true)
  const last = page.getByRole('status', { name: 'Last logged' })
  await expect(page.getByRole('region', { name: 'What went wrong' })).toContainText('Just driven: Boathouse')
  await page.keyboard.press('1')
  await expect(last).toContainText('1 in this run')
  await expect.poll(() => touchesOf(wall, runId)).toHaveLength(1)

  // The process that has the receivers goes: the tablet keeps what is touched, the other process takes over, nothing is there twice.
  first.kill()
  await page.keyboard.press('2')
  await page.keyboard.press('3')
  await expect(last).toContainText('3 in this run')
  await expect(page.getByText('2 saved here, not sent yet')).toBeVisible()
  expect(await touchesOf(wall, runId)).toHaveLength(1)
  const opened = async () => (await get<{ port: number }[]>(wall, '/api/receivers')).length
  await expect.poll(opened).toBeGreaterThan(0)
  await first.start()
  await expect(page.getByText('all sent')).toBeVisible()
  await expect.poll(() => touchesOf(wall, runId)).toHaveLength(3)
  expect(new Set(await touchesOf(page, runId)).size).toBe(3)

  // What is ended at one is ended at the other, with the day's board following by itself.
  await wall.evaluate((id) => fetch(`/api/runs/${id}/end`, { method: 'POST' }), runId)
  await expect.poll(async () => (await runs()).find((run) => run.id === runId)?.endedAt ?? null).not.toBeNull()
  await wall.close()
})
