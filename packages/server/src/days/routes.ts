import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, linkWithdrawn, notFound } from '../http/problems.ts'
import type { Stores } from '../stores.ts'
import { boardOf, dayCalendar } from './times.ts'

/** Days: list, read, add, change, remove, take along as a file. `onChanged`: a day is not as it was. */
export const dayRoutes = (mount: Mount, stores: Stores, onChanged: (dayId: string) => void): void => {
  const { days, circuits, vehicles, students, schoolSettings, links } = stores
  const existing = async (id: string) => {
    const day = await days.byId(id)
    if (!day) throw notFound('day')
    return day
  }
  mount(api.days, async ({ identity }) => {
    const all = await days.summaries()
    return identity.dayId === null ? all : all.filter((day) => day.id === identity.dayId)
  })
  mount(api.day, async ({ params }) => existing(params.dayId))
  mount(api.dayFile, async ({ params }) => {
    const { plan } = await existing(params.dayId)
    const circuit = await circuits.byId(plan.settings.circuitId)
    if (!circuit) throw notFound('circuit')
    const wanted = new Set([plan.settings.vehicleId, ...plan.cones.served.map((s) => s.vehicleId)])
    const { schemes, phraseBooks, stock, reserved } = (await schoolSettings.read()).schoolSettings
    const { date, title, settings, cones, calls } = plan
    return {
      form: 'ochote-day-1' as const,
      day: { date, title, settings, cones, calls },
      circuit: { id: circuit.id, survey: circuit.survey, notes: circuit.notes },
      vehicles: (await vehicles.all()).filter((v) => wanted.has(v.id)),
      school: { schemes, phraseBooks, stock, reserved },
      students: (await students.byIds(plan.studentIds)).map((s) => ({ talk: s.talk, language: s.profile.language })),
    }
  })
  mount(api.dayBoard, async ({ params }) => {
    const day = await days.byBoard(params.token, links.boardToken)
    if (!day) throw linkWithdrawn()
    return boardOf(stores, day)
  })
  mount(api.boardLink, async ({ day }) => ({ token: day?.plan.board ? links.boardToken(day.plan.board.token) : null }))
  mount(api.dayCalendar, async ({ params, query, res }) => {
    const whose = query.instructorId === undefined ? {} : { instructorId: query.instructorId }
    res.type('text/calendar').send(await dayCalendar(stores, await existing(params.dayId), whose))
    return undefined
  })
  mount(api.addDay, async ({ body }) => {
    await days.add(body.id, body.plan)
    onChanged(body.id)
    return existing(body.id)
  })
  mount(api.removeDay, async ({ params }) => {
    const day = await existing(params.dayId)
    if (!(await days.remove(day.id)))
      throw new HttpProblem(
        409,
        'in-use',
        'Runs were driven on this day.',
        'It stays for the record of its students; what is planned on it can still be changed.',
      )
    onChanged(day.id)
    return days.summaries()
  })
  mount(api.changeDay, async ({ params, body }) => {
    const day = await existing(params.dayId)
    if (!(await days.change(day.id, body.version, body.plan))) throw changedMeanwhile('day')
    onChanged(day.id)
    return existing(day.id)
  })
}
