import type { LogCode } from '../mistakes/mistakes.ts'
/**
 * A mistake with evidence, in one corner of one lap. Places in m from the line of its lap; `times`: how many times the
 * threshold it is, whatever the log allows for its noise; `certainty`: 0 … 1, how surely it was more than the threshold.
 */
export type JudgedMistake = { code: LogCode; from_m: number; to_m: number; times: number; certainty: number; evidence: Evidence }
/** What was measured, what the reference did, and what was allowed; names carry their units. */
export type Evidence = Readonly<Record<string, number>>
