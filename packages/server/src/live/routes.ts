import { api } from '@ochote/contract'
import type { DayStore } from '../days/store.ts'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { SimulatedDevices } from '../runs/routes.ts'
import type { RunStore } from '../runs/store.ts'
import type { LiveDay } from './live.ts'

/** The running day: follow it, read its history, its receivers and simulated devices. */
export const liveRoutes = (mount: Mount, live: LiveDay, days: DayStore, runs: RunStore, simulated: SimulatedDevices): void => {
  mount(api.live, async ({ params, query, req, res }) => {
    const header = Number(req.get('Last-Event-ID'))
    live.stream.follow(res, params.dayId, Number.isFinite(header) && header > 0 ? header : (query.after ?? null))
    return undefined
  })
  mount(api.history, async ({ params }) => {
    if (!(await days.byId(params.dayId))) throw notFound('day')
    return runs.history(params.dayId)
  })
  mount(api.receivers, async () => live.receivers())
  mount(api.assignReceiver, async ({ params, body }) => {
    if (!live.receivers().some((r) => r.port === params.port)) throw notFound('port')
    await live.assign(params.port, body.carNumber)
    return live.receivers()
  })
  mount(api.devices, async () => live.devices.state())
  mount(api.setDevices, async ({ body }) => {
    const on = body.radio.on || body.beam.on || body.weather.on
    if (on && !(await simulated()).allowed)
      throw new HttpProblem(
        409,
        'practice-off',
        'Simulated devices are switched off in this school.',
        'The lead can switch them on for practice, in the settings of the school.',
      )
    return live.devices.set(body)
  })
}
