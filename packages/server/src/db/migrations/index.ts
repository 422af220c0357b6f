import type { Knex } from 'knex'
import { first } from './001-first.ts'
import { circuitNotes } from './002-circuit-notes.ts'
import { preparation } from './003-preparation.ts'
import { runningDay } from './004-running-day.ts'
import { review } from './005-review.ts'
import { record } from './006-record.ts'
import { ids } from './007-ids.ts'
import { judgedForm } from './008-judged-form.ts'
import { replacedCircuits } from './009-replaced-circuits.ts'
import { sheetsGiven } from './010-sheets-given.ts'
import { ownSchool } from './011-own-school.ts'
import { dayBoards } from './012-day-boards.ts'
import { resumable } from './013-resumable.ts'
import { trust } from './014-trust.ts'
import { season } from './015-season.ts'
import { codeSteps } from './016-code-steps.ts'
import { happenings } from './017-happenings.ts'
import { present } from './018-present.ts'
import { daySummaries } from './019-day-summaries.ts'

/** A migration with its name; names begin with three digits, counted from 001. */
export type NamedMigration = { name: string; migration: Knex.Migration }

/** Migrations for Knex; a gap in their numbers is refused. */
export const sourceOf = (migrations: readonly NamedMigration[]): Knex.MigrationSource<unknown> => ({
  getMigrations: async () => {
    migrations.forEach((m, i) => {
      if (Number(m.name.slice(0, 3)) !== i + 1) throw new Error(`Migration ${i + 1} is missing.`)
    })
    return [...migrations]
  },
  getMigrationName: (m) => (m as NamedMigration).name,
  getMigration: async (m) => (m as NamedMigration).migration,
})

/** All migrations in the order of their release. */
export const releasedMigrations: readonly NamedMigration[] = [
  { name: '001-first', migration: first },
  { name: '002-circuit-notes', migration: circuitNotes },
  { name: '003-preparation', migration: preparation },
  { name: '004-running-day', migration: runningDay },
  { name: '005-review', migration: review },
  { name: '006-record', migration: record },
  { name: '007-ids', migration: ids },
  { name: '008-judged-form', migration: judgedForm },
  { name: '009-replaced-circuits', migration: replacedCircuits },
  { name: '010-sheets-given', migration: sheetsGiven },
  { name: '011-own-school', migration: ownSchool },
  { name: '012-day-boards', migration: dayBoards },
  { name: '013-resumable', migration: resumable },
  { name: '014-trust', migration: trust },
  { name: '015-season', migration: season },
  { name: '016-code-steps', migration: codeSteps },
  { name: '017-happenings', migration: happenings },
  { name: '018-present', migration: present },
  { name: '019-day-summaries', migration: daySummaries },
]
