import type { Knex } from 'knex'

/** The kit of a school, questions asked at circuits, events of days beside runs, students' profiles and links. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.createTable('kit', (t) => {
    t.integer('id').primary()
    t.integer('version').notNullable()
    t.text('doc').notNullable()
  })
  await db.schema.createTable('questions', (t) => {
    t.string('id').primary()
    t.string('circuit_id').notNullable().references('circuits.id').index()
    t.string('corner_id')
    t.text('text').notNullable()
    t.text('answer').notNullable()
    t.string('at').notNullable()
  })
  await db.schema.createTable('day_events', (t) => {
    t.increments('seq')
    t.string('id').notNullable().unique()
    t.string('day_id').notNullable().references('days.id')
    t.string('student_id').references('students.id').index()
    t.string('account_id').references('accounts.id')
    t.string('received_at').notNullable()
    t.text('doc').notNullable()
    t.index(['day_id', 'seq'])
  })
  await db.schema.createTable('student_links', (t) => {
    t.string('token').primary()
    t.string('day_id').notNullable().references('days.id')
    t.string('student_id').notNullable().references('students.id')
    t.string('created_at').notNullable()
    t.unique(['day_id', 'student_id'])
  })
  await db.schema.alterTable('students', (t) => t.text('profile').notNullable().defaultTo('{}'))
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const preparation: Knex.Migration = { up, down }
