export {
  type Advice,
  type AdviceLimits,
  adviceLimitsOf,
  type Consistency,
  consistencyOf,
  leastTold_s,
  type PassMarks,
  type PassOff,
  type PassShape,
  type Praise,
  phaseNames,
  type RootFinding,
  selectAdvice,
  selectPraise,
  timeToFind,
  worthOf,
} from './advice.ts'
export {
  type Analysis,
  analyseLog,
  type Undecidable,
} from './analyse.ts'
export type { AnalyseSettings } from './analyse-settings.ts'
export { type BrakeShape, brakeShape, gripOfTrace, phaseDifferences, splicedTrace } from './compare-laps.ts'
export { type CornerDrawingColumns, drawCorner } from './drawing.ts'
export { type FoundReference, findReference } from './find-reference.ts'
export type { Finding } from './finding.ts'
export { differsThroughout, type HeldAgainst, holdAgainst, type ReferenceWish, referenceTold } from './held-against.ts'
export { type LapsAtPace, withLapPaces } from './lap-paces.ts'
export { type CornerPassed, type CornerWatch, cornerWatch, type LiveFinding } from './live.ts'
export type { Reference } from './reference.ts'
export { type ReferenceReason, type ReferenceTold, referenceReasons } from './reference-told.ts'
export { idealLap, type LapPiece, type TheoreticalBest } from './theoretical-best.ts'
export {
  type OwnThreshold,
  type OwnThresholds,
  ownThresholds,
  thresholdRange,
  thresholds,
} from './thresholds.ts'
export type { LogQuality } from './uncertainty.ts'
