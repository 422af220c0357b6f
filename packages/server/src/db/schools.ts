import type { Knex } from 'knex'

/**
 * Schools in one PostgreSQL database. Every table has a column that says whose a row is, filled in and compared by the database itself: a
 * connection names its school once, and neither reads nor writes anything of another one, whatever a statement says. Keys, references and
 * indexes begin with that column, so that two schools may have the same ids and names, and each is found as fast as if it were alone.
 * A school in a folder has no such column: the folder is the school.
 */
const SETTING = 'ochote.school'

/** The school of an address that names none. */
const USUAL = 'school'

/** Names of schools: what stands safely in addresses, channels and messages. */
const NAME = /^[a-z0-9](?:[a-z0-9-]{0,38}[a-z0-9])?$/

/** The school that the address of a database names (`?school=north`). @throws Error with a sentence for a name that cannot be one */
export const schoolOf = (url: string): string => {
  const name = new URL(url).searchParams.get('school') ?? USUAL
  if (NAME.test(name)) return name
  throw new Error(
    `“${name}” cannot name a school in a database: use up to 40 of a to z, 0 to 9 and -, beginning and ending with a letter or digit.`,
  )
}

/** SQL by which a new connection says whose it is; the name is bound. */
export const NAME_SCHOOL = `select set_config('${SETTING}', $1, false)`

const current = `current_setting('${SETTING}')`

/** SQL that tries to get a lock of one school for as long as the connection lasts; its name is bound. */
export const TRY_LOCK = `select pg_try_advisory_lock(hashtextextended(${current} || ' ' || $1, 0)) as got`

/** SQL of a number that differs between schools, for locks of one school. */
export const lockOf = (db: Knex, what: string): Knex.Raw => db.raw(`hashtextextended(${current} || ' ' || ?, 0)`, [what])

/** Sends a message to the processes of one school. */
export const tellSchool = async (db: Knex, channel: string, message: string): Promise<void> => {
  await db.raw(`select pg_notify(? || '.' || ${current}, ?)`, [channel, message])
}

/** The channel on which processes of one school hear what is told them on `channel`. */
export const channelOf = (channel: string, school: string): string => `${channel}.${school}`

/** Fields of documents that are searched. Each is a column of its own there: conditions on columns may use an index, however rows are kept apart. */
const searched: Readonly<Record<string, readonly (readonly [column: string, path: string])[]>> = {
  days: [
    ['plan', 'board.token'],
    ['plan', 'settings.circuitId'],
    ['plan', 'settings.vehicleId'],
  ],
  runs: [
    ['settings', 'circuitId'],
    ['settings', 'vehicleId'],
  ],
  run_events: [
    ['doc', 'kind'],
    ['doc', 'carId'],
  ],
  day_events: [
    ['doc', 'kind'],
    ['doc', 'studentId'],
  ],
  student_events: [
    ['doc', 'kind'],
    ['doc', 'studentId'],
  ],
  cars: [['doc', 'vehicleId']],
}

/** The column that holds one field of a document. */
export const columnOf = (column: string, path: string): string => `${column}_${path.replaceAll('.', '_')}`.toLowerCase()

/** Columns that say nothing of their own: whose a row is, and fields of its document. */
export const derivedColumns: ReadonlySet<string> = new Set([
  'school',
  ...Object.values(searched).flatMap((fields) => fields.map(([column, path]) => columnOf(column, path))),
])

type Rows<T> = { rows: T[] }
type Constraint = {
  name: string
  kind: 'p' | 'u' | 'f'
  table: string
  columns: string[]
  target: string | null
  targetColumns: string[] | null
  onDelete: string
}
type Index = { name: string; definition: string }

/** Tables of a school, with whether they are kept apart. */
const tablesIn = async (db: Knex): Promise<{ name: string; apart: boolean }[]> => {
  const { rows } = (await db.raw(
    `select relname as name, (relrowsecurity and relforcerowsecurity)::int as apart from pg_class
     where relnamespace = current_schema()::regnamespace and relkind = 'r' and relname not like 'knex\\_%' order by relname`,
  )) as Rows<{ name: string; apart: number }>
  return rows.map(({ name, apart }) => ({ name, apart: apart === 1 }))
}

const constraintsOf = async (db: Knex, tables: readonly string[]): Promise<Constraint[]> => {
  const names = (keys: string, table: string): string =>
    `(select array_agg(a.attname::text order by k.n) from unnest(${keys}) with ordinality k(attnum, n)
      join pg_attribute a on a.attrelid = ${table} and a.attnum = k.attnum)`
  const { rows } = (await db.raw(
    `select c.conname as name, c.contype::text as kind, c.conrelid::regclass::text as "table", ${names('c.conkey', 'c.conrelid')} as columns,
       nullif(c.confrelid, 0)::regclass::text as target, ${names('c.confkey', 'c.confrelid')} as "targetColumns", c.confdeltype::text as "onDelete"
     from pg_constraint c where c.contype in ('p', 'u', 'f') and c.conrelid::regclass::text = any(?)`,
    [[...tables]],
  )) as Rows<Constraint>
  return rows
}

/** Indexes that are no constraint, of some tables. */
const indexesOf = async (db: Knex, tables: readonly string[]): Promise<Index[]> => {
  const { rows } = (await db.raw(
    `select i.indexrelid::regclass::text as name, pg_get_indexdef(i.indexrelid) as definition from pg_index i
     where i.indrelid::regclass::text = any(?) and not exists (select 1 from pg_constraint c where c.conindid = i.indexrelid and c.contype <> 'f')`,
    [[...tables]],
  )) as Rows<Index>
  return rows
}

/** An index by school first, and by columns where it was by fields of documents. */
const indexBySchool = (definition: string): string =>
  definition
    .replace(/\(\((\w+)\)::json #>> '\{([\w,]+)\}'::text\[\]\)/g, (_, column: string, path: string) =>
      columnOf(column, path.replaceAll(',', '.')),
    )
    .replace(/ USING btree \(/, ' USING btree (school, ')

const listed = (columns: readonly string[]): string => columns.map((column) => `"${column}"`).join(', ')

const addConstraint = (db: Knex, { name, kind, table, columns, target, targetColumns, onDelete }: Constraint): Knex.Raw => {
  const own = listed(['school', ...columns])
  const what =
    kind === 'f'
      ? // Setting a reference to nothing would take the school away too: stores do that themselves.
        `foreign key (${own}) references ${target} (${listed(['school', ...(targetColumns ?? [])])})${onDelete === 'c' ? ' on delete cascade' : ''}`
      : `${kind === 'p' ? 'primary key' : 'unique'} (${own})`
  return db.raw(`alter table ${table} add constraint "${name}" ${what}`)
}

/** Puts the rows that tables hold under one school, and keeps every later one apart by school. */
const keepTablesApart = async (db: Knex, tables: readonly string[], school: string): Promise<void> => {
  const constraints = await constraintsOf(db, tables)
  const indexes = await indexesOf(db, tables)
  const references = constraints.filter((c) => c.kind === 'f')
  const keys = constraints.filter((c) => c.kind !== 'f')
  for (const table of tables) {
    // A text cannot hold the character of code 0, which a document may.
    for (const [column, path] of searched[table] ?? [])
      await db.raw(
        `alter table ${table} add column ${columnOf(column, path)} text collate "C"
         generated always as (replace(${column}, '\\u0000', '\\u0001')::json #>> '{${path.replaceAll('.', ',')}}') stored`,
      )
    await db.raw(`alter table ${table} add column school text collate "C" not null default '${school}'`)
    await db.raw(`alter table ${table} alter column school set default ${current}`)
  }
  for (const { table, name } of [...references, ...keys]) await db.raw(`alter table ${table} drop constraint "${name}"`)
  for (const { name } of indexes) await db.raw(`drop index ${name}`)
  for (const key of keys) await addConstraint(db, key)
  for (const reference of references) await addConstraint(db, reference)
  for (const { definition } of indexes) await db.raw(indexBySchool(definition))
  for (const table of tables) {
    await db.raw(`create policy own_school on ${table} using (school = ${current}) with check (school = ${current})`)
    await db.raw(`alter table ${table} enable row level security`)
  }
}

/** Lets a transaction that changes the schema see the rows of all schools; nobody else reads anything until it has ended. */
export const seeAllSchools = async (trx: Knex): Promise<void> => {
  for (const { name, apart } of await tablesIn(trx)) if (apart) await trx.raw(`alter table ${name} no force row level security`)
}

/** Keeps every table apart by school at the end of such a transaction; rows of tables that were not become those of `school`. */
export const keepApart = async (trx: Knex, school: string): Promise<void> => {
  const { rows } = (await trx.raw(
    `select table_name as name from information_schema.columns where table_schema = current_schema() and column_name = 'school'`,
  )) as Rows<{ name: string }>
  const known = new Set(rows.map((row) => row.name))
  const tables = (await tablesIn(trx)).map((table) => table.name)
  await keepTablesApart(
    trx,
    tables.filter((name) => !known.has(name)),
    school,
  )
  for (const name of tables) await trx.raw(`alter table ${name} force row level security`)
}

/** True where every table is kept apart by school. */
export const areApart = async (db: Knex): Promise<boolean> => (await tablesIn(db)).every((table) => table.apart)
