import { type ChildProcess, spawn } from 'node:child_process'
import { rm } from 'node:fs/promises'
import { enterDemo, expect, openStage, test } from './page-fixture.ts'

const port = 4192
const data = '../.cache/e2e-stopped'
const address = `http://localhost:${port}`
let server: ChildProcess

const startServer = async (): Promise<void> => {
  server = spawn('node', ['../packages/server/dist/main.mjs', '--demo', '--port', String(port), '--data', data], {
    cwd: import.meta.dirname,
    stdio: 'ignore',
  })
  await expect
    .poll(
      () =>
        fetch(`${address}/api/health`).then(
          (r) => r.ok,
          () => false,
        ),
      { timeout: 60_000 },
    )
    .toBe(true)
}

test.use({ baseURL: address })
test.beforeAll(async () => {
  await rm(new URL(data, import.meta.url), { recursive: true, force: true })
  await startServer()
})
test.afterAll(() => {
  server.kill('SIGKILL')
})

test('touches survive a killed server and are sent once when it is back', async ({ page, allowed }) => {
  allowed.allow(/Failed to load resource|ERR_CONNECTION_REFUSED|net::/)
  await enterDemo(page)
  await openStage(page, 'Run')
  await page.getByRole('button', { name: 'Start the run' }).first().click()
  await page.getByRole('group', { name: 'Sighting lap' }).getByRole('button', { name: 'none' }).click()
  await page.getByRole('button', { name: '×4' }).click()
  await page.getByRole('button', { name: 'Send out' }).click()
  const runId = page.url().split('/').at(-1)
  const last = page.getByRole('status', { name: 'Last logged' })
  await expect(page.getByRole('region', { name: 'What went wrong' })).toContainText('At Boathouse')
  await page.keyboard.press('1')
  await expect(last).toContainText('1 in this run')
  await expect(page.getByText('all sent')).toBeVisible()

  server.kill('SIGKILL')
  await expect(page.getByText('No position: going by the plan')).toBeVisible()
  const before = await page.getByRole('region', { name: 'Next call' }).innerText()
  await page.keyboard.press('2')
  await page.keyboard.press('3')
  await expect(page.getByText('2 kept here, waiting')).toBeVisible()
  await expect(last).toContainText('3 in this run')
  await expect(page.getByRole('region', { name: 'Next call' })).not.toHaveText(before)

  await startServer()
  await expect(page.getByText('all sent')).toBeVisible({ timeout: 30_000 })
  await page.reload()
  await expect(last).toContainText('3 in this run')
  const events = await page.evaluate((id) => fetch(`/api/runs/${id}/events`).then((r) => r.json()), runId)
  const touches = events.filter((e: { kind: string }) => e.kind === 'observation')
  expect(touches).toHaveLength(3)
  expect(new Set(touches.map((e: { id: string }) => e.id)).size).toBe(3)
})
