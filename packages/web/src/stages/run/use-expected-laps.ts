import type { StudentRecord } from '@ochote/contract'
import { type PlanChoice, predictedLap_s, tellsOfPace } from '@ochote/core'
import { useQueries } from '@tanstack/react-query'
import { useMemo } from 'react'
import { recordQuery } from '../../data/api/queries.ts'
import { usePlansFor } from '../../data/plan/use-plan.ts'
import type { TrackDay, TrackRun } from './use-track-day.ts'

/** The lap that somebody is expected to need (s), and on how many of their drives that rests; 0: on the plan alone. */
export type ExpectedLap = { lap_s: number; drives: number }

/** Drives of a student that a lap is predicted from, the latest. */
const DRIVES = 3

/** True if two settings give the same lap. */
const sameLap = (a: PlanChoice, b: PlanChoice): boolean =>
  a.vehicleId === b.vehicleId && a.pace === b.pace && a.surface === b.surface && a.school === b.school && a.method === b.method

type Drive = { settings: PlanChoice; best_s: number }

/** The latest drives of a record on a circuit with a lap that counts. */
const drivesOn = (record: StudentRecord | undefined, circuitId: string): Drive[] =>
  record?.runs
    .flatMap((r) =>
      r.settings.circuitId === circuitId && r.bestLap_s !== null && !r.practice ? [{ settings: r.settings, best_s: r.bestLap_s }] : [],
    )
    .slice(-DRIVES) ?? []

const dataOf = (all: readonly { data: StudentRecord | undefined }[]) => all.map((one) => one.data)

/**
 * Laps that those who wait are expected to need: that of the plan at their pace, as their earlier drives on this circuit were to their own
 * plans. Undefined until all plans are computed.
 */
export const useExpectedLaps = (track: TrackDay, waiting: readonly TrackRun[]): ExpectedLap[] | undefined => {
  const { circuitId } = track.day.plan.settings
  const records = useQueries({ queries: waiting.map((r) => recordQuery(r.run.studentId)), combine: dataOf })
  const now = useMemo(() => waiting.map((r) => ({ ...r.run.settings, ...(r.state.pace ? { pace: r.state.pace.pace } : {}) })), [waiting])
  const past = useMemo(() => records.map((record) => drivesOn(record, circuitId)), [records, circuitId])
  // Runs that share vehicle and pace share a plan.
  const changes = useMemo(() => {
    const all: PlanChoice[] = [...now, ...past.flat().map((d) => d.settings)]
    return all.filter((s, i) => all.findIndex((o) => sameLap(o, s)) === i)
  }, [now, past])
  const plans = usePlansFor(track.day.plan.settings, changes)
  return useMemo(() => {
    if (!plans || plans.length !== changes.length) return undefined
    const planned_s = (settings: PlanChoice): number => plans[changes.findIndex((c) => sameLap(c, settings))].profile.lapTime_s
    return now.map((settings, k) => {
      const drives = past[k].map((d) => ({ best_s: d.best_s, plan_s: planned_s(d.settings) }))
      const expected = predictedLap_s(planned_s(settings), drives)
      return expected === null ? { lap_s: planned_s(settings), drives: 0 } : { lap_s: expected, drives: drives.filter(tellsOfPace).length }
    })
  }, [plans, changes, now, past])
}
