import { ownServer } from './own-server.ts'
import { choose, dayId, endRun, enterDemo, expect, get, lookOver, positionsFrom, sendOut, startRunOf, test } from './page-fixture.ts'

const server = ownServer('lap')
test.use({ baseURL: server.address })
test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => server.kill())

test('a first-timer in the wet: named cones on the sighting lap, gears and hazards on the laps, a flag at once, a mistake from “Other”', async ({
  page,
  context,
}) => {
  await enterDemo(page)
  await page.goto('/run/devices')
  const station = page.getByRole('region', { name: 'Simulated weather station' })
  await station.getByRole('combobox', { name: 'Rain' }).click()
  await page.getByRole('option', { name: 'rain', exact: true }).click()
  await page.goto('/run/pit-wall')
  await page.getByRole('button', { name: 'Switch to the wet plan' }).click()
  await expect(page.getByRole('combobox', { name: 'Surface' })).toHaveText('Wet')

  await test.step('the sheet of a first day calls gears and what is slippery; the sighting lap names and commands nothing', async () => {
    await page.goto('/brief/calls')
    const sheet = page.getByRole('table', { name: 'Call sheet' })
    await choose(page, 'Student', /Imke Valderan/)
    await page.getByRole('group', { name: 'How much talk' }).getByRole('button', { name: 'Driven' }).click()
    await expect(sheet.getByRole('row').filter({ hasText: 'Gear down' }).first()).toBeVisible()
    await expect(sheet).toContainText(/down to (first|second|third)/)
    await expect(sheet).toContainText(/clear of paint|off the paint|stay off the paint/)
    await expect(sheet).not.toContainText('firmly')
    await choose(page, 'Which lap', 'sighting lap')
    await expect(sheet).toContainText('brake cones here')
    await expect(sheet).not.toContainText(/squeeze|off the brake|down to/)
  })

  await test.step('the run has a programme of ever fewer words', async () => {
    await startRunOf(page, 'Imke Valderan')
    await lookOver(page)
    await page.getByRole('group', { name: 'Sighting lap' }).getByRole('button', { name: 'one', exact: true }).click()
    await choose(page, 'Programme', 'First-timer: ever fewer words')
    await expect(page.getByText(/^sighting · every action \d+ % · /)).toBeVisible()
    await positionsFrom(page, '×4')
    await expect(page.getByRole('button', { name: 'Send out' })).toBeInViewport()
    await sendOut(page)
    await expect(page.getByRole('region', { name: 'Next call' })).toContainText(/cone|apex|crest|dip|paint|soft|falls/i, {
      timeout: 60_000,
    })
  })

  const wall = await context.newPage()
  await test.step('a flag shown at a corner is in the car within a second, and gone when it is down', async () => {
    await wall.goto('/run/pit-wall')
    await choose(wall, 'Where', 'Osier')
    await wall.getByRole('button', { name: 'Yellow', exact: true }).click()
    const shownAt = Date.now()
    await expect(page.getByRole('alert', { name: 'Flag' })).toContainText(/Yellow: .*Osier/)
    expect(Date.now() - shownAt).toBeLessThan(3000)
    await wall.getByRole('button', { name: /^Yellow, up since/ }).click()
    await expect(page.getByRole('alert', { name: 'Flag' })).toHaveCount(0)
    // One for another car is not shown in this one.
    await wall.getByRole('combobox', { name: 'Where' }).click()
    await wall.getByRole('option', { name: 'everywhere' }).click()
    await choose(wall, 'To whom', /Imke Valderan/)
    await wall.getByRole('button', { name: 'Black', exact: true }).click()
    await expect(page.getByRole('alert', { name: 'Flag' })).toContainText('Black: this car')
    await wall.getByRole('button', { name: /^Black, up since/ }).click()
    await expect(page.getByRole('alert', { name: 'Flag' })).toHaveCount(0)
  })

  await test.step('a mistake that is not likely is two touches away, at the corner that was seen', async () => {
    await expect(page.getByRole('region', { name: 'What went wrong' })).toContainText(/Just driven: /)
    await page.keyboard.press('ArrowRight')
    const other = page.getByRole('region', { name: 'Other' })
    await other.getByRole('button', { name: /Car and aids/ }).click()
    await page.getByRole('button', { name: /Driver aid cut in/ }).click()
    await expect(page.getByRole('status', { name: 'Last logged' })).toContainText('Driver aid cut in at')
    // The same by keys: the group, then the mistake.
    await page.keyboard.press('o')
    await page.keyboard.press('6')
    await page.keyboard.press('1')
    await expect(page.getByRole('status', { name: 'Last logged' })).toContainText('Missed a flag at')
    const runId = new URL(page.url()).pathname.split('/').at(-1)
    await expect
      .poll(async () =>
        (await get<{ kind: string; code?: string }[]>(page, `/api/runs/${runId}/events`)).flatMap((e) =>
          e.kind === 'observation' ? [e.code] : [],
        ),
      )
      .toEqual(['aid-cut-in', 'flag-missed'])
  })

  await test.step('an incident told from the car stops everybody', async () => {
    await page.keyboard.press('i')
    await page.getByRole('button', { name: /Oil or debris/ }).click()
    await expect(wall.getByRole('alert').filter({ hasText: 'All runs are stopped' })).toBeVisible()
    await wall.getByRole('button', { name: 'Go on' }).click()
    await expect(page.getByText('Come in')).toHaveCount(0)
  })

  await test.step('a stop that this device remembers and the server does not know is dropped', async () => {
    await page.evaluate(
      (about) =>
        new Promise<void>((resolve, reject) => {
          const opening = indexedDB.open('ochote')
          opening.onerror = () => reject(opening.error)
          opening.onsuccess = () => {
            const [id, at] = [crypto.randomUUID(), new Date().toISOString()]
            const change = opening.result.transaction('dayEvents', 'readwrite')
            change.objectStore('dayEvents').put({ id, about, at, sent: 1, doc: { id, dayId: about, at, kind: 'stop', why: 'Long ago' } })
            change.oncomplete = () => {
              opening.result.close()
              resolve()
            }
          }
        }),
      dayId,
    )
    await page.reload()
    await expect(page.getByRole('region', { name: 'What went wrong' })).toBeVisible()
    await expect(page.getByText('Come in')).toHaveCount(0)
    await expect(page.getByRole('region', { name: 'Next call' }).or(page.getByText('No calls on this lap.'))).toBeVisible()
  })

  await test.step('one touch that slipped does not end the run, two do', async () => {
    await endRun(page)
  })
  await wall.close()
})

test('pad: an exercise laid to scale, attempts in the order of the day, and what they were in the record', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/day/pad')
  await choose(page, 'Add', 'Braking box')
  const exercise = page.getByRole('region', { name: 'Exercise' })
  await expect(exercise).toContainText('8 cones')
  const box = page.getByRole('button', { name: 'Braking box on the pad' })
  await box.focus()
  const along = Number(await exercise.getByLabel('Along (m)').inputValue())
  const across = Number(await exercise.getByLabel('Across (m)').inputValue())
  for (const key of ['ArrowRight', 'ArrowRight', 'ArrowUp']) await page.keyboard.press(key)
  await expect(exercise.getByLabel('Along (m)')).toHaveValue(String(along + 2))
  await expect(exercise.getByLabel('Across (m)')).toHaveValue(String(across + 1))
  await choose(page, 'Add', 'Circle')
  await exercise.getByLabel('Radius (m)').fill('30')
  await exercise.getByLabel('Radius (m)').blur()
  await expect(page.getByRole('note', { name: 'What is not right on the pad' })).toContainText(/too near/)
  await page.getByRole('button', { name: 'Take it off the pad' }).click()
  await page.getByRole('link', { name: 'Print' }).click()
  const cones = page.getByRole('table', { name: 'Cones of Braking box' })
  await expect(cones.getByRole('row')).toHaveCount(9)
  // The first cone of the gate to brake at lies where the exercise was put, half a lane to its left.
  await expect(cones.getByRole('row').nth(3)).toContainText(`${(along + 2).toFixed(1)} m`)
  await expect(cones.getByRole('row').nth(3)).toContainText(`${(across + 1 + 1.75).toFixed(1)} m`)

  await page.goto('/run/pad')
  await expect(page.getByRole('status', { name: 'Target' })).toContainText('From 50 km/h')
  const head = (await page.getByRole('main').innerText()).split('then')[0]
  for (const key of ['2', '4', '1', '1']) await page.keyboard.press(key)
  await expect(page.getByText('2 of 3 on target')).toBeVisible()
  await page.reload()
  await expect(page.getByText('2 of 3 on target')).toBeVisible()
  await expect(page.getByText('all sent')).toBeVisible()
  const students = await get<{ id: string; name: string }[]>(page, '/api/students')
  const student = students.find((s) => head.includes(s.name))
  await page.goto(`/record/${student?.id}/runs`)
  await expect(page.getByRole('region', { name: 'On the pad' })).toContainText(
    'Braking box: 2 of 3 on target; said last: “Firm first third',
  )
  expect((await get<{ kind: string }[]>(page, `/api/days/${dayId}/events`)).filter((e) => e.kind === 'drill')).toHaveLength(3)
})
