export {
  type Advice,
  type AdviceLimits,
  adviceLimitsOf,
  type Consistency,
  consistencyOf,
  type PassMarks,
  type PassOff,
  type Praise,
  phaseNames,
  type RootSeen,
  shareOfGap,
  whatHeld,
  whatToSay,
  worthOf,
} from './advice.ts'
export {
  type Analysis,
  analyseLog,
  type Untold,
} from './analyse.ts'
export type { AnalyseSettings } from './analyse-settings.ts'
export { type Bank, type BankPiece, idealLap } from './bank.ts'
export { type BrakeShape, brakeShape, gripOfTrace, phasesBeside, splicedTrace } from './beside.ts'
export type { LogQuality } from './doubt.ts'
export { type CornerDrawingColumns, drawCorner } from './drawing.ts'
export type { Finding } from './finding.ts'
export { type CornerPassed, type CornerWatch, cornerWatch, type LiveFinding } from './live.ts'
export type { Reference } from './reference.ts'
export {
  type OwnThreshold,
  type OwnThresholds,
  ownThresholds,
  thresholdRange,
  thresholds,
} from './thresholds.ts'
