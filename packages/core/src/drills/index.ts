export {
  type DrillKind,
  type DrillResult,
  type DrillSizes,
  type DrillTarget,
  drillKinds,
  drillResults,
  drillTarget,
  usualSizes,
} from './drill.ts'
