import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import type { Debrief, StoredFinding, WireTrace } from '@ochote/contract'
import type { Knex } from 'knex'
import type { AnalyseOutput } from '../jobs/tasks.ts'

const pack = promisify(gzip)
const unpack = promisify(gunzip)

type FindingRow = {
  lap: number
  corner_id: string
  station_m: number
  code: StoredFinding['code']
  root: number
  because: string | null
  loss_s: number
  evidence: string
}

/** Logs with what was found in them. A log is stored whole with its laps and findings, or not at all. */
export const debriefStore = (db: Knex) => ({
  /** Replaces the log of a run. */
  put: async (runId: string, source: string, csv: string, output: AnalyseOutput): Promise<void> => {
    const csv_gz = await pack(csv)
    const traces = await Promise.all(output.laps.map((lap) => pack(JSON.stringify(lap.trace))))
    await db.transaction(async (trx) => {
      await trx('logs').where({ run_id: runId }).delete()
      await trx('logs').insert({
        run_id: runId,
        source,
        rows: output.rows,
        skipped: JSON.stringify(output.skipped),
        csv_gz,
        created_at: new Date().toISOString(),
      })
      for (const [k, lap] of output.laps.entries())
        await trx('laps').insert({ run_id: runId, lap: lap.lap, start_s: lap.start_s, time_s: lap.time_s, trace_gz: traces[k] })
      for (const f of output.findings)
        await trx('findings').insert({
          run_id: runId,
          lap: f.lap,
          corner_id: f.cornerId,
          station_m: f.station_m,
          code: f.code,
          root: f.root,
          because: f.because,
          loss_s: f.lossTime_s,
          evidence: JSON.stringify(f.evidence),
        })
    })
  },
  byRun: async (runId: string): Promise<Debrief | null> => {
    const log = (await db('logs').where({ run_id: runId }).first('source', 'rows', 'skipped')) as
      | { source: string; rows: number; skipped: string }
      | undefined
    if (!log) return null
    const laps = (await db('laps').where({ run_id: runId }).orderBy('lap').select('lap', 'start_s', 'time_s')) as Debrief['laps']
    const findings = (await db('findings').where({ run_id: runId }).orderBy('id')) as FindingRow[]
    return {
      runId,
      source: log.source,
      rows: log.rows,
      skipped: JSON.parse(log.skipped),
      laps,
      findings: findings.map((f) => ({
        lap: f.lap,
        cornerId: f.corner_id,
        station_m: f.station_m,
        code: f.code,
        root: f.root === 1,
        because: f.because,
        lossTime_s: f.loss_s,
        evidence: JSON.parse(f.evidence) as Record<string, number>,
      })),
    }
  },
  trace: async (runId: string, lap: number): Promise<WireTrace | null> => {
    const row = (await db('laps').where({ run_id: runId, lap }).first('trace_gz')) as { trace_gz: Buffer } | undefined
    return row ? (JSON.parse((await unpack(row.trace_gz)).toString('utf8')) as WireTrace) : null
  },
  bestLaps: async (runIds: readonly string[]): Promise<Map<string, number>> => {
    const rows = (await db('laps').whereIn('run_id', runIds).groupBy('run_id').select('run_id').min({ best: 'time_s' })) as {
      run_id: string
      best: number
    }[]
    return new Map(rows.map((r) => [r.run_id, r.best]))
  },
})
export type DebriefStore = ReturnType<typeof debriefStore>
