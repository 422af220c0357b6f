import { api, type Endpoint } from '@ochote/contract'
import type { Knex } from 'knex'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startDemoServer, type TestServer } from '../test-server.test-data.ts'
import { testPostgres } from './test-postgres.test-data.ts'

let server: TestServer
beforeAll(async () => {
  server = await startDemoServer()
}, 120_000)
afterAll(() => server.close())

/** Tables that grow with every day that is driven: no answer may read one of them from end to end. */
const growing = ['runs', 'run_events', 'logs', 'laps', 'findings', 'day_events', 'student_events', 'pictures', 'trail', 'student_links']

/** Calls that count over everything, with the tables that they read whole, each by a narrow index or the shortest rows. */
const whole: Record<string, readonly string[]> = {
  // How many runs each day has.
  days: ['runs'],
  // Every student in one line: how often and when last.
  studentLines: ['runs'],
  // The chain of hashes is checked from its first line on.
  trail: ['trail'],
}
/** Indexes that hold only the few rows that somebody looks for. */
const few = ['run_events_cars', 'run_events_of_cars', 'student_events_shared', 'student_events_focus']
/** Answers that end only when the listener goes, or that are made of the whole school as a file. */
const notAsked = new Set(['live', 'exportSchool'])

type Statement = { sql: string; bindings: readonly Knex.Value[] }

/** The statements that a piece of work sends to the database. */
const statementsOf = async (work: () => Promise<unknown>): Promise<Statement[]> => {
  const seen: Statement[] = []
  const listen = ({ sql, bindings }: { sql: string; bindings?: readonly Knex.Value[] }) => {
    if (/^\s*(select|with)/i.test(sql)) seen.push({ sql, bindings: bindings ?? [] })
  }
  server.opened.db.on('query', listen)
  await work()
  server.opened.db.removeListener('query', listen)
  return seen
}

type PlanNode = { 'Node Type': string; 'Relation Name'?: string; 'Index Name'?: string; 'Index Cond'?: string; Plans?: PlanNode[] }

/** Tables that a plan reads whole: without an index, or all rows of a school by one that no condition narrows, unless it stops early. */
const wholeIn = (node: PlanNode, short: boolean): string[] => {
  const stops = node['Node Type'] === 'Limit' || (short && node['Node Type'] !== 'Sort')
  const narrow =
    (node['Index Cond'] ?? '').replace(/\(?school = current_setting\('ochote.school'::text\)\)?/, '').replace(/[() ]/g, '') !== ''
  const table = node['Relation Name']
  const own = table !== undefined && !narrow && !short && !few.includes(node['Index Name'] ?? '') ? [table] : []
  return [...own, ...(node.Plans ?? []).flatMap((below) => wholeIn(below, stops))]
}

/** The same by PostgreSQL's plan. */
const wholeInPostgres = ({ sql, bindings }: Statement): Promise<string[]> =>
  server.opened.db.transaction(async (trx) => {
    await trx.raw('set local enable_seqscan = off')
    await trx.raw('set local enable_bitmapscan = off')
    const { rows } = await trx.raw(`explain (format json) ${sql.replace(/\$\d+/g, '?')}`, [...bindings])
    return wholeIn((rows as { 'QUERY PLAN': { Plan: PlanNode }[] }[])[0]['QUERY PLAN'][0].Plan, false)
  })

/** Where rows of each table come from that make it large, as one of its own again and again: their keys, and whose they are. */
const more: readonly (readonly [table: string, keys: readonly string[]])[] = [
  ['days', ['id']],
  ['students', ['id']],
  ['runs', ['id', 'day_id', 'student_id']],
  ['run_events', ['id', 'run_id']],
  ['logs', ['run_id']],
  ['laps', ['run_id']],
  ['findings', ['run_id']],
  ['day_events', ['id', 'day_id']],
  ['student_events', ['id', 'student_id']],
  ['student_links', ['id', 'token_hash', 'day_id', 'student_id']],
]
const MORE = 8000

/** Makes tables so large that reading one of them whole is the worst way: PostgreSQL reads a short one as it likes. */
const growTables = async (): Promise<void> => {
  const { db } = server.opened
  const counters = new Set(['seq', 'id'])
  for (const [table, keys] of more) {
    const { rows } = await db.raw(
      'select column_name as name from information_schema.columns where table_name = ? and is_generated = ? order by 1',
      [table, 'NEVER'],
    )
    const columns = (rows as { name: string }[]).map((row) => row.name).filter((name) => keys.includes(name) || !counters.has(name))
    // No log is unpacked here: without its samples a row takes little room.
    const other = (name: string): string => (name === 'csv_gz' ? "''::bytea" : `one."${name}"`)
    const values = columns.map((name) => (keys.includes(name) ? "'more-' || n" : other(name)))
    await db.raw(
      `insert into ${table} (${columns.map((name) => `"${name}"`).join()}) select ${values.join()}
       from (select * from ${table} limit 1) as one, generate_series(1, ${MORE}) as n`,
    )
  }
  await db.raw('analyze')
}

/** Tables that a statement reads from end to end, by the database's own plan. */
const readWhole = async ({ sql, bindings }: Statement): Promise<string[]> => {
  if (testPostgres) return wholeInPostgres({ sql, bindings })
  const plan = (await server.opened.db.raw(`EXPLAIN QUERY PLAN ${sql}`, [...bindings])) as { detail: string }[]
  // Walked in the order of the table or of an index, and left after a few rows: no sorting, a short walk.
  const short = /limit \?/i.test(sql) && !plan.some(({ detail }) => detail.includes('TEMP B-TREE'))
  return plan.flatMap(({ detail }) => {
    const [, table, index = ''] = /^SCAN (\w+)(?: USING (?:COVERING )?INDEX (\w+))?/.exec(detail) ?? []
    return table && !short && !few.includes(index) ? [table] : []
  })
}

const valuesFor = async (): Promise<Record<string, string>> => {
  const ask = async (path: string) => (await server.agent.get(path)).body
  const [run] = (await ask('/api/runs')) as { id: string; dayId: string; studentId: string }[]
  const [circuit] = (await ask('/api/circuits')) as { id: string }[]
  const [car] = (await ask('/api/cars')) as { id: string }[]
  const [vehicle] = (await ask('/api/vehicles')) as { id: string }[]
  const link = await server.agent.post(`/api/days/${run.dayId}/links/${run.studentId}`)
  const sheet = await server.agent.post(`/api/runs/${run.id}/sheet-link`)
  const token = (answer: { body: object }) => /[\w-]{20,}/.exec(JSON.stringify(answer.body))?.[0] ?? ''
  return {
    runId: run.id,
    dayId: run.dayId,
    studentId: run.studentId,
    circuitId: circuit.id,
    carId: car.id,
    vehicleId: vehicle.id,
    lap: '1',
    token: token(link),
    sheetToken: token(sheet),
  }
}

describe('what the database reads for an answer', () => {
  it('never reads a table from end to end that grows with the season', async () => {
    const values = await valuesFor()
    if (testPostgres) await growTables()
    const told: string[] = []
    let asked = 0
    for (const e of Object.values(api) as Endpoint[]) {
      if (e.method !== 'get' || notAsked.has(e.id)) continue
      const path = e.path.replace(/:(\w+)/g, (_, name: string) =>
        name === 'token' && e.path.includes('/sheets/') ? values.sheetToken : (values[name] ?? 'none'),
      )
      const statements = await statementsOf(() => server.agent.get(path).ok(() => true))
      asked += statements.length
      for (const statement of statements)
        for (const table of await readWhole(statement))
          if (growing.includes(table) && !whole[e.id]?.includes(table))
            told.push(`${e.id} reads all of ${table}: ${statement.sql.slice(0, 160)}`)
    }
    expect(asked).toBeGreaterThan(100)
    expect([...new Set(told)]).toEqual([])
  }, 120_000)
})
