export { type Announced, differsFromTold, type OwnChange, ownChange, toldSlots, whoIsChanged } from './announced.ts'
export {
  type CheckedDay,
  checkDay,
  clockOf,
  type DayProblem,
  type DayProblemKind,
  dayProblemKinds,
  isSameSession,
  minutesOf,
} from './check-day.ts'
export { type ConeState, coneStates } from './cone-state.ts'
export {
  type Car,
  type CarsOfDay,
  carOfRun,
  carOfStudent,
  changedSettings,
  type DayFlag,
  type GroupSettings,
  type PlanChoice,
  paceOfDrive,
  type Slot,
  sectionsOfStudent,
  settingsOfStudent,
  slotKinds,
} from './day.ts'
export {
  type BriefingPart,
  briefingParts,
  type DayEvent,
  type FlagUp,
  flagsUp,
  type IncidentAction,
  type IncidentKind,
  incidentActions,
  incidentKinds,
  type Preparation,
  preparationOf,
  type Rain,
  rainKinds,
  stopNow,
  stopsAll,
} from './day-events.ts'
export { type FillRuns, fillRuns } from './fill-runs.ts'
export { driveKinds, type FormatKind, formatKinds } from './format-kind.ts'
export { type Intensity, intensities } from './intensity.ts'
export { type Level, levelReaction_s, levels } from './level.ts'
export { likelyDay } from './likely-day.ts'
export { byStart, lastingNames, timesOfStudent } from './own-times.ts'
export { type Aid, carForDay, mayDrive, type SchoolCar } from './school-car.ts'
export { type ServedByDay, servedByGroups } from './served-groups.ts'
export { standing } from './standing.ts'
export { firstName, intensityFor, type Student, type StudentProfile } from './student.ts'
export { type StudentEvent, type StudentState, studentStateOf } from './student-events.ts'
