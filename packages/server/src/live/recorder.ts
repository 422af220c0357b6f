import { appendFile, mkdir, readFile, rm, stat, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { type Log, optionalColumns, type ReceivedFix, readLog } from '@ochote/core'

const WRITE_EVERY_MS = 1000

type Recording = { channels: readonly (typeof optionalColumns)[number][]; lines: string[]; begun: boolean }

/**
 * Records what receivers send, one CSV file a run, written to once a second: what was received is there again after a server
 * that was killed. Which channels a file has is settled by its first position.
 */
export const fixRecorder = (folder: string) => {
  const recordings = new Map<string, Recording>()
  const fileOf = (runId: string): string => join(folder, `${runId.replace(/[^\w-]/g, '_')}.csv`)
  let writing: Promise<void> = Promise.resolve()

  const headerOf = ({ channels }: Recording): string => `${['time_s', 'lat_deg', 'lon_deg', 'ele_m', ...channels].join(',')}\n`
  const write = async (): Promise<void> => {
    for (const [runId, recording] of recordings) {
      if (recording.lines.length === 0) continue
      const text = recording.lines.splice(0).join('')
      await mkdir(folder, { recursive: true })
      recording.begun ||= await stat(fileOf(runId)).then(
        () => true,
        () => false,
      )
      await appendFile(fileOf(runId), recording.begun ? text : headerOf(recording) + text)
      recording.begun = true
    }
  }
  const flush = (): Promise<void> => {
    writing = writing.then(write, write)
    return writing
  }
  const timer = setInterval(() => void flush(), WRITE_EVERY_MS)
  timer.unref()

  return {
    take: (runId: string, fix: ReceivedFix, time_s: number): void => {
      let recording = recordings.get(runId)
      if (!recording) {
        recording = { channels: optionalColumns.filter((name) => fix[name] !== undefined), lines: [], begun: false }
        recordings.set(runId, recording)
      }
      const cells = [time_s.toFixed(3), fix.lat_deg.toFixed(9), fix.lon_deg.toFixed(9), (fix.ele_m ?? 0).toFixed(2)]
      for (const name of recording.channels) cells.push((fix[name] ?? 0).toFixed(3))
      recording.lines.push(`${cells.join(',')}\n`)
    },
    /** Where the file of what was recorded of a run lies; null where nothing was. */
    recorded: async (runId: string): Promise<string | null> => {
      await flush()
      return stat(fileOf(runId)).then(
        () => fileOf(runId),
        () => null,
      )
    },
    /** What was recorded of a run before a restart, as columns; its channels go on as they were. Null where there is nothing to read. */
    past: async (runId: string): Promise<Log | null> => {
      const text = await readFile(fileOf(runId), 'utf8').catch(() => null)
      if (!text || text.split('\n', 3).length < 3) return null
      // A server killed while writing leaves half a line at the end.
      const whole = text.slice(0, text.lastIndexOf('\n') + 1)
      try {
        const log = readLog(whole)
        recordings.set(runId, { channels: optionalColumns.filter((name) => log[name] !== undefined), lines: [], begun: true })
        if (whole !== text) await writeFile(fileOf(runId), whole)
        return log
      } catch {
        return null
      }
    },
    /** Drops a recording whose log is stored. */
    forget: async (runId: string): Promise<void> => {
      recordings.delete(runId)
      await rm(fileOf(runId), { force: true })
    },
    close: async (): Promise<void> => {
      clearInterval(timer)
      await flush()
    },
  }
}
export type Recorder = ReturnType<typeof fixRecorder>
