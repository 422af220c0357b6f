import { randomUUID } from 'node:crypto'
import pg from 'pg'

/** Address of a PostgreSQL server whose user may make databases, for tests on it; null tests on SQLite. */
export const testPostgres: string | null = process.env.OCHOTE_TEST_POSTGRES || null

/** Databases that others are copied from: one with an empty school, one with the demo. */
export const EMPTY = 'ochote_test_empty'
export const DEMO = 'ochote_test_demo'

/** The address of a database of the tests. */
export const databaseAt = (name: string): string => {
  const url = new URL(testPostgres ?? '')
  url.pathname = `/${name}`
  return url.href
}

const said = async (sql: string): Promise<pg.QueryResult> => {
  const client = new pg.Client({ connectionString: testPostgres ?? '' })
  await client.connect()
  return client.query(sql).finally(() => client.end())
}

/** Makes a database, as a copy of another one that nobody is connected to. */
export const makeDatabase = async (name: string, template = 'template0'): Promise<void> => {
  await said(`create database "${name}" template "${template}"`)
}

/** Drops every database of the tests. */
export const dropAll = async (): Promise<void> => {
  const { rows } = await said("select datname from pg_database where datname like 'ochote\\_test\\_%'")
  for (const { datname } of rows as { datname: string }[]) await said(`drop database if exists "${datname}" with (force)`)
}

/** Databases of data folders: a server that is started again over a folder finds its own. */
const ofFolder = new Map<string, string>()

/** The address of a data folder's database, which is copied from another one the first time. */
export const databaseOf = async (dataDir: string, template: string): Promise<string> => {
  const known = ofFolder.get(dataDir)
  if (known !== undefined) return known
  const name = `ochote_test_${randomUUID()}`
  await makeDatabase(name, template)
  ofFolder.set(dataDir, databaseAt(name))
  return databaseAt(name)
}
