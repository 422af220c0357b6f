import type { LiveEvent, LivePosition } from '@ochote/contract'
import type { Knex } from 'knex'
import pg from 'pg'
import { serverTime } from '../clock/clock.ts'
import { HAPPENED, originOf, tellOthers } from '../db/happenings.ts'
import { channelOf, NAME_SCHOOL, schoolOf, TRY_LOCK, tellSchool } from '../db/schools.ts'
import { MOST_KEPT } from './stream.ts'

/** What processes of one server tell each other beside what screens hear. */
export type Inner =
  | { kind: 'stop-logger'; runId: string }
  | { kind: 'forget'; runIds: readonly string[] }
  | { kind: 'receivers' }
  | { kind: 'devices' }

/** Something that happened; `dayId`: on which day, `by`: whose doing it was. */
export type Told = { event: LiveEvent | Inner; dayId?: string | undefined; by?: string | null | undefined }
/** The same as every process hears it, in one order; `here`: this process told it. */
export type Heard = Told & { id: number; here: boolean }

/** A car's place on a day. */
type Place = { dayId: string; position: LivePosition }

/** What a process does with what it hears. `again`: what happened before it began to listen. */
export type Hearing = {
  begin: (before: readonly Heard[]) => void
  hear: (heard: Heard) => void
  places: (places: readonly Place[]) => void
  /** This process is now the one that the receivers send to. */
  own: () => void
  /** Another process is. */
  disown: () => void
  onFailure: (error: unknown) => void
}

const PLACES = 'ochote_places'
/** Held by the process that a school's receivers send to. */
const OWNER = 'receivers'
/** How often places are passed on, a lost line is opened again, and somebody asks whether there is an owner (ms). */
const PLACES_EVERY_MS = 40
const AGAIN_MS = 1000
/** Who had the receivers when all lines were lost gets them back: others wait so long after their own line is open (ms). */
const AFTER_OTHERS_MS = 3000
/** What happened is kept for screens that were away (ms), and looked through now and then. */
const KEPT_MS = 2 * 3600 * 1000
const SWEEP_EVERY_MS = 10 * 60 * 1000
/** Bytes of one message; PostgreSQL takes less than 8000. */
const MESSAGE_BYTES = 7500
/** Happenings that wait for a database that is away. */
const MOST_WAITING = 20_000

type Row = { id: number; day_id: string | null; by: string | null; origin: string; doc: string }

/** Places in as many messages as they need. */
export const inMessages = (places: readonly Place[], most = MESSAGE_BYTES): Place[][] => {
  const out: Place[][] = []
  let size = Number.POSITIVE_INFINITY
  for (const place of places) {
    const bytes = Buffer.byteLength(JSON.stringify(place)) + 1
    if (size + bytes > most) {
      out.push([])
      size = 0
    }
    out[out.length - 1].push(place)
    size += bytes
  }
  return out
}

/**
 * What happens, told to every process of a server through PostgreSQL: written into a table, in one order, with a message that something is
 * there; where cars are goes in messages alone, for the next one makes it old. One process at a time owns the receivers: it holds a lock for
 * as long as its line to the database is open.
 */
export const postgresBus = (db: Knex, url: string) => {
  const origin = originOf(db)
  const school = schoolOf(url)
  const happened = channelOf(HAPPENED, school)
  let hearing: Hearing | null = null
  let line: pg.Client | null = null
  let isOwner = false
  let closed = false
  let first = true
  let connectedAt = 0
  let last = 0

  const read = async (after: number, limit?: number): Promise<Heard[]> => {
    const rows = (await db('happenings')
      .where('id', '>', after)
      .orderBy('id', limit === undefined ? 'asc' : 'desc')
      .limit(limit ?? MOST_KEPT)) as Row[]
    return rows
      .map(({ id, day_id, by, origin: from, doc }) => ({
        id,
        ...(day_id === null ? {} : { dayId: day_id }),
        by,
        here: from === origin,
        event: JSON.parse(doc) as Told['event'],
      }))
      .sort((a, b) => a.id - b.id)
  }
  let catching: Promise<void> = Promise.resolve()
  const catchUp = (): void => {
    catching = catching
      .then(async () => {
        for (let heard = await read(last); heard.length > 0; heard = await read(last))
          for (const one of heard) {
            last = one.id
            hearing?.hear(one)
          }
      })
      .catch((error: unknown) => hearing?.onFailure(error))
  }

  // One after the other, in the order in which they were told; what finds the database away waits for it.
  const waiting: Told[] = []
  let writing = false
  const write = async (): Promise<void> => {
    if (writing) return
    writing = true
    while (waiting.length > 0) {
      const [{ event, dayId, by }] = waiting
      try {
        await db.transaction((trx) => tellOthers(trx, [{ event, dayId, by }]))
        waiting.shift()
      } catch (error) {
        hearing?.onFailure(error)
        if (closed) break
        await new Promise((resolve) => setTimeout(resolve, AGAIN_MS))
      }
    }
    writing = false
  }

  const places = new Map<string, Place>()
  let sending = false
  const sendPlaces = async (): Promise<void> => {
    if (sending || places.size === 0) return
    sending = true
    const messages = inMessages([...places.values()])
    places.clear()
    try {
      for (const message of messages) await tellSchool(db, PLACES, JSON.stringify({ origin, places: message }))
    } catch (error) {
      hearing?.onFailure(error)
    } finally {
      sending = false
    }
  }

  const tryToOwn = async (): Promise<void> => {
    if (isOwner || !line) return
    const { rows } = await line.query(TRY_LOCK, [OWNER])
    if (rows[0]?.got !== true || closed) return
    isOwner = true
    hearing?.own()
  }
  const connect = async (): Promise<void> => {
    const client = new pg.Client({ connectionString: url, application_name: 'ochote, listening', keepAlive: true })
    client.on('error', () => lost(client))
    client.on('end', () => lost(client))
    client.on('notification', ({ channel, payload }) => {
      if (channel === happened) catchUp()
      else if (payload) {
        const told = JSON.parse(payload) as { origin: string; places: Place[] }
        if (told.origin !== origin) hearing?.places(told.places)
      }
    })
    await client.connect()
    await client.query(NAME_SCHOOL, [school])
    for (const channel of [happened, channelOf(PLACES, school)]) await client.query(`listen ${pg.escapeIdentifier(channel)}`)
    line = client
    // The lock went with the line that was lost: whoever has it now owns the receivers.
    const owned = isOwner
    isOwner = false
    if (owned || first) await tryToOwn()
    first = false
    connectedAt = Date.now()
    if (owned && !isOwner) hearing?.disown()
    catchUp()
  }
  const lost = (client: pg.Client): void => {
    if (client !== line && line !== null) return
    line = null
    client.removeAllListeners()
    client.on('error', () => {})
    void client.end().catch(() => {})
  }

  let checking = false
  const check = async (): Promise<void> => {
    if (closed || checking) return
    checking = true
    try {
      if (!line) await connect()
      else if (Date.now() - connectedAt > AFTER_OTHERS_MS) await tryToOwn()
    } catch {
      // The database is away; it is tried again, and whatever needs it says so.
      line = null
    } finally {
      checking = false
    }
  }
  const sweep = async (): Promise<void> => {
    if (isOwner)
      await db('happenings')
        .where('at', '<', new Date(Date.parse(serverTime()) - KEPT_MS).toISOString())
        .delete()
  }
  const timers: ReturnType<typeof setInterval>[] = []
  const every = (work: () => Promise<void>, ms: number): void => {
    const timer = setInterval(() => void work().catch((error: unknown) => hearing?.onFailure(error)), ms)
    timer.unref()
    timers.push(timer)
  }

  return {
    isOwner: (): boolean => isOwner,
    tell: (told: Told): void => {
      waiting.push(told)
      if (waiting.length > MOST_WAITING) waiting.shift()
      void write()
    },
    place: (position: LivePosition, dayId: string): void => {
      places.set(position.carNumber, { dayId, position })
    },
    /** Begins to listen, with what happened lately. */
    open: async (wanted: Hearing): Promise<void> => {
      hearing = wanted
      const before = await read(0, MOST_KEPT)
      last = before.at(-1)?.id ?? 0
      wanted.begin(before)
      await connect()
      every(sendPlaces, PLACES_EVERY_MS)
      every(check, AGAIN_MS)
      every(sweep, SWEEP_EVERY_MS)
    },
    close: async (): Promise<void> => {
      await write()
      closed = true
      for (const timer of timers) clearInterval(timer)
      await catching
      isOwner = false
      const client = line
      line = null
      client?.removeAllListeners()
      client?.on('error', () => {})
      await client?.end().catch(() => {})
    },
  }
}
export type Bus = ReturnType<typeof postgresBus>
