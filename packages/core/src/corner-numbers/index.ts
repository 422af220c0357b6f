export {
  type CornerMetrics,
  type CornerRemark,
  type CornerWarning,
  cornerMetrics,
  cornerRemarks,
  cornerWarnings,
  type Shift,
  shiftPoints,
} from './corner-metrics.ts'
export {
  EMERGENCY_SHARE,
  type Grace,
  MIN_GRACE_S,
  runOffFriction,
  type StraightOn,
  type StraightOnCase,
  WARN_GRACE_S,
} from './safety.ts'
export {
  CONE_HEIGHT_M,
  EYE_HEIGHT_M,
  type IntoSight,
  inSightFrom,
  intoSight,
  type LookPlace,
  lookFrom,
  type MarkSight,
  MIN_SIGHT_S,
  sightAhead,
} from './sight.ts'
export type { CornerWorth } from './worth.ts'
