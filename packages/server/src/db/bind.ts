import type { Knex } from 'knex'

/** Functions whose first argument is the connection, whatever the others are. */
type OnConnection = Readonly<Record<string, (db: Knex, ...rest: never[]) => unknown>>

/** The functions of a store without their first argument. */
type Bound<F extends OnConnection> = {
  [K in keyof F]: F[K] extends (db: Knex, ...args: infer A) => infer R ? (...args: A) => R : never
}

/** A store: its plain functions of a connection, all bound to one connection. */
export const bindTo = <const F extends OnConnection>(db: Knex, functions: F): Bound<F> =>
  Object.fromEntries(Object.entries(functions).map(([name, run]) => [name, run.bind(null, db)])) as Bound<F>
