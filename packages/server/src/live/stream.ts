import type { LiveEvent, LivePosition } from '@ochote/contract'
import type { Response } from 'express'

/** How often positions go out (ms): often enough for an eye, seldom enough for fifteen cars and many screens. */
const SEND_EVERY_MS = 40
/** Number of events kept for reconnecting screens: about 30 minutes with fifteen cars. */
const MAX_REPLAY_EVENTS = 5000

type Numbered = { id: number; text: string }

/**
 * One day's stream to any number of screens. Positions are sent as they change, only the newest of each car; happenings are
 * numbered and kept, so that a screen that comes back (or was too slow) gets what it missed. Numbers go on over a restart.
 */
export const liveStream = (now: () => number = Date.now) => {
  const kept: Numbered[] = []
  // Numbers are moments, so that they go on rising over a restart; below the floor nothing is known any more.
  let floor = now()
  let lastId = floor
  const changed = new Map<string, LivePosition>()
  const latest = new Map<string, LivePosition>()
  const screens = new Set<{ res: Response; dayId: string; sentId: number; blocked: boolean }>()
  /** The day whose cars these are; screens that look at another one see none. */
  let runningDay: string | null = null

  const write = (screen: { res: Response; blocked: boolean }, text: string): void => {
    if (screen.res.write(text) || screen.blocked) return
    screen.blocked = true
    screen.res.once('drain', () => {
      screen.blocked = false
    })
  }
  const missed = (sentId: number): string => {
    const from = kept.findIndex((e) => e.id > sentId)
    return from < 0
      ? ''
      : kept
          .slice(from)
          .map((e) => e.text)
          .join('')
  }
  const frame = (cars: LivePosition[]): string => `event: frame\ndata: ${JSON.stringify({ sentAt: now(), cars })}\n\n`
  const timer = setInterval(() => {
    const cars = changed.size > 0 ? frame([...changed.values()]) : ''
    changed.clear()
    for (const screen of screens) {
      // A screen that does not read gets no more to read; what counts it gets once it reads again.
      if (screen.blocked) continue
      const text = screen.sentId < lastId ? missed(screen.sentId) : ''
      screen.sentId = lastId
      const seen = screen.dayId === runningDay ? cars : ''
      if (text || seen) write(screen, text + seen)
    }
  }, SEND_EVERY_MS)
  timer.unref()

  return {
    position: (position: LivePosition): void => {
      changed.set(position.carNumber, position)
      latest.set(position.carNumber, position)
    },
    happened: (event: LiveEvent): void => {
      lastId = Math.max(lastId + 1, now())
      kept.push({ id: lastId, text: `id: ${lastId}\nevent: happened\ndata: ${JSON.stringify(event)}\n\n` })
      if (kept.length > MAX_REPLAY_EVENTS) floor = kept.splice(0, kept.length - MAX_REPLAY_EVENTS).at(-1)?.id ?? floor
    },
    /** Follows on from what a screen had last; one that has had nothing begins with now. Where too much is gone it is told to read anew. */
    follow: (res: Response, dayId: string, after: number | null): void => {
      res.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache, no-transform', Connection: 'keep-alive' })
      res.flushHeaders()
      const screen = { res, dayId, sentId: after ?? lastId, blocked: false }
      const again = after !== null && after < floor ? 'event: again\ndata: {}\n\n' : ''
      write(screen, `retry: 500\n${again}${missed(screen.sentId)}id: ${lastId}\n${frame(dayId === runningDay ? [...latest.values()] : [])}`)
      screen.sentId = lastId
      screens.add(screen)
      res.on('close', () => screens.delete(screen))
    },
    /** A car's last place says nothing any more. */
    forget: (carNumber: string): void => {
      latest.delete(carNumber)
      changed.delete(carNumber)
    },
    /** Another day runs now: places of the one before are of no use. */
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
