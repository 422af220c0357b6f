export { type LapKind, lapKindOf, lapKinds, type NamedLap, type RunProgramme } from './lap-kind.ts'
export { lapOfTouch } from './lap-of-touch.ts'
export { bestLapTime, isOwnLap, withOwnLaps } from './own-laps.ts'
export {
  type AccountWord,
  accountWords,
  type Observation,
  type RunEvent,
  type RunMode,
  runModes,
  type Verdict,
  verdicts,
} from './run-events.ts'
export { instructorLaps, type RunState, runStateOf } from './run-state.ts'
