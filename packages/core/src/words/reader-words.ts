import type { Level } from '../day/level.ts'
import type { ErrorCode, ErrorData } from '../errors/errors.ts'
import type { ReferenceReason, ReferenceTold } from '../findings/reference-told.ts'
import type { EvidenceOf } from '../mistakes/evidence.ts'
import type { LogCode, MistakeCode, Skill, SuggestedCode } from '../mistakes/mistakes.ts'
import type { NumberStyle } from '../units/format.ts'
import type { VehicleField } from '../vehicle/vehicle.ts'
import type { HandOverWords } from './hand-over-words.ts'

/** Name of each mistake and the correction an instructor gives. */
export type MistakeTable = Record<MistakeCode, { name: string; correction: string }>

/** Advice on a mistake: a change with a size the student can do, how it feels when right, a focus or drill for the next run. */
export type AdviceTable = { [C in LogCode]: { say: (e: EvidenceOf<C>) => string; cue: string; next: string } }

/** The act with its size and what the reference did; `allowed`: how much is fine, for those who want to know. Never about the person. */
export type EvidenceTable = { [C in SuggestedCode]: { act: (e: EvidenceOf<C>) => string; allowed?: (e: EvidenceOf<C>) => string } }

/** Praise: a mistake that went away, a mark that repeats, laps without mistakes. */
export type PraiseTable = {
  gone: (mistake: string, lap: number) => string
  brake: (within_m: number, laps: number) => string
  turnIn: (within_m: number, laps: number) => string
  within: (laps: number) => string
}

/** What a log is held against: its names, and one sentence for each way in which it came to be the reference. */
export type ReferenceWords = {
  plan: (of: Extract<ReferenceTold, { kind: 'plan' }>) => string
  lap: (lap: number) => string
  drive: (lap: number) => string
  why: Record<ReferenceReason, (name: string) => string>
  differs: (better: string) => string
}

/** A problem: what was found, and what to do about it. */
export type ProblemWords = { message: string; remedy: string }

/** Problems of the core by code. */
export type ErrorTable = Record<ErrorCode, { message: (d: ErrorData) => string; remedy: (d: ErrorData) => string }>

/** Names of a vehicle's fields; `topSpeed` names the top speed in one gear. */
export type VehicleWords = Record<VehicleField, string> & { topSpeed: (gear: number) => string }

/** The field that a problem with a vehicle is about, with its name in vehicle files. */
export const vehicleFieldName = (words: VehicleWords, { field, gear }: ErrorData): string => {
  if (Number(gear) > 0) return words.topSpeed(Number(gear))
  return field in words ? `${words[field as VehicleField]} (${field})` : String(field)
}

/** Problems that a server or a network brings to a student's phone, by code. */
export const portalProblemCodes = [
  'unreachable',
  'file-not-sent',
  'foreign-origin',
  'link-withdrawn',
  'too-many-logs',
  'too-large',
  'too-short',
  'too-many-tries',
  'run-of-another',
  'round-over',
  'changed-meanwhile',
  'disk-full',
  'disk-read-only',
  'too-busy',
  'took-too-long',
  'not-found',
  'no-log',
  'stored-broken',
  'invalid',
  'internal',
] as const
export type PortalProblemCode = (typeof portalProblemCodes)[number]

/** All words of the core for one reader. The compiler keeps every language complete. */
export type ReaderWords = {
  handOver: HandOverWords
  mistakes: MistakeTable
  advice: AdviceTable
  evidence: EvidenceTable
  praise: PraiseTable
  errors: ErrorTable
  portal: Record<PortalProblemCode, ProblemWords>
  place: (place: string) => string
  levels: Record<Level, string>
  skills: Record<Skill, string>
  reference: ReferenceWords
  numbers: NumberStyle
}
