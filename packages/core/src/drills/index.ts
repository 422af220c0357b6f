export {
  type DrillKind,
  type DrillResult,
  type DrillSizes,
  type DrillTarget,
  defaultSizes,
  drillKinds,
  drillResults,
  drillTarget,
} from './drill.ts'
