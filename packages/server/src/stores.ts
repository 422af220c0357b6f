import type { Knex } from 'knex'
import { accountStore } from './accounts/store.ts'
import { carStore } from './cars/store.ts'
import { circuitStore } from './circuits/store.ts'
import { dayEventStore } from './days/events.ts'
import { dayStore } from './days/store.ts'
import { debriefStore } from './debrief/store.ts'
import { linkStore } from './portal/store.ts'
import { questionStore } from './questions/store.ts'
import { runStore } from './runs/store.ts'
import { schoolSettingsStore } from './school-settings/store.ts'
import { studentStore } from './students/store.ts'
import { vehicleStore } from './vehicles/store.ts'
import { venueStore } from './venues/store.ts'

/** All stores over one database. */
export const createStores = ({ db }: { db: Knex }) => ({
  accounts: accountStore(db),
  circuits: circuitStore(db),
  venues: venueStore(db),
  cars: carStore(db),
  vehicles: vehicleStore(db),
  students: studentStore(db),
  days: dayStore(db),
  dayEvents: dayEventStore(db),
  schoolSettings: schoolSettingsStore(db),
  questions: questionStore(db),
  links: linkStore(db),
  runs: runStore(db),
  debriefs: debriefStore(db),
})
export type Stores = ReturnType<typeof createStores>
