import { enterDemo, expect, openDebrief, test } from './page-fixture.ts'

/** Shades that each cover a part of a picture: sky, land and road; one where nothing is drawn. Runs in the browser. */
const shadesIn = (img: HTMLElement | SVGElement): number => {
  const { naturalWidth: width, naturalHeight: height } = img as HTMLImageElement
  const canvas = new OffscreenCanvas(width, height)
  const context = canvas.getContext('2d')
  context?.drawImage(img as HTMLImageElement, 0, 0)
  const data = context?.getImageData(0, 0, width, height).data ?? []
  const found = new Map<number, number>()
  for (let i = 0; i < data.length; i += 4) found.set(data[i] >> 5, (found.get(data[i] >> 5) ?? 0) + 1)
  return [...found.values()].filter((count) => count > 0.04 * width * height).length
}

test('the lap is looked at from the seat: before a crest, at it, driven, on foot', async ({ page }) => {
  await enterDemo(page)
  await page.goto('/circuit/seat')
  const seen = page.getByRole('status', { name: 'What is seen' })
  const picture = page.getByRole('img', { name: /^The road from the seat/ })
  await expect(picture).toBeVisible()
  await expect(page.getByText('Drawing the road …')).toHaveCount(0)
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowRight')
  await expect(seen).toContainText(/^3 Long Heron: .*apex hidden until \d+ m before/)
  await expect(picture).toHaveAccessibleName(/Long Heron: .*apex hidden/)
  await test.step('what the crest hides is named as hidden, and is not once the car is there', async () => {
    await page.getByRole('button', { name: /^Apex/ }).click()
    await page.getByRole('button', { name: '3 s before' }).click()
    await expect(page.getByText('Apex, hidden', { exact: true })).toBeVisible()
    await page.getByRole('button', { name: '1 s before' }).click()
    await expect(page.getByText('Apex', { exact: true }).filter({ visible: true }).first()).toBeVisible()
    await expect(page.getByText('Apex, hidden', { exact: true })).toHaveCount(0)
  })
  await test.step('something is drawn: road and land are not of one colour', async () => {
    const shot = (await picture.screenshot()).length
    expect(shot).toBeGreaterThan(2000)
  })
  await test.step('the lap is driven and stopped', async () => {
    await page.getByRole('button', { name: 'Drive the lap' }).click()
    const place = page.getByText(/^at \d+ m, \d+ km\/h in the plan$/)
    const before = await place.textContent()
    await expect(place).not.toHaveText(before ?? '')
    await page.getByRole('button', { name: 'Stop', exact: true }).click()
    await expect(page.getByRole('button', { name: 'Drive on' })).toBeVisible()
  })
  await test.step('on foot one goes on by steps and looks round', async () => {
    await page.getByRole('button', { name: 'On foot' }).click()
    const place = page.getByText(/^at \d+ m, on foot$/)
    const metres = async () => Number(/\d+/.exec((await place.textContent()) ?? '')?.[0])
    const first = await metres()
    await page.keyboard.press('ArrowUp')
    await expect(place).toHaveText(`at ${first + 5} m, on foot`)
    await page.getByRole('button', { name: 'Look left' }).click()
    await page.getByRole('button', { name: '5 m on' }).click()
    await expect(place).toHaveText(`at ${first + 10} m, on foot`)
  })
})

test('the sighting lap on the projector stops at each corner, a number jumps to one, and the presenter’s questions follow', async ({
  page,
  context,
}) => {
  await enterDemo(page)
  await page.goto('/circuit/all')
  await page.getByRole('button', { name: 'Add a venue' }).click()
  for (const name of [/^Ostrel Mere$/, /short/i]) {
    const layout = page.getByRole('article', { name })
    await layout.getByRole('combobox', { name: 'Venue' }).click()
    await page.getByRole('option', { name: 'Venue 1' }).click()
    await expect(layout.getByRole('combobox', { name: 'Venue' })).toHaveText('Venue 1')
  }
  await page.goto('/brief/present?page=12')
  await expect(page.getByRole('heading', { name: 'The sighting lap' })).toBeVisible()
  await expect(page.getByText('Drawing the road …')).toHaveCount(0)
  const corner = page.getByRole('status').first()
  const presenter = await context.newPage()
  await presenter.goto('/brief/presenter?page=12')
  await expect(presenter.getByRole('region', { name: 'Questions asked' })).toBeVisible()
  await page.bringToFront()
  await page.keyboard.press('9')
  await expect(corner).toHaveText('9 Causeway')
  await expect(presenter.getByRole('region', { name: 'Questions asked' })).toContainText('Causeway')
  await presenter.close()
  await expect(page.getByText(/space drives on/)).toBeVisible()
  // Four times as fast, from corner to corner: it stops by itself before the next one.
  await page.keyboard.press('f')
  await page.keyboard.press('f')
  await page.keyboard.press(' ')
  await expect(page.getByText(/space stops/)).toBeVisible()
  await expect(page.getByText(/space drives on/)).toBeVisible()
  await expect(corner).toHaveText('10 Weir')
  // The same lap in the wet, and in another vehicle.
  await page.keyboard.press('w')
  await expect(page.getByText(/Five-door hatchback, wet/)).toBeVisible()
  await page.keyboard.press('c')
  await expect(page.getByText(/km\/h · .*, wet/)).not.toHaveText(/Five-door hatchback/)
  // The other layout of the venue, and back to the day's own.
  await page.keyboard.press('l')
  await expect(page.getByText(/km\/h · .*short.*, wet/i)).toBeVisible()
  await page.keyboard.press('l')
  await expect(page.getByText(/km\/h · .*short.*, wet/i)).toHaveCount(0)
  await page.keyboard.press('v')
  await expect(page.getByRole('img', { name: 'The road ahead, travel up' })).toBeVisible()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('heading', { name: 'The sighting lap' })).toHaveCount(0)
})

test('a driven lap is looked at from its seat, the other one as a car on the road, while it plays', async ({ page }) => {
  await enterDemo(page)
  await openDebrief(page, 'Odalys Merrow', 'newest')
  await page.getByRole('group', { name: 'Both laps' }).getByRole('button', { name: 'From the seat' }).click()
  await expect(page.getByRole('img', { name: /^lap 1 from the seat; the car ahead drives where the plan drove$/ })).toBeVisible()
  await page.getByRole('group', { name: 'Playback' }).getByRole('button', { name: 'time', exact: true }).click()
  await expect(page.getByRole('img', { name: /^lap 1 from the seat; the other car is the plan after the same time$/ })).toBeVisible()
  await expect(page.getByText('Drawing the road …')).toHaveCount(0)
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  // A mark that the car comes to is named in the picture.
  await expect(page.getByText('Turn-in', { exact: true }).filter({ visible: true }).first()).toBeVisible()
  await page.getByRole('button', { name: 'Pause', exact: true }).click()

  await test.step('a moment of it is kept as a picture with a word, and goes on the student’s sheet', async () => {
    await page.getByRole('button', { name: 'Draw on this picture' }).click()
    await page.getByLabel('Caption').fill('Here the eyes go to the post')
    await page.getByRole('button', { name: 'Save the frame' }).click()
    await expect(page.getByRole('region', { name: 'Draw on the still' })).toHaveCount(0)
    const debrief = page.url()
    await expect(async () => {
      await page.goto(`${debrief}/sheet`)
      await expect(page.getByRole('img', { name: 'Here the eyes go to the post' })).toBeVisible({ timeout: 5_000 })
    }).toPass({ timeout: 60_000 })
    // It shows the road: sky, land and tarmac, not an empty frame.
    const colours = await page.getByRole('img', { name: 'Here the eyes go to the post' }).evaluate(shadesIn)
    expect(colours).toBeGreaterThanOrEqual(3)
  })
})

test('the class looks at the corner that most got wrong, from the seat; hands are counted, and it is what the group works on next', async ({
  page,
}) => {
  await enterDemo(page)
  const past = 'day-2027-05-08'
  const { drove, first } = await page.evaluate(async (id) => {
    localStorage.setItem('ochote.day', id)
    const group = (await (await fetch(`/api/days/${id}/group`)).json()) as {
      drove: string[]
      seen: { studentId: string; cornerId: string; code: string }[]
    }
    const day = await (await fetch(`/api/days/${id}`)).json()
    const members = { id: 'saturday', name: 'Saturday', studentIds: group.drove }
    const plan = { ...day.plan, groups: [members] }
    const put = await fetch(`/api/days/${id}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ version: day.version, plan }),
    })
    if (!put.ok) throw new Error(await put.text())
    // How many make the same mistake in each corner, counted anew.
    const who = new Map<string, Set<string>>()
    for (const s of group.seen) who.set(`${s.cornerId} ${s.code}`, (who.get(`${s.cornerId} ${s.code}`) ?? new Set()).add(s.studentId))
    return { drove: group.drove.length, first: Math.max(...[...who.values()].map((of) => of.size)) }
  }, past)
  await page.goto('/debrief')
  await page.getByRole('link', { name: 'With the class' }).click()
  await page.getByRole('button', { name: 'Saturday' }).click()
  await expect(page.getByRole('main')).toContainText(`${first} of ${drove}`)
  await expect(page.getByRole('img', { name: /^The corner from the seat\./ })).toBeVisible()
  await expect(page.getByRole('status', { name: 'Where the group turned in' })).toContainText(/times through|Too few logs/)
  await page.keyboard.press('h')
  await expect(page.getByRole('button', { name: 'Hands up: 1' })).toBeVisible()
  await page.getByRole('button', { name: 'Hands up: 1' }).click()
  await expect(page.getByRole('button', { name: 'Hands up: 2' })).toBeVisible()
  const heading = page.getByRole('heading', { level: 1 })
  const looked = await heading.innerText()
  await page.getByRole('button', { name: 'Work on it next' }).click()
  await expect(page.getByRole('button', { name: 'Worked on next' })).toBeVisible()
  const groups = await expect
    .poll(() =>
      page.evaluate(async (id) => (await (await fetch(`/api/days/${id}`)).json()).plan.groups[0].cornerIds as string[] | undefined, past),
    )
    .toHaveLength(1)
    .then(() => page.evaluate(async (id) => (await (await fetch(`/api/days/${id}`)).json()).plan.groups[0].cornerIds as string[], past))
  expect(looked).toContain(groups[0].slice(1))
  await page.keyboard.press('ArrowRight')
  await expect(heading).not.toHaveText(looked)
  await page.keyboard.press('Escape')
  await expect(page).toHaveURL(/\/debrief$/)
})

test('graphics that are lost come back by themselves, and a device without them shows the map, in words', async ({ page, allowed }) => {
  allowed.allow(/WebGL|THREE/)
  await enterDemo(page)
  await page.goto('/circuit/seat')
  const canvas = page.locator('canvas')
  await expect(page.getByText('Drawing the road …')).toHaveCount(0)
  const shades = async (): Promise<number> => {
    const png = (await canvas.screenshot()).toString('base64')
    const picture = await page.evaluateHandle(async (data) => {
      const img = new Image()
      img.src = `data:image/png;base64,${data}`
      await img.decode()
      return img
    }, png)
    return picture.evaluate(shadesIn)
  }
  await expect.poll(shades).toBeGreaterThanOrEqual(2)
  await canvas.evaluate((node: HTMLCanvasElement) => {
    const lose = node.getContext('webgl2')?.getExtension('WEBGL_lose_context')
    ;(window as unknown as { lose: unknown }).lose = lose
    lose?.loseContext()
  })
  await expect(page.getByText('The picture was lost and comes back by itself; everything else goes on.')).toBeVisible()
  // Everything else goes on.
  await page.getByRole('button', { name: '1 s before' }).click()
  await expect(page.getByRole('button', { name: '1 s before' })).toHaveAttribute('aria-pressed', 'true')
  await page.evaluate(() => (window as unknown as { lose: { restoreContext: () => void } }).lose.restoreContext())
  await expect(page.getByText(/The picture was lost/)).toHaveCount(0)
  await expect.poll(shades).toBeGreaterThanOrEqual(2)

  await page.addInitScript(() => {
    const getContext = HTMLCanvasElement.prototype.getContext
    HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, kind: string, ...rest: unknown[]) {
      return kind.startsWith('webgl') ? null : (getContext as (...all: unknown[]) => unknown).call(this, kind, ...rest)
    } as typeof getContext
  })
  await page.goto('/circuit/seat')
  await expect(page.getByText('This device cannot draw the view from the seat; here is the road from above.')).toBeVisible()
  await expect(page.getByRole('img', { name: /^Ground view/ })).toBeVisible()
  await expect(page.getByRole('status', { name: 'What is seen' })).toContainText('Boathouse')
})
