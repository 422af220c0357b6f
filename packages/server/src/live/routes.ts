import { api } from '@ochote/contract'
import type { Present } from '../db/present.ts'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, notFound } from '../http/problems.ts'
import type { SimulatedDevices } from '../runs/routes.ts'
import type { Stores } from '../stores.ts'
import type { LiveDay } from './live.ts'

/** Screens that may follow a day at the same time as one account: a desk, a projector and tablets that share it. */
const MAX_SCREENS = 24

/** The running day: follow it, read its history, its receivers and simulated devices. */
export const liveRoutes = (
  mount: Mount,
  live: LiveDay,
  { days, runs }: Pick<Stores, 'days' | 'runs'>,
  simulated: SimulatedDevices,
  here: Pick<Present, 'enter'>,
): void => {
  mount(api.live, async ({ params, query, req, res, identity }) => {
    const leave = await here.enter([[`screens of ${identity.key}`, MAX_SCREENS]])
    if (!leave)
      throw new HttpProblem(
        429,
        'too-busy',
        'Too many screens of this account follow the day.',
        'Close some of them; this one then follows by itself.',
      )
    // Whoever went away meanwhile closes nothing any more.
    if (res.closed) leave()
    else res.on('close', leave)
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
    const receiver = (await live.receivers()).find((r) => r.port === params.port)
    if (!receiver) throw notFound('port')
    if (receiver.carNumber !== body.before) throw changedMeanwhile('port')
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
    const set = await live.devices.set(body)
    if (!set) throw changedMeanwhile('simulated device')
    live.devicesSet()
    return set
  })
}
