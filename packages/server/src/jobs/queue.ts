import { randomUUID } from 'node:crypto'
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { deserialize, serialize } from 'node:v8'
import { PgBoss } from 'pg-boss'
import { schoolOf } from '../db/schools.ts'
import { type Crossed, crossed, opened } from './crossing.ts'
import { type JobFor, type Jobs, LIMIT_S, stopped } from './jobs.ts'
import type { OnProgress } from './tasks.ts'

/** Jobs that read files, which each process of a school may do. All others are done where they are asked for. */
const queued = ['analyse', 'previewLog', 'readCircuitFile', 'lookAtCircuitFile', 'readVehicleFile'] as const
type Queued = (typeof queued)[number]

/** What is to be done, as it lies in the folder. */
type Asked = { name: Queued; input: unknown; person: string }

export type QueueOptions = {
  /** Address of the database, with the school in it. */
  url: string
  /** The folder that all processes of the school have, under the same path. */
  folder: string
  /** Jobs that one process does at a time. */
  lanes: number
  onFailure: (error: unknown) => void
}

/** A process that says nothing for so long is gone: its jobs are given to another (s). PgBoss allows no less. */
const HEARTBEAT_S = 10
/** How often somebody looks for such processes (s). */
const WATCH_S = 5
/** How often the result of a job that another process does is looked for (ms). */
const LOOK_MS = 150
/** How often the reading of a file tells others how far it is (ms). */
const TELL_MS = 500
/** Jobs in hand may take so long when a process stops (ms); the others do those that take longer. */
const LEAVE_MS = 2000

/** Writes a file at once: whoever reads it finds all of it, or none. */
const put = async (path: string, what: unknown): Promise<void> => {
  const partial = `${path}.${randomUUID()}.partial`
  await writeFile(partial, serialize(what), { mode: 0o600 })
  await rename(partial, path)
}

const taken = async <T>(path: string): Promise<T | null> =>
  readFile(path).then(
    (bytes) => deserialize(bytes) as T,
    () => null,
  )

/**
 * Jobs of several processes, by a queue in their database: files are read by whichever process is free, people take turns, and what a
 * process leaves undone another one does. In the database stand turns alone; what is to be read, and what came of it, lies in the folder
 * that the processes share, as uploads do: whole logs are too large for a queue, and nobody needs them afterwards. Where the database is
 * away, a process does its own jobs.
 */
export const queuedJobs = async (jobs: Jobs, { url, folder, lanes, onFailure }: QueueOptions): Promise<Jobs> => {
  const queue = `${schoolOf(url)}/files`
  await mkdir(folder, { recursive: true, mode: 0o700 })
  const at = (id: string, what: 'asked' | 'done' | 'progress'): string => join(folder, `${id}.${what}`)
  const boss = new PgBoss({
    connectionString: url,
    application_name: 'ochote, jobs',
    max: 2,
    schedule: false,
    useListenNotify: true,
    superviseIntervalSeconds: WATCH_S,
    monitorIntervalSeconds: WATCH_S,
  })
  // What concerns a job reaches whoever asked for it; what concerns the queue is noted, and it goes on by itself.
  boss.on('error', onFailure)
  await boss.start()
  await boss.createQueue(queue, {
    notify: true,
    expireInSeconds: LIMIT_S.file + 60,
    heartbeatSeconds: HEARTBEAT_S,
    retryLimit: 2,
    retentionSeconds: 24 * 3600,
    deleteAfterSeconds: 3600,
  })

  /** Jobs that were asked for here: who waits for them, and who hears how far they are. */
  const mine = new Map<string, { done: (result: Crossed<unknown>) => void; onProgress?: OnProgress | undefined }>()
  /** Jobs of each person that were asked for here and are not done: whoever has more of them waits for those who have fewer. */
  const waiting = new Map<string, number>()
  let closing = false

  const tellProgress = (id: string): OnProgress => {
    let told = 0
    return (progress) => {
      const here = mine.get(id)
      if (here) return here.onProgress?.(progress)
      if (Date.now() - told < TELL_MS) return
      told = Date.now()
      void put(at(id, 'progress'), progress).catch(onFailure)
    }
  }
  await boss.work<object>(queue, { localConcurrency: lanes, notifyPollingIntervalSeconds: 2 }, async ([{ id }]) => {
    const asked = await taken<Asked>(at(id, 'asked'))
    // Whoever asked is gone, and took it away.
    if (!asked) return
    const work = jobs[asked.name] as (input: unknown, whose: JobFor) => Promise<unknown>
    const result = await crossed(() => work(asked.input, { person: asked.person, onProgress: tellProgress(id) }))
    if (closing) throw new Error('The process that did this is ending; another one does it again.')
    const here = mine.get(id)
    if (here) here.done(result)
    else await put(at(id, 'done'), result)
  })

  /** Resolves with what a job came to, wherever it is done. */
  const resultOf = (id: string, onProgress: OnProgress | undefined): Promise<Crossed<unknown>> =>
    new Promise((resolve, reject) => {
      let looks = 0
      let looking = false
      const look = async (): Promise<void> => {
        const result = await taken<Crossed<unknown>>(at(id, 'done'))
        if (result) return done(result)
        const progress = onProgress && (await taken<Parameters<OnProgress>[0]>(at(id, 'progress')))
        if (progress) onProgress(progress)
        looks++
        if (looks % 20 > 0) return
        const [job] = await boss.findJobs(queue, { id }).catch(() => [null])
        if (job === undefined || job?.state === 'failed' || job?.state === 'cancelled') end(() => reject(stopped()))
      }
      const timer = setInterval(() => {
        if (looking) return
        looking = true
        void look()
          .catch(onFailure)
          .finally(() => (looking = false))
      }, LOOK_MS)
      const end = (how: () => void): void => {
        clearInterval(timer)
        how()
      }
      const done = (result: Crossed<unknown>): void => end(() => resolve(result))
      mine.set(id, { done, onProgress })
    })

  const ask = async <O>(name: Queued, input: unknown, whose: JobFor): Promise<O> => {
    const { person, onProgress } = whose
    const id = randomUUID()
    const before = waiting.get(person) ?? 0
    waiting.set(person, before + 1)
    try {
      await put(at(id, 'asked'), { name, input, person } satisfies Asked)
      const result = resultOf(id, onProgress)
      // A failure before anybody waits for the result is told below.
      result.catch(() => {})
      try {
        await boss.send(queue, {}, { id, priority: -before })
      } catch (error) {
        onFailure(error)
        return await (jobs[name] as (input: unknown, whose: JobFor) => Promise<O>)(input, whose)
      }
      return opened((await result) as Crossed<O>)
    } finally {
      mine.get(id)?.done({ value: null })
      mine.delete(id)
      if (before === 0 && waiting.get(person) === 1) waiting.delete(person)
      else waiting.set(person, (waiting.get(person) ?? 1) - 1)
      for (const what of ['asked', 'done', 'progress'] as const) void rm(at(id, what), { force: true })
    }
  }

  return {
    ...jobs,
    analyse: (input, whose) => ask('analyse', input, whose),
    previewLog: (input, whose) => ask('previewLog', input, whose),
    readCircuitFile: (input, whose) => ask('readCircuitFile', input, whose),
    lookAtCircuitFile: (input, whose) => ask('lookAtCircuitFile', input, whose),
    readVehicleFile: (input, whose) => ask('readVehicleFile', input, whose),
    close: async () => {
      closing = true
      await boss.stop({ graceful: true, timeout: LEAVE_MS }).catch(onFailure)
      await jobs.close()
    },
  }
}
