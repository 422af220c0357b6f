import type { Knex } from 'knex'
import { accountStore } from './accounts/store.ts'
import { carStore } from './cars/store.ts'
import { circuitStore } from './circuits/store.ts'
import { dayEventStore } from './days/events.ts'
import { dayStore } from './days/store.ts'
import { debriefStore } from './debrief/store.ts'
import { linkStore } from './portal/links.ts'
import { questionStore } from './questions/store.ts'
import { runStore } from './runs/store.ts'
import { schoolSettingsStore } from './school-settings/store.ts'
import type { Secrets } from './secrets/secrets.ts'
import { studentStore } from './students/store.ts'
import { vehicleStore } from './vehicles/store.ts'
import { venueStore } from './venues/store.ts'

const storesOf = (db: Knex, secrets: Secrets) => ({
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
  links: linkStore(db, secrets),
  runs: runStore(db),
  debriefs: debriefStore(db),
})
export type NounStores = ReturnType<typeof storesOf>

/** All stores over one connection; `together` does some work with all of them in one transaction, all or nothing. */
export type Stores = NounStores & { together: <T>(work: (stores: NounStores) => Promise<T>) => Promise<T> }

/** All stores over one database. */
export const createStores = ({ db, secrets }: { db: Knex; secrets: Secrets }): Stores => ({
  ...storesOf(db, secrets),
  together: (work) => db.transaction((trx) => work(storesOf(trx, secrets))),
})
