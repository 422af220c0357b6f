import { api, type Refused } from '@ochote/contract'
import type { DayEvent } from '@ochote/core'
import { heardFrom } from '../clock/clock.ts'
import { acknowledge } from '../db/acknowledge.ts'
import type { Mount } from '../http/mount.ts'
import { HttpProblem } from '../http/problems.ts'
import type { DayEventStore } from './events.ts'
import type { DayStore } from './store.ts'

/** Events of a day: list, append. Answers of students come by their links only. */
export const dayEventRoutes = (
  mount: Mount,
  days: DayStore,
  events: DayEventStore,
  hasStudent: (id: string) => Promise<boolean>,
  onEvent: (event: DayEvent, accountId: string | null) => void,
): void => {
  mount(api.dayEvents, async ({ params }) => events.of(params.dayId))
  mount(api.addDayEvents, async ({ body, account, identity }) => {
    heardFrom(identity.key, body.deviceNow)
    if (body.events.some((e) => e.kind === 'quiz-answer' || e.kind === 'recalled'))
      throw new HttpProblem(400, 'invalid', 'Answers to a quiz come from the student.', 'Give the student a link to the quiz.', 'kind')
    const dayExists = new Map<string, boolean>()
    for (const { dayId } of body.events) dayExists.set(dayId, dayExists.get(dayId) ?? (await days.byId(dayId)) !== null)
    const gone = new Set<string>()
    for (const id of new Set(body.events.flatMap((e) => ('studentId' in e ? [e.studentId] : [])))) if (!(await hasStudent(id))) gone.add(id)
    const reasonFor = (event: DayEvent): Omit<Refused, 'id'> | null => {
      if (!dayExists.get(event.dayId))
        return { title: 'This day does not exist any more.', remedy: 'What was logged stays on this device.' }
      if (identity.dayId !== null && event.dayId !== identity.dayId)
        return {
          title: 'This device is signed in for another day.',
          remedy: 'What was logged stays on this device; let the desk pair it anew.',
        }
      if ('studentId' in event && gone.has(event.studentId))
        return { title: 'This student has been deleted.', remedy: 'What was logged stays on this device.' }
      return null
    }
    return acknowledge(body, reasonFor, async (good, clock_ms) => {
      const { fresh, clashing } = await events.append(account?.id ?? null, good, clock_ms)
      for (const event of fresh) onEvent(event, account?.id ?? null)
      return clashing
    })
  })
}
