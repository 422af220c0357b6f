import type { DayPlan } from '@ochote/contract'

/** What a page changed of a day and the server has not taken yet: the plan before the first such change and after the last. */
export type Unsent = { dayId: string; base: DayPlan; mine: DayPlan; at: number }

const PREFIX = 'ochote.unsent-day.'
const PAGE = 'ochote.page'
/** Changes of another page are taken over once they are this old (ms): that page is closed, or waits for the server as this one does. */
const LEFT_BEHIND_MS = 60_000

/** The name of this page of the browser; a page that is loaded again keeps it. */
const pageName = (): string => {
  const known = sessionStorage.getItem(PAGE)
  if (known) return known
  const made = crypto.getRandomValues(new Uint32Array(2)).join('-')
  sessionStorage.setItem(PAGE, made)
  return made
}

const keyOf = (dayId: string): string => `${PREFIX}${pageName()}.${dayId}`

const read = (key: string): Unsent | null => {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null') as Unsent | null
  } catch {
    return null
  }
}

/** Keeps a change on this device until `forgetUnsent`, so that closing the page does not lose it. */
export const keepUnsent = (dayId: string, base: DayPlan, mine: DayPlan): void => {
  const first = read(keyOf(dayId))
  try {
    localStorage.setItem(keyOf(dayId), JSON.stringify({ dayId, base: first?.base ?? base, mine, at: Date.now() } satisfies Unsent))
  } catch {
    // A full device: the change is still sent by the page while it is open.
  }
}

/** Forgets the changes of this page to a day: the server has them, or has refused them. */
export const forgetUnsent = (dayId: string): void => localStorage.removeItem(keyOf(dayId))

/** Takes over, once, the changes that this page left when it was loaded before, and those that a closed page left. */
export const takeUnsent = (): Unsent[] => {
  const mine = `${PREFIX}${pageName()}.`
  const keys = Array.from({ length: localStorage.length }, (_, k) => localStorage.key(k) ?? '').filter((key) => key.startsWith(PREFIX))
  return keys.flatMap((key) => {
    const unsent = read(key)
    if (unsent && !key.startsWith(mine) && Date.now() - unsent.at < LEFT_BEHIND_MS) return []
    localStorage.removeItem(key)
    return unsent ? [unsent] : []
  })
}
