export { type ColourVision, checkScheme, type SameView, type SchemeProblem, sameViews } from './check-scheme.ts'
export {
  type ConeSet,
  type ConeSetInput,
  type ConesOfDay,
  type ConesOfSchool,
  type ConeWork,
  coneSetOf,
  coneSetOfDay,
  coneWorkOn,
  schemeOf,
} from './cone-set.ts'
export { type ConeConflict, coneConflicts, isCured } from './conflicts.ts'
export { conesForLevel, type Fading, fadeCones } from './fading.ts'
export { type HiddenMark, hiddenMarks, sighterOf } from './hidden.ts'
export {
  type CheckRow,
  type ConeReport,
  checkList,
  type LayingError,
  type LayingRow,
  layingError,
  layingSheet,
  layingStart,
} from './laying.ts'
export { type PadShortage, padColours, padConesNeeded, padShortages } from './pad-cones.ts'
export {
  CLEARANCE_M,
  type Cone,
  type ConeEdits,
  editDifference,
  type Lock,
  lineInUse,
  type Nudge,
  nudgeTo,
  type PlacementOptions,
  placeCones,
  type Unplaced,
  withGroupNudged,
} from './placement.ts'
export {
  type ConeColour,
  type ConeKind,
  type ConeRule,
  type ConeScheme,
  type ConeShape,
  coneColourNames,
  coneColours,
  coneKinds,
  coneSchemes,
  coneShapes,
  isConeKind,
} from './scheme.ts'
export { type Audience, type SharedGroup, shareCones } from './share.ts'
export { type ConeStock, type DroppedGroup, fitStock } from './stock.ts'
export type { ConeMove } from './targets.ts'
