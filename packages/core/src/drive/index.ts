export { type LapTrace, planTrace } from './lap-trace.ts'
