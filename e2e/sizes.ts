import { expect, type Page } from '@playwright/test'

/** Pages of the staff, without those of one run or one student. */
export const staffPages = [
  '/circuit',
  '/circuit/seat',
  '/circuit/all',
  '/circuit/new',
  '/circuit/vehicles',
  '/cones',
  '/cones/schemes',
  '/cones/check',
  '/cones/lay',
  '/cones/sheet',
  '/day',
  '/day/all',
  '/day/plan',
  '/brief',
  '/brief/calls',
  '/brief/rehearse',
  '/brief/students',
  '/brief/present?page=13',
  '/brief/presenter',
  '/brief/card',
  '/brief/handout',
  '/brief/slips',
  '/run',
  '/run/pit-wall',
  '/run/history',
  '/run/devices',
  '/run/lead-follow',
  '/run/corner-post',
  '/run/pad',
  '/debrief',
  '/debrief/thresholds',
  '/debrief/class',
  '/record',
  '/guide',
  '/guide/files',
  '/school',
  '/school/instructors',
  '/school/cars',
  '/school/network/wall',
  '/school/settings',
  '/school/network',
  '/school/access',
  '/school/safe',
]

/** What is wrong with a page at its size: measured in the page itself. */
export type SizeFault = { what: 'sideways scroll' | 'outside' | 'overlap' | 'cut off'; control: string; by?: string }

/**
 * Faults of the page that is shown: it scrolls sideways; a control lies outside the window and outside anything that scrolls;
 * two controls lie on each other; a control's words do not fit into it. Runs in the browser.
 */
const sizeFaults = (): SizeFault[] => {
  const faults: SizeFault[] = []
  const root = document.documentElement
  const name = (el: Element): string =>
    (el.getAttribute('aria-label') ?? el.textContent ?? '').replace(/\s+/g, ' ').trim().slice(0, 40) || el.tagName.toLowerCase()
  if (root.scrollWidth > root.clientWidth + 1) {
    const widest = [...document.querySelectorAll('body *')]
      .filter((el) => el.getBoundingClientRect().right > root.clientWidth + 1)
      .sort((a, b) => b.getBoundingClientRect().right - a.getBoundingClientRect().right)[0]
    faults.push({ what: 'sideways scroll', control: `${root.scrollWidth} in ${root.clientWidth}`, by: widest ? name(widest) : '' })
  }
  const scrolls = (el: Element): Element | null => {
    for (let up = el.parentElement; up && up !== document.body; up = up.parentElement) {
      const { overflowX, overflowY } = getComputedStyle(up)
      if (/auto|scroll/.test(overflowX + overflowY)) return up
    }
    return null
  }
  const fixed = (el: Element): boolean => {
    for (let up: Element | null = el; up; up = up.parentElement) if (/fixed|sticky/.test(getComputedStyle(up).position)) return true
    return false
  }
  const controls = [...document.querySelectorAll<HTMLElement>('button, a[href], input, select, textarea, [role="combobox"], [role="tab"]')]
    .filter((el) => !el.closest('[aria-hidden="true"]') && !el.closest('svg'))
    .map((el) => {
      // A field is as large as its frame.
      const frame = el.closest<HTMLElement>('.MuiInputBase-root') ?? el
      return { el, frame, box: frame.getBoundingClientRect() }
    })
    .filter(({ el, box }) => box.width > 1 && box.height > 1 && getComputedStyle(el).visibility !== 'hidden')
  for (const { el, frame, box } of controls) {
    if (!scrolls(el) && (box.left < -1 || box.right > root.clientWidth + 1)) faults.push({ what: 'outside', control: name(el) })
    const box2 = getComputedStyle(frame)
    const clipped = /button|^a$/i.test(el.tagName) && el.scrollWidth > el.clientWidth + 2 && box2.display !== 'inline'
    if (clipped) faults.push({ what: 'cut off', control: name(el) })
  }
  // Of what lies in a frame that scrolls, only the part within the frame is there to be touched.
  const visible = controls
    .map((control) => {
      const frame = scrolls(control.el)?.getBoundingClientRect()
      const { left, right, top, bottom } = control.box
      const box = frame
        ? {
            left: Math.max(left, frame.left),
            right: Math.min(right, frame.right),
            top: Math.max(top, frame.top),
            bottom: Math.min(bottom, frame.bottom),
          }
        : { left, right, top, bottom }
      return { ...control, box }
    })
    .filter(({ box }) => box.right > box.left && box.bottom > box.top)
  for (let i = 0; i < visible.length; i++)
    for (let j = i + 1; j < visible.length; j++) {
      const [a, b] = [visible[i], visible[j]]
      if (a.frame === b.frame || a.frame.contains(b.frame) || b.frame.contains(a.frame)) continue
      if (fixed(a.el) !== fixed(b.el)) continue
      const width = Math.min(a.box.right, b.box.right) - Math.max(a.box.left, b.box.left)
      const height = Math.min(a.box.bottom, b.box.bottom) - Math.max(a.box.top, b.box.top)
      if (width > 2 && height > 2) faults.push({ what: 'overlap', control: name(a.el), by: name(b.el) })
    }
  return faults
}

/** Faults of a page once it rests: rows that measure themselves, and fonts, may still move it for a moment. */
export const faultsAtRest = async (page: Page): Promise<SizeFault[]> => {
  await page.evaluate(() => document.fonts.ready)
  await expect
    .poll(() => page.evaluate(sizeFaults), { timeout: 5000 })
    .toEqual([])
    .catch(() => {})
  return page.evaluate(sizeFaults)
}
