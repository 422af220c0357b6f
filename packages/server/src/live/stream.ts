import type { LiveFix } from '@ochote/contract'
import type { Response } from 'express'
import { SEND_EVERY_MS } from './simulated-logger.ts'

/**
 * Sends the latest position as server-sent events until the drive is over or the screen goes away. Each event carries
 * its moment as id; a screen that comes back gets the newest position at once, older ones are of no use to it.
 */
export const streamFixes = (res: Response, latest: () => Promise<LiveFix | null>): void => {
  res.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache, no-transform', Connection: 'keep-alive' })
  res.flushHeaders()
  let last = -1
  let busy = false
  const send = async (): Promise<void> => {
    if (busy) return
    busy = true
    try {
      const fix = await latest()
      if (fix && fix.time_s !== last) {
        last = fix.time_s
        res.write(`id: ${fix.time_s}\ndata: ${JSON.stringify(fix)}\n\n`)
      }
      if (fix?.finished) stop()
    } catch {
      stop()
      res.end()
    } finally {
      busy = false
    }
  }
  const timer = setInterval(send, SEND_EVERY_MS)
  const stop = (): void => clearInterval(timer)
  res.on('close', stop)
  void send()
}
