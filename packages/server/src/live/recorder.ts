import { appendFile, mkdir, readFile, rm, stat, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { type Log, optionalColumns, type ReceivedFix, readLog } from '@ochote/core'

const WRITE_EVERY_MS = 1000

type Recording = { channels: readonly (typeof optionalColumns)[number][]; lines: string[]; begun: boolean }

const newRecording = (fix: ReceivedFix): Recording => ({
  channels: optionalColumns.filter((name) => fix[name] !== undefined),
  lines: [],
  begun: false,
})

const headerOf = ({ channels }: Recording): string => `${['time_s', 'lat_deg', 'lon_deg', 'ele_m', ...channels].join(',')}\n`

const lineOf = ({ channels }: Recording, fix: ReceivedFix, time_s: number): string => {
  const cells = [time_s.toFixed(3), fix.lat_deg.toFixed(9), fix.lon_deg.toFixed(9), (fix.ele_m ?? 0).toFixed(2)]
  for (const name of channels) cells.push((fix[name] ?? 0).toFixed(3))
  return `${cells.join(',')}\n`
}

const exists = (file: string): Promise<boolean> =>
  stat(file).then(
    () => true,
    () => false,
  )

/** Appends what has come since the last time, with the header first in a new file. */
const appendNew = async (file: string, recording: Recording): Promise<void> => {
  if (recording.lines.length === 0) return
  const text = recording.lines.splice(0).join('')
  recording.begun ||= await exists(file)
  await appendFile(file, recording.begun ? text : headerOf(recording) + text)
  recording.begun = true
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

/**
 * Records what receivers send, one CSV file per run, written once a second: what was received is there again after the server
 * was killed. A file has the channels of its first position.
 */
export const fixRecorder = (folder: string) => {
  const recordings = new Map<string, Recording>()
  const fileOf = (runId: string): string => join(folder, `${runId.replace(/[^\w-]/g, '_')}.csv`)
  let writing: Promise<void> = Promise.resolve()
  const write = async (): Promise<void> => {
    if (recordings.size > 0) await mkdir(folder, { recursive: true })
    for (const [runId, recording] of recordings) await appendNew(fileOf(runId), recording)
  }
  const flush = (): Promise<void> => {
    writing = writing.then(write, write)
    return writing
  }
  const timer = setInterval(() => void flush(), WRITE_EVERY_MS)
  timer.unref()

  return {
    take: (runId: string, fix: ReceivedFix, time_s: number): void => {
      const recording = recordings.get(runId) ?? newRecording(fix)
      recordings.set(runId, recording)
      recording.lines.push(lineOf(recording, fix, time_s))
    },
    /** The file with a run's recording; null where nothing was recorded. */
    recorded: async (runId: string): Promise<string | null> => {
      await flush()
      return (await exists(fileOf(runId))) ? fileOf(runId) : null
    },
    /** A run's recording from before a restart; its channels go on as they were. Null where there is nothing to read. */
    past: async (runId: string): Promise<Log | null> => {
      const log = await readRecording(fileOf(runId))
      if (log) recordings.set(runId, { channels: optionalColumns.filter((name) => log[name] !== undefined), lines: [], begun: true })
      return log
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
