import type { LineMethod } from '../line/line-method.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'
import type { Surface } from '../profile/grip.ts'

/** A reference as it is told and stored: the settings of a plan, the number of a lap of the log, or a lap of another run. */
export type ReferenceTold =
  | { kind: 'plan'; school: BrakingSchool; method: LineMethod; pace: number; surface: Surface }
  | { kind: 'lap'; lap: number }
  | { kind: 'drive'; lap: number; runId?: string | undefined }

/**
 * How a reference came to be the one: it was named; it is the quickest lap; a plan explains the drive; none of the plans does;
 * or there was no vehicle to plan for.
 */
export const referenceReasons = ['named', 'quickest-lap', 'plan-explains', 'no-plan-explains', 'no-vehicle'] as const
export type ReferenceReason = (typeof referenceReasons)[number]
