import { appendFile, mkdir, readdir, readFile, rm, stat, truncate, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { type Log, optionalColumns, type ReceivedFix, readLog } from '@ochote/core'

const WRITE_EVERY_MS = 1000

/** Lines of one run held in memory while the disk takes none: a quarter of an hour at 25 Hz, about 2 MB. */
const MAX_HELD = 22_500

/** `size`: bytes that are whole in the file; `dropped`: lines that found no room, neither on the disk nor in memory. */
type Recording = { channels: readonly (typeof optionalColumns)[number][]; lines: string[]; size: number | null; dropped: number }

const newRecording = (fix: ReceivedFix): Recording => ({
  channels: optionalColumns.filter((name) => fix[name] !== undefined),
  lines: [],
  size: null,
  dropped: 0,
})

const headerOf = ({ channels }: Recording): string => `${['time_s', 'lat_deg', 'lon_deg', 'ele_m', ...channels].join(',')}\n`

const lineOf = ({ channels }: Recording, fix: ReceivedFix, time_s: number): string => {
  const cells = [time_s.toFixed(3), fix.lat_deg.toFixed(9), fix.lon_deg.toFixed(9), (fix.ele_m ?? 0).toFixed(2)]
  for (const name of channels) cells.push((fix[name] ?? 0).toFixed(3))
  return `${cells.join(',')}\n`
}

const sizeOf = (file: string): Promise<number> =>
  stat(file).then(
    ({ size }) => size,
    () => 0,
  )

/** How a text gets to the end of a file; tests make it fail. */
type Append = (file: string, text: string) => Promise<void>

/**
 * Appends what has come since the last time, with the header first in a new file. What could be written in part only is taken off
 * again, so that the next time nothing is in the file twice. @throws what the disk says
 */
const appendNew = async (file: string, recording: Recording, append: Append): Promise<void> => {
  const count = recording.lines.length
  if (count === 0) return
  recording.size ??= await sizeOf(file)
  const text = (recording.size === 0 ? headerOf(recording) : '') + recording.lines.join('')
  try {
    await append(file, text)
  } catch (error) {
    await truncate(file, recording.size).catch(() => {})
    throw error
  }
  recording.size += Buffer.byteLength(text)
  recording.lines.splice(0, count)
}

/** A recording as columns; half a line that a killed server left at its end is cut off. Null where there is nothing to read. */
const readRecording = async (file: string): Promise<Log | null> => {
  const text = await readFile(file, 'utf8').catch(() => null)
  if (!text || text.split('\n', 3).length < 3) return null
  const whole = text.slice(0, text.lastIndexOf('\n') + 1)
  try {
    const log = readLog(whole)
    if (whole !== text) await writeFile(file, whole)
    return log
  } catch {
    return null
  }
}

/** Options of a recorder: where a failed write is told, and how a file is written. */
export type RecorderOptions = { onFailure?: (error: unknown) => void; append?: Append }

/**
 * Records what receivers send, one CSV file per run, written once a second: what was received is there again after the server
 * was killed. A file has the channels of its first position. While the disk takes nothing, lines wait in memory within a bound.
 */
export const fixRecorder = (folder: string, { onFailure = () => {}, append = appendFile }: RecorderOptions = {}) => {
  const recordings = new Map<string, Recording>()
  const fileOf = (runId: string): string => join(folder, `${runId.replace(/[^\w-]/g, '_')}.csv`)
  let writing: Promise<void> = Promise.resolve()
  const write = async (): Promise<void> => {
    try {
      if (recordings.size > 0) await mkdir(folder, { recursive: true, mode: 0o700 })
      for (const [runId, recording] of recordings) await appendNew(fileOf(runId), recording, append)
    } catch (error) {
      onFailure(error)
    }
  }
  const flush = (): Promise<void> => {
    writing = writing.then(write)
    return writing
  }
  const timer = setInterval(() => void flush(), WRITE_EVERY_MS)
  timer.unref()

  return {
    take: (runId: string, fix: ReceivedFix, time_s: number): void => {
      const recording = recordings.get(runId) ?? newRecording(fix)
      recordings.set(runId, recording)
      if (recording.lines.length < MAX_HELD) recording.lines.push(lineOf(recording, fix, time_s))
      else recording.dropped++
    },
    /** The file with a run's recording; null where nothing was recorded. */
    recorded: async (runId: string): Promise<string | null> => {
      await flush()
      return (await sizeOf(fileOf(runId))) > 0 ? fileOf(runId) : null
    },
    /** A run's recording from before a restart; its channels go on as they were. Null where there is nothing to read. */
    past: async (runId: string): Promise<Log | null> => {
      const log = await readRecording(fileOf(runId))
      if (log)
        recordings.set(runId, { channels: optionalColumns.filter((name) => log[name] !== undefined), lines: [], size: null, dropped: 0 })
      return log
    },
    /** Lines in memory that no file has yet, and those that were lost because there was no room for them either. */
    held: (): { lines: number; dropped: number } =>
      [...recordings.values()].reduce((sum, r) => ({ lines: sum.lines + r.lines.length, dropped: sum.dropped + r.dropped }), {
        lines: 0,
        dropped: 0,
      }),
    /** Ids of the runs of which there is a file. */
    files: async (): Promise<string[]> =>
      (await readdir(folder).catch(() => [] as string[])).flatMap((name) => (name.endsWith('.csv') ? [name.slice(0, -4)] : [])),
    /** Drops a recording whose log is stored. What is being written goes first, so that the file does not come back. */
    forget: async (runId: string): Promise<void> => {
      recordings.delete(runId)
      await writing
      await rm(fileOf(runId), { force: true })
    },
    close: async (): Promise<void> => {
      clearInterval(timer)
      await flush()
    },
  }
}
export type Recorder = ReturnType<typeof fixRecorder>
