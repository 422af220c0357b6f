import { spawnSync } from 'node:child_process'
import { createHash, X509Certificate } from 'node:crypto'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { hostname, tmpdir } from 'node:os'
import { join } from 'node:path'
import { connect } from 'node:tls'
import { chromium } from '@playwright/test'
import { ownServer } from './own-server.ts'
import { expect, test } from './page-fixture.ts'
import { portOf } from './ports.ts'

// The plain server stands at the port after the secure one, which is kept free for it.
const server = ownServer('secure', ['--tls', 'auto'])
test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => server.kill())

/** Installs an authority for the browser of a user with this home folder; false where the system has no tool for it. */
const install = (authority: string, home: string): boolean => {
  const database = join(home, '.pki', 'nssdb')
  mkdirSync(database, { recursive: true })
  writeFileSync(join(home, 'authority.crt'), authority)
  const certutil = (...given: string[]): number | null => spawnSync('certutil', ['-d', `sql:${database}`, ...given]).status
  return certutil('-N', '--empty-password') === 0 && certutil('-A', '-n', 'school', '-t', 'C,,', '-i', join(home, 'authority.crt')) === 0
}

const keyHash = (certificate: string): string => {
  const key = new X509Certificate(certificate).publicKey.export({ type: 'spki', format: 'der' })
  return createHash('sha256').update(key).digest('base64')
}

const name = `${hostname()
  .toLowerCase()
  .replace(/\.local$/, '')}.local`

test('over the server’s own authority pages stay on a device that opens it by name, and open again without the network', async () => {
  const authority = server.dataFile('tls/authority.crt')

  await test.step('whoever trusts the authority trusts this server by its name', async () => {
    const trusted = await new Promise<boolean>((resolve) => {
      const socket = connect({ host: '127.0.0.1', port: portOf('secure'), servername: name, ca: authority }, () => {
        resolve(socket.authorized)
        socket.destroy()
      })
      socket.once('error', () => resolve(false))
    })
    expect(trusted).toBe(true)
  })

  await test.step('the plain server beside it hands the authority out', async () => {
    const at = `http://127.0.0.1:${portOf('onboarding')}`
    expect(await (await fetch(`${at}/authority.crt`)).text()).toBe(authority)
    expect(await (await fetch(at)).text()).toContain(`https://127.0.0.1:${portOf('secure')}/`)
  })

  const home = mkdtempSync(join(tmpdir(), 'ochote-secure-'))
  const installed = install(authority, home)
  test
    .info()
    .annotations.push({ type: 'measured', description: installed ? 'authority installed in the browser' : 'only its key is let pass' })
  const browser = await chromium.launchPersistentContext(join(home, 'profile'), {
    env: { ...process.env, HOME: home },
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: [
      ...(JSON.parse(readFileSync(new URL('chromium-arguments.json', import.meta.url), 'utf8')) as string[]),
      ...(installed ? [] : [`--ignore-certificate-errors-spki-list=${keyHash(authority)}`]),
      // The name as the network's own names would lead to it.
      `--host-resolver-rules=MAP ${name} 127.0.0.1`,
    ],
  })
  const page = browser.pages()[0] ?? (await browser.newPage())
  await page.goto(`https://${name}:${portOf('secure')}/`)
  await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
  await expect(page.getByRole('table', { name: 'Corners' })).toBeVisible()
  expect(await page.evaluate(() => window.isSecureContext)).toBe(true)
  await test.step('the page says so', async () => {
    await page.goto(`https://${name}:${portOf('secure')}/school/network`)
    await expect(page.getByText('This device keeps pages without the network: its connection is secure.')).toBeVisible()
    await page.evaluate(() => navigator.serviceWorker.ready)
  })
  await test.step('without the network the run list opens again', async () => {
    await page.goto(`https://${name}:${portOf('secure')}/run`)
    await expect(page.getByRole('button', { name: 'Start the run' }).first()).toBeVisible()
    await expect.poll(() => page.evaluate(() => navigator.serviceWorker.controller !== null)).toBe(true)
    await browser.setOffline(true)
    await page.reload()
    await expect(page.getByRole('button', { name: 'Start the run' }).first()).toBeVisible()
    await browser.setOffline(false)
  })
  await browser.close()
})
