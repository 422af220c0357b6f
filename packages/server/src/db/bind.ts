import type { Knex } from 'knex'

// biome-ignore lint/suspicious/noExplicitAny: any arguments, which the bound functions keep
type OnConnection = Readonly<Record<string, (db: Knex, ...args: any[]) => unknown>>

/** The functions of a store without their first argument. */
type Bound<F extends OnConnection> = {
  [K in keyof F]: F[K] extends (db: Knex, ...args: infer A) => infer R ? (...args: A) => R : never
}

/** A store: its plain functions of a connection, all bound to one connection. */
export const bindTo = <const F extends OnConnection>(db: Knex, functions: F): Bound<F> =>
  Object.fromEntries(Object.entries(functions).map(([name, run]) => [name, run.bind(null, db)])) as Bound<F>
