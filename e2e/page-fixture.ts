import { test as base, expect, type Page } from '@playwright/test'

/** Console errors that a test expects; all others fail it. */
export type Allowed = { allow: (pattern: RegExp) => void }

/** The test with a page that fails on errors in the console or in the page. */
export const test = base.extend<{ allowed: Allowed }>({
  allowed: [
    async ({ page }, use) => {
      const patterns: RegExp[] = []
      // Whoever tests has seen the tour; one test takes it.
      await page.addInitScript(() => localStorage.setItem('ochote.tour', 'seen'))
      const errors: string[] = []
      page.on('console', (message) => {
        if (message.type() === 'error') errors.push(`${message.text()} ${message.location().url}`.trim())
      })
      page.on('pageerror', (error) => errors.push(error.message))
      await use({ allow: (pattern) => patterns.push(pattern) })
      expect(errors.filter((text) => !patterns.some((p) => p.test(text)))).toEqual([])
    },
    { auto: true },
  ],
})

/** Signs in to the demo as its lead. */
export const enterDemo = async (page: Page): Promise<void> => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Enter the demo as the lead' }).click()
  await expect(page.getByRole('navigation', { name: 'Stages of the day' })).toBeVisible()
}

/** Opens a stage by the rail. */
export const openStage = (page: Page, name: string): Promise<void> =>
  page
    .getByRole('navigation', { name: 'Stages of the day' })
    .getByRole('link', { name: new RegExp(`^${name}( \\d|$)`) })
    .click()

/** Opens the debrief of a student's newest or oldest run. */
export const openDebrief = async (page: Page, studentName: string, run: 'newest' | 'oldest'): Promise<void> => {
  await page.goto('/debrief')
  const links = page.getByRole('link', { name: studentName })
  await (run === 'newest' ? links.first() : links.last()).click()
}

/** Chooses a value in the context bar. */
export const choose = async (page: Page, label: string, option: string | RegExp): Promise<void> => {
  await page.getByRole('combobox', { name: label }).click()
  await page.getByRole('option', { name: option }).click()
}

/** The buttons of a debrief's laps. */
export const lapButtons = (page: Page) => page.getByRole('group', { name: 'Laps' }).getByRole('button', { name: /^Lap \d+: / })

/** The lap times that a debrief shows (s), in their order. */
export const shownLapTimes = async (page: Page): Promise<number[]> =>
  (await lapButtons(page).allInnerTexts()).map((text) => {
    const [minutes, seconds] = text
      .replace(/^Lap \d+: /, '')
      .replace(' quickest', '')
      .split(':')
      .map(Number)
    return minutes * 60 + seconds
  })

export { expect }

/** Chooses who tells the positions of a run, which is folded away before it: how many times as fast a simulated student drives, or the receiver in the car. */
export const positionsFrom = async (page: Page, source: '×4' | '×8' | 'In the car'): Promise<void> => {
  await page.getByText(/^Positions: /).click()
  await page.getByRole('button', { name: source }).click()
}

/** Starts the first planned run of a student from the run list. */
export const startRunOf = async (page: Page, studentName: string): Promise<void> => {
  await openStage(page, 'Day')
  await page
    .getByRole('row', { name: new RegExp(studentName) })
    .first()
    .getByRole('button', { name: 'Start the run' })
    .click()
}

/** Looks the car over: every line of it into sight, for as long as reading takes, then says that all is well. */
export const lookOver = async (page: Page): Promise<void> => {
  const allWell = page.getByRole('button', { name: 'All OK' })
  const lines = page.getByRole('region', { name: 'Before rolling' }).getByRole('button')
  await expect(lines.first()).toBeVisible()
  let end: 'first' | 'last' = 'first'
  await expect
    .poll(
      async () => {
        await lines[end]().scrollIntoViewIfNeeded()
        end = end === 'first' ? 'last' : 'first'
        return allWell.isVisible()
      },
      { intervals: [1_500], timeout: 60_000 },
    )
    .toBe(true)
  await allWell.click()
}

/** Sends a car out; where nobody has looked it over yet, that is done first. */
export const sendOut = async (page: Page): Promise<void> => {
  const toSee = page.getByRole('region', { name: 'Before rolling' }).getByRole('button')
  const checked = page.getByRole('status', { name: 'Checked' })
  await expect(toSee.first().or(checked)).toBeVisible()
  if (!(await checked.isVisible())) await lookOver(page)
  await page.getByRole('button', { name: 'Send out' }).click()
}

/** Ends what a screen runs by its key, which a single slip does not do: pressed until what follows it is there. */
export const endByKey = (page: Page, isThere: (within: { timeout: number }) => Promise<void>): Promise<void> =>
  expect(async () => {
    await page.keyboard.press('e')
    // Longer than two touches have to be apart.
    await isThere({ timeout: 600 })
  }).toPass({ timeout: 30_000 })

/** Ends the run, and waits for its debrief. */
export const endRun = (page: Page): Promise<void> => endByKey(page, (within) => expect(page).toHaveURL(/\/debrief\/./, within))

/** What the server answers to a page at an address. */
export const get = <T>(page: Page, path: string): Promise<T> => page.evaluate((p) => fetch(p).then((r) => r.json()), path)

/** The day of the demo. */
export const dayId = 'day-2027-05-15'
