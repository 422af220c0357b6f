import type { LiveEvent, LivePosition } from '@ochote/contract'
import type { Response } from 'express'

/** Interval at which positions are sent (ms): short enough for an eye, long enough for fifteen cars and many screens. */
const SEND_EVERY_MS = 40
/** Number of events kept for reconnecting screens: about 30 minutes with fifteen cars. */
export const MOST_KEPT = 5000

/** Numbered events, kept for a while for screens that missed them. */
type Replay = {
  /** `dayId`: the day that it belongs to; without one it is for all. */
  add: (event: LiveEvent, dayId?: string) => void
  /** Adds one whose number is given, above all before it. */
  take: (id: number, event: LiveEvent, dayId?: string) => void
  /** Begins anew with the numbers above one, of which nothing is known below. */
  begin: (after: number) => void
  /** Number of the newest event. */
  lastId: () => number
  /** Text of all events of a day, and of those for all, after a number. */
  after: (id: number, dayId: string) => string
  /** True if events after a number have been dropped already. */
  isGone: (id: number) => boolean
}

const replayOf = (now: () => number): Replay => {
  const kept: { id: number; text: string; dayId: string | undefined }[] = []
  // Numbers are moments, so that they go on rising over a restart; below the floor nothing is known any more.
  let floor = now()
  let lastId = floor
  const take = (id: number, event: LiveEvent, dayId?: string): void => {
    lastId = id
    kept.push({ id, dayId, text: `id: ${id}\nevent: happened\ndata: ${JSON.stringify(event)}\n\n` })
    if (kept.length > MOST_KEPT) floor = kept.splice(0, kept.length - MOST_KEPT).at(-1)?.id ?? floor
  }
  return {
    add: (event, dayId) => take(Math.max(lastId + 1, now()), event, dayId),
    take,
    begin: (after) => {
      kept.length = 0
      floor = after
      lastId = after
    },
    lastId: () => lastId,
    after: (id, dayId) => {
      const from = kept.findIndex((event) => event.id > id)
      return from < 0
        ? ''
        : kept
            .slice(from)
            .filter((event) => event.dayId === undefined || event.dayId === dayId)
            .map((event) => event.text)
            .join('')
    },
    isGone: (id) => id < floor,
  }
}

/** A screen that follows a day; `blocked` while it does not read. */
type Screen = { res: Response; dayId: string; sentId: number; blocked: boolean }

/** A car's place on a day. */
type OnDay = { dayId: string; position: LivePosition }

const write = (screen: Screen, text: string): void => {
  if (screen.res.write(text) || screen.blocked) return
  screen.blocked = true
  screen.res.once('drain', () => {
    screen.blocked = false
  })
}

/**
 * The stream of the days that run to any number of screens, each of which follows one of them. Positions are sent as they change, only the newest of each car; events are
 * numbered and kept, so that a screen that comes back (or was too slow) gets what it missed. Numbers go on over a restart.
 */
export const liveStream = (now: () => number = Date.now) => {
  const replay = replayOf(now)
  const changed = new Map<string, OnDay>()
  const latest = new Map<string, OnDay>()
  const screens = new Set<Screen>()

  const ofDay = (cars: ReadonlyMap<string, OnDay>, dayId: string): LivePosition[] =>
    [...cars.values()].flatMap((car) => (car.dayId === dayId ? [car.position] : []))
  const frame = (cars: LivePosition[]): string => `event: frame\ndata: ${JSON.stringify({ sentAt: now(), cars })}\n\n`
  const send = (): void => {
    const frames = new Map<string, string>()
    const frameOf = (dayId: string): string => {
      const known = frames.get(dayId)
      if (known !== undefined) return known
      const cars = ofDay(changed, dayId)
      const text = cars.length > 0 ? frame(cars) : ''
      frames.set(dayId, text)
      return text
    }
    for (const screen of screens) {
      // A blocked screen gets nothing more to read; the events it missed it gets once it reads again.
      if (screen.blocked) continue
      const missed = screen.sentId < replay.lastId() ? replay.after(screen.sentId, screen.dayId) : ''
      screen.sentId = replay.lastId()
      const positions = frameOf(screen.dayId)
      if (missed || positions) write(screen, missed + positions)
    }
    changed.clear()
  }
  const timer = setInterval(send, SEND_EVERY_MS)
  timer.unref()

  return {
    position: (position: LivePosition, dayId: string): void => {
      changed.set(position.carNumber, { dayId, position })
      latest.set(position.carNumber, { dayId, position })
    },
    happened: replay.add,
    take: replay.take,
    begin: replay.begin,
    /** Goes on from what a screen had last; one that has had nothing begins with now. Where too much is gone the screen reads all again. */
    follow: (res: Response, dayId: string, after: number | null): void => {
      res.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache, no-transform', Connection: 'keep-alive' })
      res.flushHeaders()
      const lastId = replay.lastId()
      const screen = { res, dayId, sentId: lastId, blocked: false }
      const again = after !== null && replay.isGone(after) ? 'event: again\ndata: {}\n\n' : ''
      write(screen, `retry: 500\n${again}${replay.after(after ?? lastId, dayId)}id: ${lastId}\n${frame(ofDay(latest, dayId))}`)
      screens.add(screen)
      res.on('close', () => screens.delete(screen))
    },
    /** Drops a car's last place, which is of no use any more. */
    forget: (carNumber: string): void => {
      latest.delete(carNumber)
      changed.delete(carNumber)
    },
    /** Sets the days that run now; places of others are dropped. */
    runs: (dayIds: ReadonlySet<string>): void => {
      for (const cars of [latest, changed]) for (const [number, { dayId }] of cars) if (!dayIds.has(dayId)) cars.delete(number)
    },
    close: (): void => {
      clearInterval(timer)
      for (const { res } of screens) res.end()
    },
  }
}
export type LiveStream = ReturnType<typeof liveStream>
