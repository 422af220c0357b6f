import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { enterDemo, expect, test } from './page-fixture.ts'

/** All that the rules of accessibility, best practice included, find in a page; of one that was read by day, what other colours can change. */
const faults = async (page: Page, night: boolean): Promise<string[]> => {
  const rules = new AxeBuilder({ page }).setLegacyMode(true)
  const { violations } = await (night ? rules.withRules(['color-contrast', 'link-in-text-block']) : rules).analyze()
  return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`)
}

const stages = [
  ['/circuit', 'Circuit'],
  ['/cones', 'Cones'],
  ['/day', 'Day'],
  ['/cones/schemes', 'Cones'],
  ['/cones/lay', 'Lay cones'],
  ['/cones/check', 'Cones'],
  ['/brief', 'Brief'],
  ['/brief/calls', 'Brief'],
  ['/brief/rehearse', 'Brief'],
  ['/brief/students', 'Brief'],
  ['/brief/present?page=13', '1 Boathouse'],
  ['/brief/card', 'Ostrel Mere'],
  ['/brief/handout', 'Ostrel Mere'],
  ['/run', 'Run'],
  ['/run/pit-wall', 'Run'],
  ['/run/devices', 'Run'],
  ['/run/history', 'Run'],
  ['/run/lead-follow', 'Lead-follow: who drives behind you'],
  ['/run/corner-post?corner=T3', 'Long Heron'],
  ['/run/pad', 'Braking box'],
  ['/debrief', 'Debrief'],
  ['/debrief/thresholds', 'Debrief'],
  ['/debrief/class', 'Nobody of them has driven today.'],
  ['/record/odalys-merrow', 'Odalys Merrow'],
  ['/circuit/all', 'Circuit'],
  ['/circuit/new', 'Circuit'],
  ['/circuit/vehicles', 'Circuit'],
  ['/day/all', 'Day'],
  ['/guide', 'Starting, and keeping a school'],
  ['/guide/files', 'Files in and out'],
  ['/school', 'School'],
  ['/school/instructors', 'School'],
  ['/school/cars', 'School'],
  ['/school/settings', 'School'],
  ['/school/network', 'School'],
  ['/school/access', 'School'],
  ['/school/safe', 'School'],
] as const

/** Pages that are looked at in one test, so that none of them takes a quarter of an hour on a slow machine. */
const AT_ONCE = 9

for (let from = 0; from < stages.length; from += AT_ONCE) {
  const part = stages.slice(from, from + AT_ONCE)
  test(`can be read by anyone, in day and night colours: ${part[0][0]} to ${part.at(-1)?.[0]}`, async ({ page }) => {
    await enterDemo(page)
    const told: string[] = []
    for (const night of [false, true]) {
      if (night) {
        await page.goto('/circuit')
        await page.getByRole('button', { name: 'Dark' }).click()
      }
      for (const [path, heading] of part) {
        await page.goto(path)
        await expect(page.getByRole('heading', { name: heading, exact: true }).first()).toBeVisible()
        for (const fault of await faults(page, night)) told.push(`${path}${night ? ' at night' : ''}: ${fault}`)
      }
    }
    expect(told).toEqual([])
  })
}
