import type { Circuit } from '../circuit/circuit.ts'
import type { Demands, Trajectory } from '../drive/trajectory.ts'
import type { OffsetBounds } from '../line/bounds.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'
import type { EvidenceOf } from '../mistakes/evidence.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import type { Frame, Pass } from './pass.ts'
import type { Thresholds } from './thresholds.ts'
import type { TrialOfCorner } from './trial.ts'
import type { Uncertainty } from './uncertainty.ts'

/** Doubts as they are in one corner. */
type CornerUncertainty = Omit<Uncertainty, 'offset_m' | 'edge_m'> & { offset_m: number; edge_m: number }

/** A pass with its reference. */
export type Comparison = {
  circuit: Circuit
  frame: Frame
  trajectory: Trajectory
  start_m: number
  driven: Pass
  referenceTrajectory: Trajectory
  referenceStart_m: number
  reference: Pass
  uncertainty: CornerUncertainty
  /** The school that the session follows; null where only a lap is known. */
  school: BrakingSchool | null
  /** True if the reference is a plan, whose pedals take no time. */
  planned: boolean
  /** True if the session's line saves road. */
  compact: boolean
  /** Channels that were recorded; derived ones are less certain. */
  pedals: boolean
  /** True if fixes lie so far apart that nothing between two of them shows. */
  sparse: boolean
  /** What brake and drive were read off. */
  demands: Demands['source']
  steering: boolean
  halfWidth_m: number
  /** Offsets (m) of the vehicle's middle that keep its wheels on the road and off closed bands, and within lanes. */
  limits: OffsetBounds
  lanes: OffsetBounds | null
  thresholds: Thresholds
  /** What the log's own noise would show of the reference itself, where that was tried. */
  trial?: TrialOfCorner | undefined
  /** Hears every value that is looked at. */
  see?: ((code: LogCode, value: number) => void) | undefined
}

/**
 * Takes what the rules of one pass find. `found`: how large a value is, what the threshold alone is, what the log's noise adds
 * to it, with the evidence of that code. `undecidable`: the log cannot tell about that code here.
 */
export type Report = {
  found: <C extends LogCode>(
    code: C,
    span: { from_m: number; to_m: number },
    value: number,
    bound: { own: number; uncertainty: number },
    evidence: EvidenceOf<C>,
  ) => void
  undecidable: (code: LogCode) => void
}
