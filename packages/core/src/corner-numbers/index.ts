export {
  type CornerNumbers,
  type CornerWarning,
  cornerNumbers,
  cornerWarnings,
  type Shift,
  shiftPoints,
} from './corner-metrics.ts'
export {
  EMERGENCY_SHARE,
  type Grace,
  LEAST_GRACE_S,
  runOffFriction,
  type StraightOn,
  type StraightOnCase,
} from './safety.ts'
export { CONE_HEIGHT_M, EYE_HEIGHT_M, LEAST_SIGHT_S, type LookPlace, lookFrom, type MarkSight, sightAhead } from './sight.ts'
export type { CornerWorth } from './worth.ts'
