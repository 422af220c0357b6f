import { api } from '@ochote/contract'
import { v7 as uuid } from 'uuid'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, notFound } from '../http/problems.ts'
import type { DayStore } from './store.ts'

/** Days: list, read, add, change. `onChanged`: a day is not as it was. */
export const dayRoutes = (mount: Mount, days: DayStore, onChanged: () => void): void => {
  const one = async (id: string) => {
    const day = await days.byId(id)
    if (!day) throw notFound('day')
    return day
  }
  mount(api.days, async () =>
    (await days.all()).map((day) => ({
      id: day.id,
      date: day.plan.date,
      title: day.plan.title,
      runs: day.plan.slots.filter((s) => s.kind === 'run').length,
    })),
  )
  mount(api.day, async ({ params }) => one(params.dayId))
  mount(api.addDay, async ({ body }) => {
    const day = await days.add(uuid(), body)
    onChanged()
    return day
  })
  mount(api.changeDay, async ({ params, body }) => {
    const day = await one(params.dayId)
    if (!(await days.change(day.id, body.version, body.plan))) throw changedMeanwhile('day')
    onChanged()
    return one(day.id)
  })
}
