import { randomUUID } from 'node:crypto'
import createKnex, { type Knex } from 'knex'
import pg from 'pg'
import { NAME_SCHOOL, schoolOf } from './schools.ts'

/** Types that PostgreSQL sends as text because they may be larger than JavaScript's numbers; ours are times and counts. */
const NUMBERS: readonly number[] = [pg.types.builtins.INT8, pg.types.builtins.NUMERIC]

/** Values as SQLite gives them: numbers for large integers and sums, 0 and 1 for no and yes. */
const types = {
  getTypeParser: (oid: number, format?: 'text' | 'binary') => {
    if (NUMBERS.includes(oid)) return Number
    if (oid === pg.types.builtins.BOOL) return (text: string) => (text === 't' ? 1 : 0)
    return pg.types.getTypeParser(oid, format as 'text')
  },
}

/** Connections that one process keeps at most. */
const MOST = 8
/** How long a statement may take, and a transaction may wait between two (ms): what hangs gives way. */
const STATEMENT_MS = 60_000
const IDLE_MS = 60_000

/** True for an address of a PostgreSQL database. */
export const isPostgresUrl = (text: string): boolean => /^postgres(ql)?:\/\//.test(text)

/** Connects to a school in a PostgreSQL database: every connection says whose it is before anything else. */
export const connectPostgres = (url: string): Knex => {
  const school = schoolOf(url)
  const begun = (connection: pg.Client, done: (error: Error | null, connection: pg.Client) => void): void =>
    void connection.query(NAME_SCHOOL, [school], (error) => done(error, connection))
  return tryingAgain(
    createKnex({
      client: 'pg',
      connection: {
        connectionString: url,
        types,
        application_name: 'ochote',
        statement_timeout: STATEMENT_MS,
        idle_in_transaction_session_timeout: IDLE_MS,
        keepAlive: true,
      } as Knex.PgConnectionConfig,
      acquireConnectionTimeout: 30_000,
      // What fails is told in words by whoever asked.
      log: { warn: () => {} },
      pool: { min: 0, max: MOST, afterCreate: begun },
      // Names this process to the others that share the database.
    }).withUserParams({ origin: randomUUID() }),
  )
}

/**
 * Types that SQLite only notes, PostgreSQL keeps to: texts of any length compared by their bytes, numbers with all their digits, and
 * integers that hold milliseconds. Run after migrations, whose column types are those of SQLite.
 */
export const widenTypes = async (db: Knex): Promise<void> => {
  const { rows } = await db.raw(
    `select table_name, column_name, data_type, collation_name, column_default from information_schema.columns
     where table_schema = current_schema() and table_name not like 'knex_%'`,
  )
  for (const { table_name, column_name, data_type, collation_name, column_default } of rows as Record<string, string | null>[]) {
    const isText = data_type === 'character varying' || (data_type === 'text' && collation_name !== 'C')
    const type = isText
      ? 'text collate "C"'
      : data_type === 'real'
        ? 'double precision'
        : data_type === 'integer' && !column_default?.startsWith('nextval')
          ? 'bigint'
          : null
    if (type) await db.raw(`alter table ?? alter column ?? type ${type}`, [table_name, column_name])
  }
}

/** Does something while no other process does it, on any machine. */
export const whileAlone = async <T>(db: Knex, what: number, work: () => Promise<T>): Promise<T> => {
  const connection = await db.client.acquireConnection()
  try {
    await db.raw('select pg_advisory_lock(?)', [what]).connection(connection)
    return await work()
  } finally {
    await db
      .raw('select pg_advisory_unlock(?)', [what])
      .connection(connection)
      .catch(() => {})
    await db.client.releaseConnection(connection)
  }
}

/** Codes by which a database says that it cannot be reached, or lets nobody in. */
const remedies: Readonly<Record<string, string>> = {
  ECONNREFUSED: 'Nobody answers there. Start PostgreSQL, or correct the address.',
  ENOTFOUND: 'There is no such machine. Correct the address.',
  ENOENT: 'There is no such socket. Start PostgreSQL, or correct the address.',
  '28P01': 'The password is wrong.',
  EAI_AGAIN: 'There is no such machine. Correct the address.',
  ETIMEDOUT: 'Nobody answers there. Correct the address, or open the way to it.',
  '28000': 'The user may not sign in from here.',
  '42501': 'The user may not make tables there. Let it own the database, or give it the right to create in its schema.',
  '3D000': 'There is no such database. Make it with createdb, then start again.',
}

/** An error in words for a database that cannot be reached; null for another error. */
export const unreachable = (error: unknown): Error | null => {
  const code = (error as { code?: unknown } | null)?.code
  const remedy = typeof code === 'string' ? remedies[code] : undefined
  return remedy === undefined ? null : new Error(`The database cannot be opened. ${remedy} Nothing was changed.`)
}

/** Codes of a connection that was cut, of a server that stops or starts, and of one that lets nobody in for now. */
const AWAY: ReadonlySet<string> = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  '57P01',
  '57P02',
  '57P03',
  '08000',
  '08003',
  '08006',
  '53300',
])

/** True for an error that says that the database is away for the moment. */
export const isDatabaseAway = (error: unknown): boolean => {
  const { code, message = '' } = (error ?? {}) as { code?: unknown; message?: string }
  if (typeof code === 'string' && AWAY.has(code)) return true
  return /^(Connection terminated|Client has encountered a connection error|Knex: Timeout acquiring a connection)/.test(message)
}

/** Codes of transactions that gave way to another one and may be done again. */
const GAVE_WAY: ReadonlySet<string> = new Set(['40001', '40P01'])
const TRIES = 5

/** Transactions that gave way to another one are done again, a moment later; their work must begin anew each time. */
const tryingAgain = (db: Knex): Knex => {
  const once = db.transaction.bind(db) as (work: (trx: Knex.Transaction) => Promise<unknown>, config?: object) => Promise<unknown>
  const again = async (work: (trx: Knex.Transaction) => Promise<unknown>, config?: object): Promise<unknown> => {
    for (let k = 1; ; k++)
      try {
        return await once(work, config)
      } catch (error) {
        if (k === TRIES || !GAVE_WAY.has(String((error as { code?: unknown }).code))) throw error
        await new Promise((resolve) => setTimeout(resolve, 20 * k * (1 + Math.random())))
      }
  }
  // Knex lets nothing of itself be replaced.
  const query = ((...args: Parameters<Knex>) => db(...args)) as Knex
  return new Proxy(query, {
    get: (_, name) => {
      if (name === 'transaction') return again
      const own: unknown = Reflect.get(db, name, db)
      return typeof own === 'function' ? own.bind(db) : own
    },
  })
}

/** The oldest PostgreSQL that this works with. */
const OLDEST = 14

/** @throws Error with a sentence and a remedy for a database that this cannot work with */
export const checkServer = async (db: Knex): Promise<void> => {
  const { rows } = await db.raw(
    `select current_setting('server_version_num')::int as version, pg_is_in_recovery() as follows,
     current_setting('default_transaction_read_only') = 'on' as reads, current_setting('server_encoding') as encoding,
     (select rolsuper or rolbypassrls from pg_roles where rolname = current_user) as unbound`,
  )
  const [{ version, follows, reads, encoding, unbound }] = rows as {
    version: number
    follows: number
    reads: number
    encoding: string
    unbound: number
  }[]
  const refused = (words: string): Error => new Error(`The database cannot be used. ${words} Nothing was changed.`)
  if (version < OLDEST * 10_000) throw refused(`PostgreSQL ${OLDEST} or newer is needed; this one is ${Math.floor(version / 10_000)}.`)
  if (follows === 1) throw refused('It follows another one and can only be read. Give the address of the one that it follows.')
  if (reads === 1) throw refused('It can only be read (default_transaction_read_only). Allow writing, or give another address.')
  if (unbound === 1)
    throw refused(
      'Its user is a superuser, or may bypass row-level security: nothing would keep schools apart for it. ' +
        'Make a user for this (createuser ochote) that owns the database (createdb --owner=ochote), and give its address.',
    )
  if (encoding !== 'UTF8') throw refused(`Its encoding is ${encoding}; make it with --encoding=UTF8 --template=template0.`)
}

/** What a database is called, how it keeps what is written, and how large it is. */
export const postgresState = async (db: Knex): Promise<{ file: string; journal: string; size_bytes: number }> => {
  const { rows } = await db.raw(
    `select current_database() as name, current_setting('server_version') as version, current_setting('synchronous_commit') as commit,
     pg_database_size(current_database()) as size`,
  )
  const [{ name, version, commit, size }] = rows as { name: string; version: string; commit: string; size: number }[]
  return { file: `PostgreSQL ${version.split(' ')[0]}: ${name}`, journal: `synchronous commit ${commit}`, size_bytes: size }
}

/** Lets counters go on after rows that were written with their numbers; other schools count by the same ones. */
export const countOn = async (db: Knex, table: string, column: string): Promise<void> => {
  await db.raw(
    `select setval(s.name, greatest(coalesce((select max(??) from ??), 0) + 1, nextval(s.name)), false)
     from (select pg_get_serial_sequence(?, ?) as name) s`,
    [column, table, table, column],
  )
}
