export {
  bestLapTime,
  type CountedLaps,
  changesCounting,
  countedLaps,
  type LapStanding,
  withCountedLaps,
} from './counted-laps.ts'
export { isDrivenKind, isSlowKind, type LapKind, lapKindOf, lapKinds, type NamedLap, type RunProgramme } from './lap-kind.ts'
export { lapOfTouch } from './lap-of-touch.ts'
export { isAtPace, type LapStep, readySteps, type StepProgramme, stepProgrammes } from './lap-steps.ts'
export { type LapUse, lapUse, type SlowLapRemark, slowLapRemarks } from './lap-use.ts'
export { passesFrom } from './passes-from.ts'
export {
  type AccountWord,
  accountWords,
  type Observation,
  type PassOfCorner,
  type RunEvent,
  type RunMode,
  runModes,
  type SetAsideReason,
  setAsideReasons,
  type Verdict,
  verdicts,
} from './run-events.ts'
export { instructorLaps, type RunState, runStateOf } from './run-state.ts'
