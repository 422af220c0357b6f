import type { Page } from '@playwright/test'
import { dayId, enterDemo, expect, get, test } from './page-fixture.ts'

const STUDENT = 'yuna-tressider'

/** Gives a student a link, and says its token. */
const linkOf = (page: Page): Promise<string> =>
  page.evaluate(
    async ([day, student]) => (await (await fetch(`/api/days/${day}/links/${student}`, { method: 'POST' })).json()).token as string,
    [dayId, STUDENT] as const,
  )

/** Two rounds of last week in which all was known but the braking into Long Heron, sent as the phone sends them. */
const driveBefore = (page: Page, token: string): Promise<number> =>
  page.evaluate(async (t) => {
    const { circuit } = await (await fetch(`/api/portal/${t}/recall`)).json()
    const corners = Object.keys(circuit.notes.cornerNames)
    const round = (daysAgo: number) => ({
      id: crypto.randomUUID(),
      at: new Date(Date.now() - daysAgo * 86_400_000).toISOString(),
      mode: 'fading',
      marks: corners.map((cornerId) => ({
        cornerId,
        action: 'brake',
        off_s: cornerId === 'T3' ? 0.9 : 0,
        off_m: cornerId === 'T3' ? 31 : 0,
      })),
      lap_s: null,
    })
    const body = JSON.stringify({ events: [round(6), round(5)], deviceNow: new Date().toISOString() })
    const answer = await fetch(`/api/portal/${t}/recall`, { method: 'POST', headers: { 'content-type': 'application/json' }, body })
    return (await answer.json()).stored.length as number
  }, token)

/** Brakes, turns in and accelerates as somebody who knows the corner would, by the page's own time. */
const actInTime = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const on = (name: string, type: string): void => {
      const button = [...document.querySelectorAll('button')].find((b) => b.textContent === name)
      button?.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1 }))
    }
    Element.prototype.setPointerCapture = () => {}
    setTimeout(() => on('Brake', 'pointerdown'), 4_800)
    setTimeout(() => on('Brake', 'pointerup'), 7_500)
    setTimeout(() => on('Turn in', 'pointerdown'), 7_600)
    setTimeout(() => on('Throttle', 'pointerdown'), 9_500)
  })

test('a student drives from memory on a phone, without a network; what is missed comes back, and stands in the record', async ({
  page,
  browser,
  allowed,
}) => {
  // While there is no network the phone asks in vain.
  allowed.allow(/ERR_INTERNET_DISCONNECTED|Failed to fetch/)
  await enterDemo(page)
  const token = await linkOf(page)
  expect(await driveBefore(page, token)).toBe(2)

  const context = await browser.newContext({ viewport: { width: 390, height: 844 } })
  const phone = await context.newPage()
  await phone.goto(`/s/${token}`)
  await phone.getByRole('region', { name: 'Drive the lap from memory' }).getByRole('link', { name: 'Begin' }).click()
  await expect(phone.getByRole('button', { name: 'The corner that comes back' })).toBeVisible()
  // The road is drawn once with the network; then it is taken away.
  await phone.getByRole('button', { name: 'Without cones' }).click()
  await expect(phone.getByRole('img', { name: 'The road from the seat' })).toBeVisible()
  await expect(phone.getByText('Drawing the road …')).toHaveCount(0)
  await phone.getByRole('button', { name: 'Stop' }).click()
  await phone.evaluate(() => navigator.serviceWorker.ready)
  await context.setOffline(true)
  // Opened anew, too: pages, circuit and cones are on the phone.
  await phone.reload()
  await phone.getByRole('button', { name: 'The corner that comes back' }).click()
  await expect(phone.getByRole('button', { name: 'Brake' })).toBeVisible()
  await actInTime(phone)
  const result = phone.getByRole('list', { name: /of \d known/ })
  await expect(result).toContainText('3 Long Heron')
  await expect(result.getByRole('listitem')).toHaveCount(1)
  await expect(phone.getByText('One round waits for a network.')).toBeVisible()
  const told = await result.innerText()

  await context.setOffline(false)
  await expect(phone.getByText('Kept. Your instructor sees what to go through with you.')).toBeVisible()
  await phone.getByRole('button', { name: 'Once more' }).click()

  await test.step('eyes closed: a lap is tapped along and compared with the one on the road', async () => {
    await phone.getByRole('button', { name: 'Eyes closed' }).click()
    await phone.getByRole('button', { name: 'Line: begin' }).click()
    await phone.getByRole('button', { name: 'Turn in' }).click()
    await phone.getByRole('button', { name: 'Line: end' }).click()
    await expect(phone.getByText(/Your lap in the head: 0:\d\d\.\d; on the road: \d:\d\d\.\d\./)).toBeVisible()
  })
  await context.close()

  const rounds = await get<{ recall: { mode: string; marks: { action: string; off_s: number | null }[] }[] }>(
    page,
    `/api/students/${STUDENT}/record`,
  )
  expect(rounds.recall.map((r) => r.mode)).toEqual(['fading', 'fading', 'fading', 'closed'])
  const brake = rounds.recall[2].marks.find((m) => m.action === 'brake')
  // What the phone told is what is kept.
  const words =
    brake?.off_s == null
      ? 'Brake: not tapped'
      : Math.abs(brake.off_s) < 0.05
        ? 'Brake: on the moment'
        : `Brake: ${Math.abs(brake.off_s).toFixed(1)} s ${brake.off_s < 0 ? 'early' : 'late'}`
  expect(told).toContain(words)
  await page.goto(`/record/${STUDENT}/mistakes`)
  const memory = page.getByRole('region', { name: 'Driven from memory' })
  await expect(memory).toContainText(/4 rounds; the last: \d of 4 known\./)
  await page.goto('/brief/students')
  await expect(page.getByRole('row', { name: /Yuna Tressider/ })).toContainText(/from memory: \d of 4 known/)
})
