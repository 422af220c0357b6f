import type { Venue } from '../circuit/venue.ts'
import type { Log } from '../log/log.ts'
import type { PlanSettings } from '../plan/plan.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { type Analysis, analyseLog } from './analyse.ts'
import type { AnalyseSettings } from './analyse-settings.ts'
import { type FoundReference, findReference } from './find-reference.ts'
import type { Reference } from './reference.ts'
import type { ReferenceReason, ReferenceTold } from './reference-told.ts'

/** What a log is to be held against: a reference that is named, the log's own quickest lap, or whatever explains it best. */
export type ReferenceWish = Reference | { kind: 'best' } | { kind: 'auto' }

/** What is told of a reference. */
export const referenceTold = (reference: Reference): ReferenceTold => {
  if (reference.kind === 'lap') return reference
  if (reference.kind === 'drive') return { kind: 'drive', lap: reference.lap, ...(reference.runId ? { runId: reference.runId } : {}) }
  const { school, method = 'smoothest', pace, surface } = reference.plan.settings
  return { kind: 'plan', school, method, pace, surface }
}

/**
 * A log held against its reference. `instead`: the drive differs from its reference at most corners of every lap, and this
 * explains it better; no list of mistakes is made then.
 */
export type HeldAgainst = { analysis: Analysis; reference: Reference; why: ReferenceReason; instead: FoundReference | null }

/** Share of the corners of every lap from which on a drive is another kind of drive, not one with mistakes. */
const DIFFERS_SHARE = 0.75

/** True if a drive differs from its reference at most corners of every lap. */
export const differsThroughout = ({ findings, passes, laps }: Pick<Analysis, 'findings' | 'passes' | 'laps'>): boolean => {
  const judged = laps.filter(({ lap }) => passes.some((p) => p.lap === lap))
  return (
    judged.length > 0 &&
    judged.every(({ lap }) => {
      const corners = passes.filter((p) => p.lap === lap).length
      const off = new Set(findings.filter((f) => f.lap === lap && f.root).map((f) => f.cornerId)).size
      return corners >= 3 && off >= DIFFERS_SHARE * corners
    })
  )
}

/**
 * Analyses a log against what is wished for. Where a plan was named and the drive differs from it at most corners of every
 * lap, what explains it better is looked for, and the list of mistakes is left empty. `vehicle`: null where it is not known.
 * @throws CoreError when the log is from elsewhere, holds no whole lap, or the reference lap is missing
 */
export const holdAgainst = (
  venue: Venue,
  vehicle: Vehicle | null,
  log: Log,
  wish: ReferenceWish,
  planned: PlanSettings,
  settings: AnalyseSettings & { maxPace?: number } = {},
): HeldAgainst => {
  const { circuit, corners } = venue
  const against = (reference: Reference): Analysis =>
    analyseLog(circuit, corners, log, reference, { ...settings, ground: venue.ground, ...(vehicle ? { width_m: vehicle.width_m } : {}) })
  if (wish.kind === 'best' || wish.kind === 'auto') {
    const found = findReference(venue, wish.kind === 'auto' ? vehicle : null, log, planned, settings.maxPace)
    const why = wish.kind === 'best' ? 'quickest-lap' : found.why
    return { analysis: against(found.reference), reference: found.reference, why, instead: null }
  }
  const analysis = against(wish)
  if (wish.kind !== 'plan' || !differsThroughout(analysis)) return { analysis, reference: wish, why: 'named', instead: null }
  const instead = findReference(venue, vehicle, log, planned, settings.maxPace)
  // Nothing explains it better: then these are mistakes after all.
  if (isSameReference(instead.reference, wish)) return { analysis, reference: wish, why: 'named', instead: null }
  return { analysis: { ...analysis, findings: [] }, reference: wish, why: 'named', instead }
}

/** True if two references are plans in the same style on the same line at about the same pace. */
const isSameReference = (a: Reference, b: Reference): boolean => {
  if (a.kind !== 'plan' || b.kind !== 'plan') return false
  const [one, other] = [a.plan.settings, b.plan.settings]
  return one.school === other.school && one.method === other.method && Math.abs(one.pace - other.pace) < 0.06
}
