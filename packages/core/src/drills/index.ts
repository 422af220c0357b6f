export {
  type Axle,
  axles,
  type DrillGrip,
  type DrillKind,
  type DrillResult,
  type DrillSizes,
  type DrillTarget,
  defaultSizes,
  drillKinds,
  drillResults,
  drillTarget,
  gripSteps,
} from './drill.ts'
export { DRILL_SHARE, type LaidExercise, layExercise, type PadCone, type PadConeRole, type PadExercise, padConeRoles } from './exercise.ts'
export { boxDistance, checkPad, type Pad, type PadProblem, placeOnPad, usualPad } from './pad.ts'
