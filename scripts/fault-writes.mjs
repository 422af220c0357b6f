// The kinds of writes that the fault run tries, each with how it is looked for afterwards.
import { randomUUID } from 'node:crypto'
import { setTimeout as later } from 'node:timers/promises'

/** The day of the demo. */
export const DAY = 'day-2027-05-15'

export const now = () => new Date().toISOString()
const JPEG = Buffer.from([0xff, 0xd8, 0xff, 0xe0, 1, 2, 3, 0xff, 0xd9]).toString('base64')

/**
 * Writes of every kind. `send` gives what was acknowledged, as a check of it after the restart, or null where it was not acknowledged.
 */
export const kinds = ({ settings, log, random }) => {
  const acknowledged = async (call, method, path, body, check) => ((await call(method, path, body)).status === 200 ? check : null)
  const started = async (call) => {
    const id = randomUUID()
    const { status } = await call('POST', '/api/runs', {
      id,
      dayId: DAY,
      slotId: null,
      studentId: 'imke-valderan',
      settings,
      startedAt: now(),
    })
    return status === 200 ? id : null
  }
  let runId = null
  const openRun = async (call) => {
    runId ??= await started(call)
    return runId
  }
  return {
    touch: async (call) => {
      const run = await openRun(call)
      if (!run) return null
      const event = { id: randomUUID(), runId: run, at: now(), kind: 'observation', cornerId: 'T1', code: 'coast', lap: 1 }
      const { status, body } = await call('POST', '/api/events', { events: [event] })
      if (status !== 200 || !body.stored.includes(event.id)) return null
      return async (again) => (await again('GET', `/api/runs/${run}/events`)).body.filter((e) => e.id === event.id).length === 1
    },
    'entry of the day': async (call) => {
      const event = { id: randomUUID(), dayId: DAY, at: now(), kind: 'radio', to: [], text: `word ${random()}` }
      const { status, body } = await call('POST', '/api/day-events', { events: [event] })
      if (status !== 200 || !body.stored.includes(event.id)) return null
      return async (again) => (await again('GET', `/api/days/${DAY}/events`)).body.filter((e) => e.id === event.id).length === 1
    },
    student: (call) => {
      const student = { id: randomUUID(), name: `Student ${random()}`, level: 'steady', talk: 'guided', units: 'metric', profile: {} }
      return acknowledged(call, 'POST', '/api/students', student, async (again) =>
        (await again('GET', '/api/students')).body.some((s) => s.id === student.id && s.name === student.name),
      )
    },
    car: (call) => {
      const [id, number] = [randomUUID(), String(Math.floor(100 + random() * 900))]
      return acknowledged(
        call,
        'PUT',
        `/api/cars/${id}`,
        { version: 0, number, vehicleId: settings.vehicleId, archived: false },
        async (again) => (await again('GET', '/api/cars')).body.some((car) => car.id === id && car.number === number),
      )
    },
    question: (call) => {
      const question = { id: randomUUID(), circuitId: settings.circuitId, cornerId: 'T1', text: `Why ${random()}?`, answer: '', at: now() }
      return acknowledged(call, 'PUT', `/api/questions/${question.id}`, question, async (again) =>
        (await again('GET', `/api/circuits/${settings.circuitId}/questions`)).body.some(
          (q) => q.id === question.id && q.text === question.text,
        ),
      )
    },
    'plan of the day': async (call) => {
      const { status, body } = await call('GET', `/api/days/${DAY}`)
      if (status !== 200) return null
      const rules = [...body.plan.rules.slice(0, 5), `Rule ${random()}`]
      return acknowledged(call, 'PUT', `/api/days/${DAY}`, { version: body.version, plan: { ...body.plan, rules } }, async (again) => {
        const day = (await again('GET', `/api/days/${DAY}`)).body
        // Somebody may have written a newer one since.
        return day.version > body.version + 1 || (day.version === body.version + 1 && day.plan.rules.at(-1) === rules.at(-1))
      })
    },
    picture: async (call) => {
      const run = await openRun(call)
      const id = randomUUID()
      if (!run) return null
      return acknowledged(
        call,
        'POST',
        `/api/runs/${run}/pictures`,
        { id, jpeg: JPEG },
        async (again) => (await again('GET', `/api/runs/${run}/pictures/${id}`)).status === 200,
      )
    },
    log: async (call) => {
      const run = await started(call)
      if (!run || (await call('POST', `/api/runs/${run}/end`)).status !== 200) return null
      return acknowledged(call, 'PUT', `/api/runs/${run}/log`, log, async (again) => {
        const { status, body } = await again('GET', `/api/runs/${run}/debrief`)
        return status === 200 && body.laps.length > 0
      })
    },
    'end of a run': async (call) => {
      const run = await started(call)
      if (!run) return null
      const simulated = await call('POST', `/api/runs/${run}/simulated-logger`, { seed: 3, laps: 1, speedFactor: 60 })
      if (simulated.status !== 200) return null
      const { status, body } = await call('POST', '/api/events', { events: [{ id: randomUUID(), runId: run, at: now(), kind: 'ended' }] })
      if (status !== 200 || body.stored.length === 0) return null
      return async (again) => {
        for (let tries = 0; tries < 400; tries++) {
          if ((await again('GET', `/api/runs/${run}`)).body.endedAt) return true
          await later(25)
        }
        return false
      }
    },
  }
}
