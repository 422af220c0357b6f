import { readFileSync } from 'node:fs'
import type { Knex } from 'knex'
import { z } from 'zod'
import { clashOn } from '../db/dialect.ts'
import { type ClockDecision, type KeptClock, type ServerClock, serverClock } from './clock.ts'

const SETTING = 'clock'

const keptSchema = z.object({ now: z.number(), steady: z.number(), bootId: z.string(), correction_ms: z.number() })

/** This machine's start; an empty one where it cannot be told. */
const bootIdOf = (): string => {
  try {
    return readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim()
  } catch {
    return ''
  }
}

const read = async (db: Knex, setting: string): Promise<KeptClock | null> => {
  const row = (await db('settings').where({ name: setting }).first('value')) as { value: string } | undefined
  if (!row) return null
  try {
    return keptSchema.parse(JSON.parse(row.value))
  } catch {
    return null
  }
}

const tables = ['run_events', 'day_events', 'student_events'] as const

/**
 * Corrects how far devices were ahead of this server, for all that came while its clock was wrong: `at` stays what the device said,
 * `received_at` what this server's clock showed, and both together give the right moment.
 */
export const correctEvents = async (db: Knex, { from, to, shift_ms }: ClockDecision): Promise<void> => {
  const span = [new Date(from).toISOString(), new Date(to).toISOString()] as [string, string]
  await db.transaction(async (trx) => {
    for (const table of tables)
      await trx(table)
        .whereBetween('received_at', span)
        .update({ clock_ms: trx.raw('clock_ms - ?', [Math.round(shift_ms)]) })
    await trx('clock_jumps').insert({ from_at: span[0], to_at: span[1], shift_ms: Math.round(shift_ms) })
  })
}

/** How often the clock is kept (ms). */
const KEEP_EVERY_MS = 60_000

/**
 * The clock of a server with its memory in the database. `name`: that of the machine, where servers on several share a database;
 * `corrects`: whether this process is the one that corrects what is stored.
 */
export const openClock = async (
  db: Knex,
  onFailure: (error: unknown) => void,
  { name, corrects = () => true }: { name?: string | undefined; corrects?: () => boolean } = {},
): Promise<{ clock: ServerClock; close: () => Promise<void> }> => {
  const setting = name === undefined ? SETTING : `${SETTING} ${name}`
  const clock = serverClock({
    kept: await read(db, setting),
    bootId: bootIdOf(),
    onDecided: (decision) => {
      if (corrects()) void correctEvents(db, decision).catch(onFailure)
    },
  })
  const keep = async (): Promise<void> => {
    const value = JSON.stringify(clock.keep())
    await db('settings').insert({ name: setting, value }).onConflict(clashOn(db, 'name')).merge()
  }
  await keep()
  const timer = setInterval(() => void keep().catch(onFailure), KEEP_EVERY_MS)
  timer.unref()
  return {
    clock,
    close: async () => {
      clearInterval(timer)
      await keep().catch(onFailure)
    },
  }
}
