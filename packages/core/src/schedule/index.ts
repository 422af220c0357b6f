export { type BoundOptions, boundDay, type DayBound } from './bound-day.ts'
export { checkSetup } from './check-setup.ts'
export { type Broken, checkTimetable, type DayRuleName, dayRuleNames } from './check-timetable.ts'
export { type Clash, clashOf, easedBy, type ReliefKind, reliefKinds } from './clash-day.ts'
export { type CostPart, type Costs, costParts } from './cost.ts'
export { countLoad, type DayLoad, type Ease, type Eased, easedSetups, FULL_LOAD, type Load } from './count-load.ts'
export {
  type DayDifference,
  type DifferenceKind,
  differenceKinds,
  lastingKinds,
  timelessKinds,
  withDifference,
} from './differences.ts'
export { exchanged, type Judged, judgePlan, movedBy, withoutSeat } from './edit-plan.ts'
export { withPeople } from './people-of-plan.ts'
export { planChanges, type StudentChange } from './plan-changes.ts'
export { type Emphasis, emphases, type PlanFigures, planFigures, withEmphasis } from './plan-figures.ts'
export { plannedDay } from './planned-day.ts'
export {
  type CarOnDay,
  type DayPlanning,
  type DayToPlan,
  EVERYBODY,
  groupsOfDay,
  isInSlot,
  type KnownPeople,
  lineId,
  setupOfDay,
  slotsOfPlan,
  type Teaching,
  usualCar,
  usualPlanning,
  wantsOfGroup,
} from './planning.ts'
export { type Minimise, type Seated, seatPeople } from './seat-people.ts'
export {
  type DayCosts,
  type DayPlace,
  type DayRules,
  type DaySetup,
  type Format,
  type PlannedCar,
  type PlannedGroup,
  type PlannedInstructor,
  type PlannedSession,
  type PlannedStudent,
  places,
  sessionKey,
  usualFormats,
  usualRules,
} from './setup.ts'
export { type DayTimetable, missingIn, type SolveOptions, solveDay, USUAL_STEPS } from './solve-day.ts'
