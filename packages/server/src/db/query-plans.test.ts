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

/** Tables for which PostgreSQL finds no index at all: made to look for one, since a small table is read whole otherwise. */
const withoutIndex = ({ sql, bindings }: Statement): Promise<string[]> =>
  server.opened.db.transaction(async (trx) => {
    await trx.raw('set local enable_seqscan = off')
    const { rows } = await trx.raw(`explain ${sql.replace(/\$\d+/g, '?')}`, [...bindings])
    return (rows as { 'QUERY PLAN': string }[]).flatMap((row) => /Seq Scan on (\w+)/.exec(row['QUERY PLAN'])?.[1] ?? [])
  })

/** Tables that a statement reads from end to end, by the database's own plan. */
const readWhole = async ({ sql, bindings }: Statement): Promise<string[]> => {
  if (testPostgres) return withoutIndex({ sql, bindings })
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
