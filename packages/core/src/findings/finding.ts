import type { Evidenced } from '../mistakes/evidence.ts'
import type { LogCode } from '../mistakes/mistakes.ts'

/** A mistake with evidence from a log. `root`: the one that the pass of this corner is about. */
export type Finding = {
  lap: number
  cornerId: string
  cornerName: string
  /** Place at which it is shown, and the stretch of road that it covers. */
  station_m: number
  from_m: number
  to_m: number
  root: boolean
  /** Code of the mistake that explains this one; null for roots, and for mistakes beside a root that it does not explain. */
  because: LogCode | null
  /** Time lost (positive) or won against the reference from the corner's approach to the next corner's (s). */
  lossTime_s: number
  /** Probability that it exceeds its threshold, 0 … 1, given the log's noise. */
  certainty: number
} & Evidenced<LogCode>
