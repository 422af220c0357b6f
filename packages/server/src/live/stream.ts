import type { LiveEvent, LivePosition } from '@ochote/contract'
import type { Response } from 'express'

/** Interval at which positions are sent (ms): short enough for an eye, long enough for fifteen cars and many screens. */
const SEND_EVERY_MS = 40
/** Number of events kept for reconnecting screens: about 30 minutes with fifteen cars. */
const MAX_REPLAY_EVENTS = 5000

/** Numbered events, kept for a while for screens that missed them. */
type Replay = {
  add: (event: LiveEvent) => void
  /** Number of the newest event. */
  lastId: () => number
  /** Text of all events after a number. */
  after: (id: number) => string
  /** True if events after a number have been dropped already. */
  isGone: (id: number) => boolean
}

const replayOf = (now: () => number): Replay => {
  const kept: { id: number; text: string }[] = []
  // Numbers are moments, so that they go on rising over a restart; below the floor nothing is known any more.
  let floor = now()
  let lastId = floor
  return {
    add: (event) => {
      lastId = Math.max(lastId + 1, now())
      kept.push({ id: lastId, text: `id: ${lastId}\nevent: happened\ndata: ${JSON.stringify(event)}\n\n` })
      if (kept.length > MAX_REPLAY_EVENTS) floor = kept.splice(0, kept.length - MAX_REPLAY_EVENTS).at(-1)?.id ?? floor
    },
    lastId: () => lastId,
    after: (id) => {
      const from = kept.findIndex((event) => event.id > id)
      return from < 0
        ? ''
        : kept
            .slice(from)
            .map((event) => event.text)
            .join('')
    },
    isGone: (id) => id < floor,
  }
}

/** A screen that follows a day; `blocked` while it does not read. */
type Screen = { res: Response; dayId: string; sentId: number; blocked: boolean }

const write = (screen: Screen, text: string): void => {
  if (screen.res.write(text) || screen.blocked) return
  screen.blocked = true
  screen.res.once('drain', () => {
    screen.blocked = false
  })
}

/**
 * One day's stream to any number of screens. Positions are sent as they change, only the newest of each car; events are
 * numbered and kept, so that a screen that comes back (or was too slow) gets what it missed. Numbers go on over a restart.
 */
export const liveStream = (now: () => number = Date.now) => {
  const replay = replayOf(now)
  const changed = new Map<string, LivePosition>()
  const latest = new Map<string, LivePosition>()
  const screens = new Set<Screen>()
  /** The day whose cars these are; screens that look at another one see none. */
  let runningDay: string | null = null

  const frame = (cars: LivePosition[]): string => `event: frame\ndata: ${JSON.stringify({ sentAt: now(), cars })}\n\n`
  const send = (): void => {
    const cars = changed.size > 0 ? frame([...changed.values()]) : ''
    changed.clear()
    for (const screen of screens) {
      // A blocked screen gets nothing more to read; the events it missed it gets once it reads again.
      if (screen.blocked) continue
      const missed = screen.sentId < replay.lastId() ? replay.after(screen.sentId) : ''
      screen.sentId = replay.lastId()
      const positions = screen.dayId === runningDay ? cars : ''
      if (missed || positions) write(screen, missed + positions)
    }
  }
  const timer = setInterval(send, SEND_EVERY_MS)
  timer.unref()

  return {
    position: (position: LivePosition): void => {
      changed.set(position.carNumber, position)
      latest.set(position.carNumber, position)
    },
    happened: replay.add,
    /** Goes on from what a screen had last; one that has had nothing begins with now. Where too much is gone the screen reads all again. */
    follow: (res: Response, dayId: string, after: number | null): void => {
      res.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache, no-transform', Connection: 'keep-alive' })
      res.flushHeaders()
      const lastId = replay.lastId()
      const screen = { res, dayId, sentId: lastId, blocked: false }
      const again = after !== null && replay.isGone(after) ? 'event: again\ndata: {}\n\n' : ''
      const cars = dayId === runningDay ? [...latest.values()] : []
      write(screen, `retry: 500\n${again}${replay.after(after ?? lastId)}id: ${lastId}\n${frame(cars)}`)
      screens.add(screen)
      res.on('close', () => screens.delete(screen))
    },
    /** Drops a car's last place, which is of no use any more. */
    forget: (carNumber: string): void => {
      latest.delete(carNumber)
      changed.delete(carNumber)
    },
    /** Sets the day that runs now; places of the one before are dropped. */
    runs: (dayId: string | null): void => {
      if (dayId === runningDay) return
      runningDay = dayId
      latest.clear()
      changed.clear()
    },
    close: (): void => {
      clearInterval(timer)
      for (const { res } of screens) res.end()
    },
  }
}
export type LiveStream = ReturnType<typeof liveStream>
