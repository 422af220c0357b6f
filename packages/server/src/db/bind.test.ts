import knex from 'knex'
import { afterAll, describe, expect, it } from 'vitest'
import { bindTo } from './bind.ts'

const db = knex({ client: 'better-sqlite3', connection: { filename: ':memory:' }, useNullAsDefault: true })
afterAll(() => db.destroy())

const sum = async (connection: typeof db, a: number, b = 10): Promise<number> => {
  const [{ total }] = (await connection.raw('select ? + ? as total', [a, b])) as { total: number }[]
  return total
}
const nothing = (connection: typeof db): boolean => connection === db

describe('functions of a connection', () => {
  it('become a store once bound to one, with their other arguments and defaults', async () => {
    const store = bindTo(db, { sum, nothing })
    expect(await store.sum(2)).toBe(12)
    expect(await store.sum(2, 3)).toBe(5)
    expect(store.nothing()).toBe(true)
    expect(Object.keys(store)).toEqual(['sum', 'nothing'])
  })
})
