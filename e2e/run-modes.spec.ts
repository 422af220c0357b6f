import type { Page } from '@playwright/test'
import { ownServer } from './own-server.ts'
import { dayId, endByKey, enterDemo, expect, get, positionsFrom, sendOut, test } from './page-fixture.ts'

const server = ownServer('modes')
test.use({ baseURL: server.address })
test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => server.kill())

type Event = { id: string; kind: string; via?: string; runIds?: string[]; cornerId?: string; code?: string; text?: string }
const dayEvents = async (page: Page, kind: string): Promise<Event[]> =>
  (await get<Event[]>(page, `/api/days/${dayId}/events`)).filter((e) => e.kind === kind)
/** Taps of the corner post that the server has and that nobody undid, of all runs of the day that are out. */
const cornerTaps = async (page: Page): Promise<{ runId: string }[]> => {
  const runs = await get<{ id: string; endedAt: string | null }[]>(page, `/api/runs?dayId=${dayId}`)
  const open = runs.filter((run) => !run.endedAt)
  const events = (
    await Promise.all(open.map((run) => get<(Event & { runId: string; undoes?: string })[]>(page, `/api/runs/${run.id}/events`)))
  ).flat()
  const undone = new Set(events.map((e) => e.undoes))
  return events.filter((e) => e.via === 'corner-post' && !undone.has(e.id))
}
const endAll = async (page: Page): Promise<void> => {
  const runs = await get<{ id: string; endedAt: string | null }[]>(page, `/api/runs?dayId=${dayId}`)
  for (const run of runs.filter((r) => !r.endedAt))
    await page.evaluate((id) => fetch(`/api/runs/${id}/end`, { method: 'POST' }).then((r) => r.json()), run.id)
}
/** Starts the runs of some students from the run list, without sending them out. */
const startRuns = async (page: Page, names: readonly string[]): Promise<void> => {
  for (const name of names) {
    await page.goto('/day')
    await page
      .getByRole('row', { name: new RegExp(name) })
      .first()
      .getByRole('button', { name: 'Start the run' })
      .click()
    await expect(page.getByRole('button', { name: 'Send out' })).toBeVisible()
  }
}

/** Says of each student of a row that the car was looked over and the radio heard. */
const readyAll = async (page: Page, names: readonly string[]): Promise<void> => {
  for (const name of names) await page.getByRole('button', { name: `${name.split(' ')[0]}: car OK, radio heard` }).click()
}

test('lead-follow: a row in turns, a rotation where the road is long enough, a mistake by position, words heard', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/run/lead-follow')
  const names = ['Odalys Merrow', 'Bram Holliskay', 'Yuna Tressider']
  for (const name of names) await page.getByRole('button', { name }).click()
  await expect(page.getByRole('status', { name: 'Turns' })).toHaveText(names.map((name) => `${name}: 2 laps behind you`).join(' · '))
  await page.getByRole('button', { name: 'simulated ×8' }).click()
  await expect(page.getByRole('button', { name: 'First check 3 more' })).toBeDisabled()
  await readyAll(page, names)
  await page.getByRole('button', { name: 'Send the train out' }).click()

  const row = page.getByRole('region', { name: 'The train' })
  await expect(row.getByRole('button', { name: /Bram.*s behind/ })).toBeVisible({ timeout: 60_000 })
  await expect(page.getByText('Laps behind me: Odalys 2, Bram 2, Yuna 2')).toBeVisible()
  // Each gap is the time between two places on the plan: never more than a lap, and near what they set off with.
  const gap = Number(/([\d.]+) s behind/.exec(await row.getByRole('button').nth(1).innerText())?.[1])
  expect(gap).toBeGreaterThan(0)
  expect(gap).toBeLessThan(30)

  await page.keyboard.press('2')
  await expect(page.getByText(/^Bram at /)).toBeVisible()
  await page.keyboard.press('1')
  const last = page.getByRole('status', { name: 'Last logged' })
  await expect(last).toContainText('Bram:')
  const runs = await get<{ id: string; studentId: string }[]>(page, `/api/runs?dayId=${dayId}`)
  const bram = runs.find((r) => r.studentId === 'bram-holliskay')?.id
  await expect
    .poll(
      async () =>
        (await get<Event[]>(page, `/api/runs/${bram}/events`)).filter((e) => e.kind === 'observation' && e.via === 'lead-follow').length,
    )
    .toBe(1)

  // The first two laps are Odalys's; then the prompt comes on the stretch that is long enough.
  const rotation = page.getByRole('status', { name: 'Rotation' })
  await expect(rotation).toContainText(
    /Rotate now: Odalys to the back, Bram up behind me, Odalys keeps (left|right), after .+: takes \d+ m of \d+ m at \d+ km\/h/,
    {
      timeout: 90_000,
    },
  )
  const [needed, available] = (/takes (\d+) m of (\d+) m/.exec(await rotation.innerText()) ?? []).slice(1).map(Number)
  expect(needed).toBeLessThanOrEqual(available)
  await page.keyboard.press('r')
  await expect(page.getByText('Behind me: Bram', { exact: true })).toBeVisible()
  await expect(row.getByRole('button').first()).toContainText('Bram')
  await expect.poll(async () => (await dayEvents(page, 'row')).length).toBe(2)
  const rows = await dayEvents(page, 'row')
  expect(rows[1].runIds).toEqual([...(rows[0].runIds ?? []).slice(1), rows[0].runIds?.[0]])

  // By key the rotation is said as by touch; taken back, it is as it was before.
  await expect.poll(async () => (await dayEvents(page, 'radio')).some((e) => e.text?.startsWith('Rotate: Odalys to the back'))).toBe(true)
  await page.keyboard.press('u')
  await expect(page.getByText('Behind me: Odalys', { exact: true })).toBeVisible()
  await page.keyboard.press('r')
  await expect(page.getByText('Behind me: Bram', { exact: true })).toBeVisible()

  await page.keyboard.press('c')
  // A page that is left in the moment of a touch may not have kept it yet.
  await expect.poll(async () => (await dayEvents(page, 'radio')).some((e) => e.text === 'Close up, three seconds')).toBe(true)
  await page.goto('/run/devices')
  await expect(page.getByRole('region', { name: 'Simulated radio' })).toContainText('“Close up, three seconds” · heard: ')
  await page.goto('/run/lead-follow')
  await expect(row).toBeVisible()
  // Two touches end the row for all, and lead to what most got wrong.
  await endByKey(page, (within) => expect(page.getByText('Debrief of the row')).toBeVisible(within))
  await expect(page.getByRole('table', { name: 'Turns as they were' }).getByRole('row', { name: /Odalys Merrow/ })).toBeVisible()
  await expect(page.getByRole('region', { name: 'What most got wrong' })).toContainText('Bram')
  await expect
    .poll(async () => (await get<{ endedAt: string | null }[]>(page, `/api/runs?dayId=${dayId}`)).every((r) => r.endedAt !== null))
    .toBe(true)
})

test('corner post: one touch for each car that passes, by number too, and what most of them get wrong', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/run/lead-follow')
  const names = ['Odalys Merrow', 'Bram Holliskay', 'Yuna Tressider']
  for (const name of names) await page.getByRole('button', { name }).click()
  await page.getByRole('button', { name: 'simulated ×8' }).click()
  await readyAll(page, names)
  await page.getByRole('button', { name: 'Send the train out' }).click()
  await expect(page.getByRole('region', { name: 'The train' })).toBeVisible({ timeout: 60_000 })
  await page.goto('/run/corner-post')
  await page.getByRole('button', { name: '4 Osier' }).click()
  const what = page.getByRole('region', { name: 'What you saw' })
  const tally = page.getByRole('status', { name: 'Tally' })
  // Cars come as they will: whoever has passed and has no tap yet gets one. A tap that meets the next car is as good.
  await expect
    .poll(
      async () => {
        const taps = Number(/(\d+) times? through/.exec(await tally.innerText())?.[1])
        const isFresh = /Car \d+ · \w+, lap \d+$/.test((await what.innerText()).split('\n')[0])
        if (isFresh && taps < 3) await page.keyboard.press('1')
        return taps
      },
      { timeout: 120_000 },
    )
    .toBe(3)
  await expect(tally).toContainText('3 times through')
  await expect.poll(async () => (await cornerTaps(page)).length).toBe(3)
  const touched = new Set((await cornerTaps(page)).map((tap) => tap.runId)).size
  await expect(tally).toContainText(touched >= 3 ? 'Most of them' : `${touched} of ${touched} students`)
  // A second touch of the same pass corrects the first; Undo takes it back.
  const before = await tally.innerText()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(tally).toContainText('2 times through')
  expect(await tally.innerText()).not.toBe(before)
  // A car by number that no run is known for.
  for (const _ of [1, 2]) await page.keyboard.press('ArrowRight')
  await page.getByRole('button', { name: /^Car 12/ }).click()
  for (const _ of [1, 2]) await page.keyboard.press('ArrowLeft')
  await expect(what).toContainText('Car 12 · no run known')
  await page.keyboard.press('2')
  await expect(page.getByRole('status', { name: 'Last logged' })).toContainText('no run is known for this car')
  await expect.poll(async () => (await dayEvents(page, 'car-seen'))[0]).toMatchObject({ carNumber: '12', cornerId: 'T4' })
  await endAll(page)
})

test('pit wall: released in order with a countdown, stopped at once everywhere, and started again by a decision', async ({
  page,
  context,
}) => {
  await enterDemo(page)
  // Lotte drives her own car: nobody else has its number.
  await startRuns(page, ['Imke Valderan', 'Lotte Farnsworthy'])
  await page.goto('/run/pit-wall')
  const release = page.getByRole('region', { name: 'Release' })
  await expect(release).toContainText('no gap closes within the run')
  await release.getByLabel('Interval (s)').fill('5')
  await expect(release).toContainText('Under 10 s a gap closes within the run')
  await release.getByRole('button', { name: 'Release 2' }).click()
  const table = page.getByRole('table', { name: 'Cars and runs' })
  await expect(table.getByRole('row', { name: /Imke Valderan/ })).toContainText(/km\/h/)
  await expect(table.getByRole('row', { name: /Lotte Farnsworthy/ })).toContainText(/km\/h/)
  const runs = await get<{ id: string; studentId: string; simulation: { startedAt: string } }[]>(page, `/api/runs?dayId=${dayId}`)
  const out = (id: string): number => Date.parse(runs.find((r) => r.studentId === id && r.simulation)?.simulation.startedAt ?? '')
  expect(Math.abs(Math.abs(out('lotte-farnsworthy') - out('imke-valderan')) / 1000 - 5)).toBeLessThan(2)

  const knee = await context.newPage()
  await knee.goto(`/run/${runs.find((r) => r.studentId === 'imke-valderan')?.id}`)
  await expect(knee.getByRole('region', { name: 'What went wrong' })).toBeVisible()
  await page.getByRole('combobox', { name: 'Incident' }).click()
  await page.getByRole('option', { name: 'Off and stuck' }).click()
  await page.getByRole('combobox', { name: 'Where' }).click()
  await page.getByRole('option', { name: 'Osier' }).click()
  await page.getByRole('button', { name: 'Log it and stop all' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'All runs are stopped since' })).toBeVisible()
  await expect(knee.getByRole('alert')).toContainText('Off and stuck at Osier')
  await expect(knee.getByRole('alert')).toContainText('Come in')
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByRole('alert')).toHaveCount(0)
  await expect(knee.getByRole('alert')).toHaveCount(0)
  await expect(page.getByRole('log', { name: 'Last told' })).toContainText('Decided: go on')
  await expect.poll(async () => (await dayEvents(page, 'restart')).length).toBe(1)
  const [stop] = await dayEvents(page, 'stop')
  expect((await dayEvents(page, 'restart'))[0]).toMatchObject({ stopId: stop.id, decision: 'go-on' })

  await table
    .getByRole('row', { name: /Imke Valderan/ })
    .getByRole('button', { name: 'Call in' })
    .click()
  await expect(knee.getByRole('alert')).toContainText('The pit wall calls this car in')
  await page.goto('/run/history')
  const history = page.getByRole('table', { name: 'History of the day' })
  await expect(history).toContainText('Marit Oakhanger')
  await expect(history).toContainText('All stopped: Off and stuck at Osier')
  await expect(history).toContainText('Called in')
  await endAll(page)
})

test('two tablets on one run see what each other logs, and a full one says so before anything is lost', async ({
  page,
  browser,
  allowed,
}) => {
  allowed.allow(/ERR_INTERNET_DISCONNECTED|Failed to load resource/)
  await enterDemo(page)
  await startRuns(page, ['Pia Lindqvaern'])
  await page.getByRole('group', { name: 'Sighting lap' }).getByRole('button', { name: 'none' }).click()
  await positionsFrom(page, '×8')
  await sendOut(page)
  const path = new URL(page.url()).pathname
  const second = await browser.newContext({ baseURL: server.address })
  const other = await second.newPage()
  await enterDemo(other)
  await other.goto(path)
  const last = (p: Page) => p.getByRole('status', { name: 'Last logged' })
  await expect(page.getByRole('region', { name: 'What went wrong' }).getByRole('button')).toHaveCount(6)
  await expect(other.getByRole('region', { name: 'What went wrong' }).getByRole('button')).toHaveCount(6)
  await page.keyboard.press('1')
  await expect(last(other)).toContainText('1 in this run')
  await second.setOffline(true)
  await other.keyboard.press('2')
  await expect(last(other)).toContainText('2 in this run')
  await page.keyboard.press('3')
  await expect(last(page)).toContainText('2 in this run')
  await second.setOffline(false)
  await expect(last(page)).toContainText('3 in this run')
  await expect(last(other)).toContainText('3 in this run')
  // A tablet whose browser tells that it is nearly full.
  await other.evaluate(() => {
    navigator.storage.estimate = async () => ({ quota: 300e6, usage: 290e6 })
  })
  await other.keyboard.press('4')
  await expect(other.getByRole('status', { name: 'Sync' })).toContainText('This device is nearly full')
  await expect(last(page)).toContainText('4 in this run')
  await second.close()
  await endAll(page)
})

test('rain begins: every screen says that the plan is for dry, and one touch switches to the wet one', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/run/devices')
  const station = page.getByRole('region', { name: 'Simulated weather station' })
  await station.getByRole('combobox', { name: 'Rain' }).click()
  await page.getByRole('option', { name: 'rain', exact: true }).click()
  await page.goto('/run/pit-wall')
  await expect(page.getByRole('alert')).toContainText('Simulated weather station')
  await page.getByRole('button', { name: 'Switch to the wet plan' }).click()
  await expect(page.getByRole('combobox', { name: 'Surface' })).toHaveText('Wet')
  await expect(page.getByRole('alert')).toHaveCount(0)
})

test('pad: attempts in a row, each with one sentence, the target following the grip', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/run/pad')
  const target = page.getByRole('status', { name: 'Target' })
  await expect(target).toContainText('From 50 km/h: stop within 13 m')
  for (const key of ['2', '1', '5', '1']) await page.keyboard.press(key)
  await expect(page.getByText('2 of 3 on target')).toBeVisible()
  await expect(page.getByRole('status', { name: 'Last logged' })).toContainText('3 attempts')
  await page.keyboard.press('u')
  await expect(page.getByText('1 of 2 on target')).toBeVisible()
  await page.keyboard.press('ArrowRight')
  await page.getByRole('button', { name: 'Grip: wet' }).click()
  // Half as long again and more: 1 / 0.6 of the dry length.
  await expect(target).toContainText('stop within 22 m')
  await page.keyboard.press('n')
  await expect(page.getByText('No attempt yet').first()).toBeVisible()
})
