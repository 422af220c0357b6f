import { createHash, randomUUID } from 'node:crypto'
import type { Knex } from 'knex'

const hashOf = (token: string): string => createHash('sha256').update(token).digest('base64url')

/** How long a link that was given before is valid from now on (days). */
const LEFT_DAYS = 30

/**
 * Tokens are kept as hashes, links end, sessions know their account and device, devices are paired for a day, names are compared
 * whatever their spelling in Unicode, and a trail says who saw, changed, took out and erased what.
 */
const up = async (db: Knex): Promise<void> => {
  await sessionsAnew(db)
  await db('settings').where({ name: 'session-secret' }).delete()
  await db.schema.alterTable('accounts', (t) => {
    t.string('name_key')
    t.text('codes_sealed')
  })
  for (const { id, name } of (await db('accounts').orderBy('created_at').select('id', 'name')) as { id: string; name: string }[])
    await db('accounts')
      .where({ id })
      .update({ name_key: await freeKey(db, name) })
  await db.raw('drop index accounts_name')
  await db.raw('create unique index accounts_name on accounts (name_key)')
  await linksAnew(db)
  await db.schema.createTable('pairings', (t) => {
    t.string('id').primary()
    t.string('day_id').notNullable().references('days.id').onDelete('CASCADE').index()
    t.string('account_id').notNullable().references('accounts.id')
    t.string('code_hash').unique()
    t.text('code_sealed')
    t.integer('code_until').notNullable()
    t.integer('until').notNullable()
    t.string('used_at')
    t.string('revoked_at')
  })
  await db.schema.createTable('trail', (t) => {
    t.increments('seq')
    t.string('at').notNullable()
    t.string('account_id')
    t.string('by')
    t.string('what').notNullable()
    t.string('call').notNullable()
    t.string('about').index()
    t.string('hash').notNullable()
  })
  await db.schema.createTable('clock_jumps', (t) => {
    t.increments('id')
    t.string('from_at').notNullable()
    t.string('to_at').notNullable()
    t.integer('shift_ms').notNullable()
  })
  await db.schema.createTable('tries', (t) => {
    t.string('key').primary()
    t.integer('count').notNullable()
    t.integer('until').notNullable().index()
  })
}

/** Sessions of before are dropped: their ids stood in the database as they are. Everybody signs in once. */
const sessionsAnew = async (db: Knex): Promise<void> => {
  await db.schema.dropTable('sessions')
  await db.schema.createTable('sessions', (t) => {
    t.string('sid_hash').primary()
    t.string('account_id').references('accounts.id').onDelete('CASCADE').index()
    t.string('pairing_id').index()
    t.text('data').notNullable()
    t.string('device').notNullable()
    t.integer('created_at').notNullable()
    t.integer('used_at').notNullable()
    t.integer('expires_at').notNullable().index()
    t.integer('until').notNullable()
  })
}

/** Two names that differ in spelling only: the later one gets a number behind its key, and is told by its page. */
const freeKey = async (db: Knex, name: string): Promise<string> => {
  const key = name.normalize('NFKC').toLowerCase().replace(/\s+/g, ' ').trim()
  for (let k = 1; ; k++) {
    const tried = k === 1 ? key : `${key} ${k}`
    if (!(await db('accounts').where({ name_key: tried }).first('id'))) return tried
  }
}

const linksAnew = async (db: Knex): Promise<void> => {
  const until = new Date(Date.now() + LEFT_DAYS * 24 * 3600 * 1000).toISOString()
  type Old = { token: string; created_at: string }
  const ofStudents = (await db('student_links').select('*')) as (Old & { day_id: string; student_id: string })[]
  const ofSheets = (await db('sheet_links').select('*')) as (Old & { run_id: string })[]
  await db.schema.dropTable('student_links')
  await db.schema.dropTable('sheet_links')
  const common = (t: Knex.CreateTableBuilder): void => {
    t.string('id').primary()
    t.string('token_hash').notNullable().unique()
    t.string('created_at').notNullable()
    t.string('expires_at').notNullable()
    t.string('used_at')
  }
  await db.schema.createTable('student_links', (t) => {
    common(t)
    t.string('day_id').notNullable().references('days.id')
    t.string('student_id').notNullable().references('students.id')
    t.unique(['day_id', 'student_id'])
  })
  await db.schema.createTable('sheet_links', (t) => {
    common(t)
    t.string('run_id').notNullable().unique().references('runs.id').onDelete('CASCADE')
  })
  const carried = ({ token, created_at }: Old) => ({ id: randomUUID(), token_hash: hashOf(token), created_at, expires_at: until })
  for (const link of ofStudents) await db('student_links').insert({ ...carried(link), day_id: link.day_id, student_id: link.student_id })
  for (const link of ofSheets) await db('sheet_links').insert({ ...carried(link), run_id: link.run_id })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const trust: Knex.Migration = { up, down }
