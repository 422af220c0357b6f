import { execFile } from 'node:child_process'
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { ownServer } from './own-server.ts'
import { enterDemo } from './page-fixture.ts'
import { portOf } from './ports.ts'

const server = ownServer('trust')
test.use({ baseURL: server.address })
test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => server.kill())

test('a student is erased and gone from every file; a backup brings the school back', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/school/safe')
  await page.getByRole('button', { name: 'Make one now' }).click()
  await expect(page.getByRole('table', { name: 'Backups' }).getByRole('row')).toHaveCount(2)

  await page.goto('/brief/students')
  await page
    .getByRole('button', { name: /Hal Brackenbury/ })
    .first()
    .click()
  await page.getByRole('button', { name: 'Erase this student' }).click()
  await page.getByRole('button', { name: 'Erase everything' }).click()
  await expect(page.getByRole('button', { name: /Hal Brackenbury/ })).toHaveCount(0)
  expect(server.filesWith('Hal Brackenbury')).toEqual([])

  await page.goto('/school/safe')
  await page.getByRole('button', { name: 'What it would change' }).last().click()
  const restore = page.getByRole('region', { name: /^Restore the backup of/ })
  await expect(restore).toContainText('It would change this:')
  await expect(restore).toContainText('students: 1 come back')
  await restore.getByRole('button', { name: 'Restore it' }).click()
  await restore.getByRole('button', { name: 'Restore', exact: true }).click()
  await expect(restore).toContainText('Restored.')
  await page.goto('/brief/students')
  await expect(page.getByRole('button', { name: /Hal Brackenbury/ }).first()).toBeVisible()
})

test('from a terminal a school is backed up, compared, checked and brought back, with its server running or not', async () => {
  type Said = { code: number; words: string }
  const program = (file: string, ...args: string[]): Promise<Said> =>
    new Promise((resolve) =>
      execFile(
        'node',
        [`../packages/server/dist/${file}.mjs`, ...args, '--data', server.folder],
        { cwd: import.meta.dirname },
        (error, out, err) => resolve({ code: Number(error?.code ?? 0), words: out + err }),
      ),
    )
  const made = await program('admin', 'backup')
  expect(made).toMatchObject({ code: 0, words: expect.stringMatching(/\(\d+\.\d MB\), checked\./) })
  const name = /backups\/(\S+\.sqlite)/.exec(made.words)?.[1] ?? ''
  expect((await program('admin', 'backups')).words).toContain(name)
  expect((await program('admin', 'restore', name, '--dry-run')).words).toContain('would change:')
  // A second server on the same folder refuses, and names the first.
  const second = await program('main', '--port', String(portOf('trust') + 1))
  expect(second).toMatchObject({ code: 1, words: expect.stringMatching(/Another server works with .* \(process \d+, since/) })

  server.kill()
  expect((await program('admin', 'check')).words).toContain('is whole; its schema is')
  const database = join(server.folder, 'ochote.sqlite')
  for (const end of ['-wal', '-shm']) rmSync(database + end, { force: true })
  const bytes = readFileSync(database)
  bytes.fill(0x5a, 8192, 60_000)
  writeFileSync(database, bytes)
  expect(await program('admin', 'check')).toMatchObject({ code: 1, words: expect.stringContaining('is damaged') })
  const refused = await program('main', '--demo', '--port', String(portOf('trust')))
  expect(refused).toMatchObject({ code: 1, words: expect.stringContaining('bin/ochote restore') })
  expect((await program('admin', 'restore', name)).words).toContain('the backup has taken its place')
  await server.start()
  const answer = await fetch(`${server.address}/api/session/demo`, { method: 'POST', headers: { 'Sec-Fetch-Site': 'same-origin' } })
  expect(answer.status).toBe(200)
})
