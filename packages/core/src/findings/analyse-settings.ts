import type { GroundItem } from '../circuit/ground.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'
import type { OwnThresholds } from './thresholds.ts'

/** Steps of an analysis. */
type AnalyseStep = 'matching' | 'judging'

/**
 * What a log is judged by beside its reference; where a plan is the reference it brings its own. `thresholds`: what a school
 * has set for itself. `counts`: laps that count, all by default; only they make the theoretical best. `onProgress` is called back with the step of the analysis and the share that is done (0 … 1).
 */
export type AnalyseSettings = {
  school?: BrakingSchool
  width_m?: number
  ground?: readonly GroundItem[]
  thresholds?: OwnThresholds
  counts?: (of: { lap: number }) => boolean
  onProgress?: (step: AnalyseStep, share: number) => void
}

/** A vehicle whose width is not known (m). */
export const TYPICAL_WIDTH_M = 1.8
