import { api } from '@ochote/contract'
import { v7 as uuid } from 'uuid'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, notFound } from '../http/problems.ts'
import type { Stores } from '../stores.ts'

/** Days: list, read, add, change, take along as a file. `onChanged`: a day is not as it was. */
export const dayRoutes = (mount: Mount, stores: Stores, onChanged: () => void): void => {
  const { days, circuits, vehicles, students, schoolSettings } = stores
  const existing = async (id: string) => {
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
  mount(api.day, async ({ params }) => existing(params.dayId))
  mount(api.dayFile, async ({ params }) => {
    const { plan } = await existing(params.dayId)
    const circuit = await circuits.byId(plan.settings.circuitId)
    if (!circuit) throw notFound('circuit')
    const wanted = new Set([plan.settings.vehicleId, ...plan.cones.served.map((s) => s.vehicleId)])
    const ofDay = new Set(plan.studentIds)
    const { schemes, phraseBooks, stock, reserved } = (await schoolSettings.read()).schoolSettings
    const { date, title, settings, cones, calls } = plan
    return {
      form: 'ochote-day-1' as const,
      day: { date, title, settings, cones, calls },
      circuit: { id: circuit.id, survey: circuit.survey, notes: circuit.notes },
      vehicles: (await vehicles.all()).filter((v) => wanted.has(v.id)),
      school: { schemes, phraseBooks, stock, reserved },
      students: (await students.all()).flatMap((s) => (ofDay.has(s.id) ? { talk: s.talk, language: s.profile.language } : [])),
    }
  })
  mount(api.addDay, async ({ body }) => {
    const day = await days.add(uuid(), body)
    onChanged()
    return day
  })
  mount(api.changeDay, async ({ params, body }) => {
    const day = await existing(params.dayId)
    if (!(await days.change(day.id, body.version, body.plan))) throw changedMeanwhile('day')
    onChanged()
    return existing(day.id)
  })
}
