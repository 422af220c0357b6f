import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { enterDemo, expect, test } from './page-fixture.ts'

const grave = async (page: Page): Promise<string[]> => {
  const { violations } = await new AxeBuilder({ page }).setLegacyMode(true).analyze()
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`)
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
  ['/record/odalys-merrow', 'Odalys Merrow'],
] as const

test('every stage can be read by anyone, in day and night colours', async ({ page }) => {
  await enterDemo(page)
  for (const night of [false, true]) {
    // Night colours change no structure: the densest stage stands for all.
    for (const [path, heading] of night ? stages.slice(1, 2) : stages) {
      await page.goto(path)
      await expect(page.getByRole('heading', { name: heading, exact: true }).first()).toBeVisible()
      expect(await grave(page), `${path}${night ? ' at night' : ''}`).toEqual([])
    }
    if (!night) {
      await page.goto('/circuit')
      await page.getByRole('button', { name: 'Dark' }).click()
    }
  }
})
