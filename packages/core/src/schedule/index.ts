export { type CostPart, type Costs, costParts } from './cost.ts'
export {
  type DayCosts,
  type DayRules,
  type DaySetup,
  type Format,
  type FormatKind,
  formatKinds,
  type PlannedCar,
  type PlannedGroup,
  type PlannedInstructor,
  type PlannedSession,
  type PlannedStudent,
  places,
  usualFormats,
  usualRules,
} from './setup.ts'
export { type DayTimetable, type SolveOptions, solveDay, USUAL_STEPS } from './solve-day.ts'
