import type { Evidenced } from '../mistakes/evidence.ts'
import type { LogCode } from '../mistakes/mistakes.ts'

/** A mistake with evidence from a log. `root`: the one that the pass of this corner is about. */
export type Finding = {
  lap: number
  cornerId: string
  cornerName: string
  /** Where it shows, and the stretch of road that shows it. */
  station_m: number
  from_m: number
  to_m: number
  root: boolean
  /** Code of the mistake that explains this one; null for roots, and for what stands beside a root unexplained. */
  because: LogCode | null
  /** Time lost (positive) or won against the reference from the corner's approach to the next corner's (s). */
  lossTime_s: number
  /** How surely it is more than its threshold, 0 … 1, by the log's noise. */
  certainty: number
} & Evidenced<LogCode>
