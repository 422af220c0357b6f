import { LRUCache } from 'lru-cache'
import type { z } from 'zod'
import { HttpProblem } from '../http/problems.ts'

/** A stored row that cannot be read any more: where it is, and what is wrong with it. */
export type BrokenRow = { table: string; id: string; why: string }

/** Rows found broken since the start, each once; the health of the server names them. */
const broken = new LRUCache<string, BrokenRow>({ max: 200 })

/** The rows that could not be read since the start. */
export const brokenRows = (): BrokenRow[] => [...broken.values()]

type Stored<S extends z.ZodType> = { value: z.output<S> } | { broken: BrokenRow }

/** Documents from this length on are kept as they were read (characters). */
const LARGE = 2000
/** How much text of such documents is kept in all (characters). */
const MOST_KEPT = 24e6

/**
 * Large documents as they were read last, by schema and text: lists of days and records read the same ones again and again, and checking
 * them is what costs. Frozen, for many readers share one.
 */
const kept = new WeakMap<z.ZodType, LRUCache<string, object>>()
const keptOf = (schema: z.ZodType): LRUCache<string, object> => {
  const own = kept.get(schema) ?? new LRUCache<string, object>({ maxSize: MOST_KEPT, sizeCalculation: (_, text) => text.length })
  kept.set(schema, own)
  return own
}

const frozen = <T>(value: T): T => {
  if (typeof value === 'object' && value !== null && !Object.isFrozen(value)) {
    Object.freeze(value)
    for (const part of Object.values(value)) frozen(part)
  }
  return value
}

/** Schemas of short documents of which a list holds thousands, read again with every look at it. */
const often = new WeakSet<z.ZodType>()

/** Documents of this schema are kept as they were read, however short. */
export const keptAsRead = <S extends z.ZodType>(schema: S): S => {
  often.add(schema)
  return schema
}

const parseStored = <S extends z.ZodType>(schema: S, text: string, table: string, id: string): Stored<S> => {
  if (text.length < LARGE && !often.has(schema)) return parsedAnew(schema, text, table, id)
  const known = keptOf(schema)
  const before = known.get(text)
  if (before) return { value: before as z.output<S> }
  const parsed = parsedAnew(schema, text, table, id)
  if ('value' in parsed && typeof parsed.value === 'object' && parsed.value !== null) known.set(text, frozen(parsed.value))
  return parsed
}

const parsedAnew = <S extends z.ZodType>(schema: S, text: string, table: string, id: string): Stored<S> => {
  let why: string
  try {
    const parsed = schema.safeParse(JSON.parse(text))
    if (parsed.success) return { value: parsed.data }
    const [issue] = parsed.error.issues
    why = `${issue.path.join('.') || 'document'}: ${issue.message}`
  } catch {
    why = 'document: broken JSON'
  }
  const row = { table, id, why }
  broken.set(`${table} ${id}`, row)
  return { broken: row }
}

/**
 * A stored document read through its schema, so that rows of older releases get today's defaults.
 * @throws HttpProblem 'stored-broken', naming the row
 */
export const readStored = <S extends z.ZodType>(schema: S, text: string, table: string, id: string): z.output<S> => {
  const stored = parseStored(schema, text, table, id)
  if ('value' in stored) return stored.value
  throw new HttpProblem(
    500,
    'stored-broken',
    `One stored entry cannot be read: ${table}, ${id}.`,
    'Everything else is unharmed. Restore this entry from a backup, or remove it.',
    stored.broken.why,
  )
}

/** The same for one row of a list: null for a broken one, which is left out of the list and named in the server’s health. */
export const readListed = <S extends z.ZodType>(schema: S, text: string, table: string, id: string): z.output<S> | null => {
  const stored = parseStored(schema, text, table, id)
  return 'value' in stored ? stored.value : null
}

/** How a text stands within a stored document. */
export const inJson = (text: string): string => JSON.stringify(text).slice(1, -1)
