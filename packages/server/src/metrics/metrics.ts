import type { RequestHandler } from 'express'
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client'
import type { LiveDay } from '../live/live.ts'
import type { StorageWatch } from '../storage/storage.ts'

/** What the numbers are read from when they are asked for. */
type Sources = {
  storage: Pick<StorageWatch, 'state'>
  live: Pick<LiveDay, 'held' | 'receiversHere'>
  failures: { count: number }
  /** Moment of the newest good backup (ms since 1970); null for none. */
  newestBackup: () => number | null
}

/** Bounds of the answering times (s): what people do not notice, up to what they complain of. */
const BUCKETS = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10]

/** Numbers of a running server in Prometheus' text form. No number has a name of anybody in it. */
export const serverMetrics = ({ storage, live, failures, newestBackup }: Sources) => {
  const registers = [new Registry()]
  const [registry] = registers
  collectDefaultMetrics({ register: registry })
  const answers = new Histogram({
    name: 'ochote_answer_seconds',
    help: 'Time until an answer was sent',
    labelNames: ['method', 'status'],
    buckets: BUCKETS,
    registers,
  })
  const gauge = (name: string, help: string, value: () => number): void => {
    new Gauge({
      name,
      help,
      registers,
      collect() {
        this.set(value())
      },
    })
  }
  gauge('ochote_disk_free_bytes', 'Room on the disk of the data', () => storage.state().free_bytes ?? Number.NaN)
  gauge('ochote_disk_problem', '1 while nothing can be stored', () => (storage.state().problem ? 1 : 0))
  gauge('ochote_positions_held', 'Positions that wait for room on the disk', () => live.held().lines)
  gauge('ochote_positions_dropped', 'Positions that found no room', () => live.held().dropped)
  gauge('ochote_receivers_sending', 'Receivers that send positions now', () => live.receiversHere().filter((r) => r.rate_hz > 0).length)
  gauge('ochote_failures', 'Failures since the start that nobody was waiting for', () => failures.count)
  gauge('ochote_backup_timestamp_seconds', 'When the newest good backup was made', () => (newestBackup() ?? Number.NaN) / 1000)

  const timed: RequestHandler = (req, res, next) => {
    const end = answers.startTimer()
    // Streams are open for hours: their end says nothing of how fast anything was answered.
    res.on('finish', () => {
      if (!String(res.getHeader('Content-Type')).startsWith('text/event-stream'))
        end({ method: req.method, status: String(res.statusCode) })
    })
    next()
  }
  return {
    timed,
    text: (): Promise<string> => registry.metrics(),
    contentType: registry.contentType,
  }
}
export type ServerMetrics = ReturnType<typeof serverMetrics>
