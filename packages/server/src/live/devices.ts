import { type Devices, devicesSchema } from '@ochote/contract'
import type { DayEvent } from '@ochote/core'
import type { Knex } from 'knex'
import { v7 as uuid } from 'uuid'
import { serverTime } from '../clock/clock.ts'
import { clashOn } from '../db/dialect.ts'

const SETTING = 'simulated-devices'
/** At first: on in the demo; in a school of its own nothing made up is on unless somebody switches it on. */
const atFirst = (demo: boolean): Devices => ({
  version: 0,
  radio: { on: demo, delay_s: 0.5, answers: true },
  beam: { on: false },
  weather: { on: demo, rain: 'dry', air_C: 17 },
})

/** Grip that the weather leaves of a dry plan's. */
const gripInRain: Record<Devices['weather']['rain'], number> = { dry: 1, drizzle: 0.8, rain: 0.6, 'heavy-rain': 0.5 }

/** Connections of the simulated devices to the rest; `tell` stores an event of the day and shows it. */
export type DevicesOptions = {
  db: Knex
  demo: boolean
  dayIds: () => Promise<readonly string[]>
  tell: (event: DayEvent) => Promise<void>
  onFailure: (error: unknown) => void
}

/** Simulated radio, timing beam and weather station; everything they report is labelled as simulated. */
export const simulatedDevices = ({ db, demo, dayIds, tell, onFailure }: DevicesOptions) => {
  let state: Devices = atFirst(demo)
  const waiting = new Set<ReturnType<typeof setTimeout>>()
  const load = async (): Promise<void> => {
    const row = (await db('settings').where({ name: SETTING }).first('value')) as { value: string } | undefined
    const stored = row ? devicesSchema.safeParse(JSON.parse(row.value)) : null
    if (stored?.success) state = stored.data
  }
  const common = (day: string) => ({ id: uuid(), dayId: day, at: serverTime() })

  return {
    load,
    state: (): Devices => state,
    grip: (): number => (state.weather.on ? gripInRain[state.weather.rain] : 1),
    /** Sets them over the version that they were seen in; null where somebody else was faster. */
    set: async (wanted: Devices): Promise<Devices | null> => {
      // Another process may have set them.
      await load()
      if (wanted.version !== state.version) return null
      const before = state
      const next = { ...wanted, version: wanted.version + 1 }
      state = next
      await db('settings')
        .insert({ name: SETTING, value: JSON.stringify(next) })
        .onConflict(clashOn(db, 'name'))
        .merge()
      const changed = before.weather.rain !== next.weather.rain || before.weather.air_C !== next.weather.air_C
      if (next.weather.on && (changed || !before.weather.on))
        for (const day of await dayIds())
          await tell({ ...common(day), kind: 'weather', rain: next.weather.rain, air_C: next.weather.air_C, simulated: true })
      return state
    },
    /** A message was sent: after a delay every car that was addressed answers that it heard. */
    sent: (event: DayEvent): void => {
      if (event.kind !== 'radio' || !state.radio.on || !state.radio.answers) return
      const timer = setTimeout(() => {
        waiting.delete(timer)
        for (const runId of event.to) void tell({ ...common(event.dayId), kind: 'radio-answer', radioId: event.id, runId }).catch(onFailure)
      }, 2000 * state.radio.delay_s)
      timer.unref()
      waiting.add(timer)
    },
    /** A car crossed the line. */
    crossed: async (dayId: string, carNumber: string, lapTime_s: number | null): Promise<void> => {
      if (state.beam.on) await tell({ ...common(dayId), kind: 'beam', carNumber, lapTime_s, simulated: true })
    },
    close: (): void => {
      for (const timer of waiting) clearTimeout(timer)
    },
  }
}
