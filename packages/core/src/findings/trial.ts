import type { LogCode } from '../mistakes/mistakes.ts'

/**
 * What a log like this one would have shown of its reference, driven exactly: values of each code in one corner. `bias`: the usual
 * one; `spread`: by how much single passes lie above it; `shown`: it was shown at all.
 */
export type TrialOfCode = { bias: number; spread: number; shown: boolean }
/** Codes of one corner; a code that is not there was never shown. */
export type TrialOfCorner = ReadonlyMap<LogCode, TrialOfCode>
