import type { Evidenced } from '../mistakes/evidence.ts'
import type { LogCode } from '../mistakes/mistakes.ts'

/**
 * A mistake with evidence, in one corner of one lap. Places in m from the line of its lap; `times`: how many times the
 * threshold it is, whatever the log allows for its noise; `certainty`: 0 … 1, how surely it was more than the threshold.
 */
export type JudgedMistake = { from_m: number; to_m: number; times: number; certainty: number } & Evidenced<LogCode>
