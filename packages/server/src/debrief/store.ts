import { promisify } from 'node:util'
import { gunzip } from 'node:zlib'
import {
  type Debrief,
  type DebriefLine,
  findingSchema,
  logMappingSchema,
  reviewSchema,
  type StoredFinding,
  skippedSchema,
  traceSchema,
  type WireTrace,
} from '@ochote/contract'
import { bestLapTime, type LogMapping } from '@ochote/core'
import type { Knex } from 'knex'
import { z } from 'zod'
import { serverTime } from '../clock/clock.ts'
import { bindTo } from '../db/bind.ts'
import { clashOn, field, oneAtATime } from '../db/dialect.ts'
import { groupByRun } from '../db/group-by-run.ts'
import { readListed, readStored } from '../db/stored.ts'
import type { AnalyseOutput } from '../jobs/tasks.ts'

const unpack = promisify(gunzip)

/** Form of the rules by which logs are judged: one more whenever stored findings have to be judged anew. */
export const JUDGED_FORM = 1

/** Rows written by one statement: others get their turn in between. */
const ROWS_AT_ONCE = 50

type LogRow = { run_id: string; source: string; rows: number; skipped: string; review: string }
type LapRow = Debrief['laps'][number] & { run_id: string }
type FindingRow = {
  run_id: string
  lap: number
  corner_id: string
  station_m: number
  from_m: number | null
  to_m: number | null
  certainty: number
  code: StoredFinding['code']
  root: number
  because: string | null
  loss_s: number
  evidence: string
}

/** A stored finding; null for one whose evidence cannot be read any more. */
const toFinding = (f: FindingRow): StoredFinding | null =>
  findingSchema.safeParse({
    lap: f.lap,
    cornerId: f.corner_id,
    station_m: f.station_m,
    from_m: f.from_m ?? f.station_m,
    to_m: f.to_m ?? f.station_m,
    certainty: f.certainty,
    code: f.code,
    root: f.root === 1,
    because: f.because,
    lossTime_s: f.loss_s,
    evidence: JSON.parse(f.evidence),
  }).data ?? null

/** Debriefs of several runs by three queries; runs without a log are left out. */
const byRuns = async (db: Knex, runIds: readonly string[]): Promise<Map<string, Debrief>> => {
  const logs = (await db('logs').whereIn('run_id', runIds).select('run_id', 'source', 'rows', 'skipped', 'review')) as LogRow[]
  const laps = (await db('laps')
    .whereIn('run_id', runIds)
    .orderBy(['run_id', 'lap'])
    .select('run_id', 'lap', 'start_s', 'time_s', 'gap_s')) as LapRow[]
  const findings = (await db('findings').whereIn('run_id', runIds).orderBy('id')) as FindingRow[]
  const [lapsOf, findingsOf] = [groupByRun(laps), groupByRun(findings)]
  return new Map(
    logs.map((log) => [
      log.run_id,
      {
        runId: log.run_id,
        source: log.source,
        rows: log.rows,
        skipped: readListed(z.array(skippedSchema), log.skipped, 'logs', log.run_id) ?? [],
        laps: (lapsOf.get(log.run_id) ?? []).map(({ run_id: _, ...lap }) => lap),
        findings: (findingsOf.get(log.run_id) ?? []).map(toFinding).filter((f) => f !== null),
        review: readListed(reviewSchema, log.review, 'logs', log.run_id) ?? reviewSchema.parse({}),
      },
    ]),
  )
}

/**
 * A log as it is to be kept with what was found in it. `csv_gz`: the log itself, packed; `over`: the version that it takes the place
 * of, 0 for none; without it it replaces whatever is there.
 */
type KeptLog = { source: string; csv_gz: Uint8Array; output: AnalyseOutput; mapping?: LogMapping | undefined; over?: number | undefined }

/** Stores the log of a run whole, or not at all. False where another one was stored in the meantime. */
const put = async (db: Knex, runId: string, { source, csv_gz, output, mapping, over }: KeptLog): Promise<boolean> => {
  return db.transaction(async (trx) => {
    await oneAtATime(trx, `log ${runId}`)
    const before = (await trx('logs').where({ run_id: runId }).first('version')) as { version: number } | undefined
    const version = before?.version ?? 0
    if (over !== undefined && over !== version) return false
    await trx('logs').where({ run_id: runId }).delete()
    await trx('logs').insert({
      run_id: runId,
      version: version + 1,
      source,
      rows: output.rows,
      skipped: JSON.stringify(output.skipped),
      csv_gz,
      review: JSON.stringify(output.review),
      mapping: mapping ? JSON.stringify(mapping) : null,
      created_at: serverTime(),
      judged_form: JUDGED_FORM,
    })
    await trx('runs').where({ id: runId }).update({ log_due: false })
    for (const lap of output.laps)
      await trx('laps').insert({
        run_id: runId,
        lap: lap.lap,
        start_s: lap.start_s,
        time_s: lap.time_s,
        gap_s: lap.gap_s,
        trace_gz: lap.trace_gz,
      })
    const rows = output.findings.map((f) => ({
      run_id: runId,
      lap: f.lap,
      corner_id: f.cornerId,
      station_m: f.station_m,
      from_m: f.from_m,
      to_m: f.to_m,
      certainty: f.certainty,
      code: f.code,
      root: f.root,
      because: f.because,
      loss_s: f.lossTime_s,
      evidence: JSON.stringify(f.evidence),
    }))
    for (let k = 0; k < rows.length; k += ROWS_AT_ONCE) await trx('findings').insert(rows.slice(k, k + ROWS_AT_ONCE))
    return true
  })
}

const byRun = async (db: Knex, runId: string): Promise<Debrief | null> => (await byRuns(db, [runId])).get(runId) ?? null

const trace = async (db: Knex, runId: string, lap: number): Promise<WireTrace | null> => {
  const row = (await db('laps').where({ run_id: runId, lap }).first('trace_gz')) as { trace_gz: Buffer } | undefined
  return row ? readStored(traceSchema, (await unpack(row.trace_gz)).toString('utf8'), 'laps', `${runId}, lap ${lap}`) : null
}

/** A log as it was given, with how it was read, and its version. */
type StoredLog = { source: { packed: Uint8Array }; mapping: LogMapping | undefined; version: number }

/** The log itself; null where there is none. */
const log = async (db: Knex, runId: string): Promise<StoredLog | null> => {
  const row = (await db('logs').where({ run_id: runId }).first('csv_gz', 'mapping', 'version')) as
    | { csv_gz: Buffer; mapping: string | null; version: number }
    | undefined
  if (!row) return null
  return {
    version: row.version,
    source: { packed: row.csv_gz },
    mapping: row.mapping ? (readListed(logMappingSchema, row.mapping, 'logs', runId) ?? undefined) : undefined,
  }
}

/** The text of a run's log; null where there is none. */
const csv = async (db: Knex, runId: string): Promise<string | null> => {
  const row = (await db('logs').where({ run_id: runId }).first('csv_gz')) as { csv_gz: Buffer } | undefined
  return row ? (await unpack(row.csv_gz)).toString('utf8') : null
}

/** The mapping that a person chose last time for files with the same columns. */
const mapping = async (db: Knex, signature: string): Promise<LogMapping | null> => {
  const row = (await db('log_mappings').where({ signature }).first('mapping')) as { mapping: string } | undefined
  return row ? readListed(logMappingSchema, row.mapping, 'log_mappings', signature) : null
}

const rememberMapping = async (db: Knex, signature: string, mapping: LogMapping): Promise<void> => {
  const row = { signature, mapping: JSON.stringify(mapping), used_at: serverTime() }
  await db('log_mappings').insert(row).onConflict(clashOn(db, 'signature')).merge()
}

/** Keeps a still; the same id sent again changes nothing. */
const addPicture = async (db: Knex, runId: string, id: string, jpeg: Buffer): Promise<void> => {
  await db('pictures').insert({ id, run_id: runId, jpeg, created_at: serverTime() }).onConflict(clashOn(db, 'id')).ignore()
}

const picture = async (db: Knex, runId: string, id: string): Promise<Buffer | null> => {
  const row = (await db('pictures').where({ id, run_id: runId }).first('jpeg')) as { jpeg: Buffer } | undefined
  return row?.jpeg ?? null
}

/** Keeps that a run's sheet was given; the first time stands. */
const sheetGiven = async (db: Knex, runId: string): Promise<string | null> => {
  await db('runs').where({ id: runId }).whereNull('sheet_given_at').update({ sheet_given_at: serverTime() })
  return ((await db('runs').where({ id: runId }).first('sheet_given_at')) as { sheet_given_at: string | null }).sheet_given_at
}

/** Ids of the stills of a run. */
const pictureIds = async (db: Knex, runId: string): Promise<string[]> =>
  ((await db('pictures').where({ run_id: runId }).orderBy('created_at').select('id')) as { id: string }[]).map((row) => row.id)

type LineRow = { id: string; sheet_given_at: string | null }

/** Runs in whose debrief something was said, noted or released. */
const lookedAtRuns = async (db: Knex, runIds: readonly string[]): Promise<string[]> =>
  (
    (await db('run_events')
      .whereIn('run_id', runIds)
      .whereRaw(`${field(db, 'doc', 'kind')} in ('said', 'note', 'released', 'account')`)
      .distinct('run_id')) as { run_id: string }[]
  ).map((row) => row.run_id)

/** The newest runs with a log in one line each. Cost: linear in their laps and findings, read by index. */
const lines = async (db: Knex, max: number): Promise<DebriefLine[]> => {
  const rows = (await db('runs')
    .join('logs', 'logs.run_id', 'runs.id')
    .orderBy('runs.started_at', 'desc')
    .limit(max)
    .select('runs.id', 'runs.sheet_given_at')) as LineRow[]
  const ids = rows.map((row) => row.id)
  const laps = await lapsOf(db, ids)
  const costs = (await db('findings')
    .whereIn('run_id', ids)
    .where({ root: true })
    .groupBy('run_id', 'corner_id', 'code')
    .select('run_id', 'corner_id', 'code')
    .orderBy('cost', 'desc')
    .sum({ cost: 'loss_s' })
    .count({ times: '*' })) as (Pick<FindingRow, 'run_id' | 'corner_id' | 'code'> & { times: number })[]
  const lookedAt = new Set(await lookedAtRuns(db, ids))
  const costOf = groupByRun(costs)
  return rows.map(({ id, sheet_given_at }) => {
    const own = laps.get(id) ?? []
    const found = costOf.get(id) ?? []
    const [costliest] = found
    const most = found.reduce<(typeof found)[number] | null>((best, one) => (best && best.times >= one.times ? best : one), null)
    return {
      runId: id,
      laps: own.length,
      best_s: bestLapTime(own),
      costliest: costliest ? { cornerId: costliest.corner_id, code: costliest.code } : null,
      mostFrequent: most && { cornerId: most.corner_id, code: most.code, times: Number(most.times) },
      lookedAt: lookedAt.has(id),
      sheetGivenAt: sheet_given_at,
    }
  })
}

/** Laps of several runs by run. */
const lapsOf = async (db: Knex, runIds: readonly string[]): Promise<Map<string, { lap: number; time_s: number }[]>> => {
  const rows = (await db('laps').whereIn('run_id', runIds).select('run_id', 'lap', 'time_s')) as {
    run_id: string
    lap: number
    time_s: number
  }[]
  return new Map([...groupByRun(rows)].map(([runId, own]) => [runId, own.map(({ run_id: _, ...lap }) => lap)]))
}

/** Runs whose logs were judged by rules of an earlier form, the newest first. */
const judgedBefore = async (db: Knex, form: number): Promise<string[]> =>
  ((await db('logs').where('judged_form', '<', form).orderBy('created_at', 'desc').select('run_id')) as { run_id: string }[]).map(
    (row) => row.run_id,
  )

/** Logs with what was found in them. A log is stored whole with its laps and findings, or not at all. */
export const debriefStore = (db: Knex) =>
  bindTo(db, {
    put,
    byRun,
    byRuns,
    trace,
    log,
    csv,
    mapping,
    rememberMapping,
    addPicture,
    picture,
    pictureIds,
    sheetGiven,
    lines,
    lapsOf,
    judgedBefore,
  })
