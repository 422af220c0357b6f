import type { Circuit } from '../circuit/circuit.ts'
import { atTravel, type Way } from '../drive/trajectory.ts'
import { type OffsetBounds, offsetBounds } from '../line/bounds.ts'
import { type AnalyseSettings, USUAL_WIDTH_M } from './analyse-settings.ts'
import type { LogQuality } from './doubt.ts'
import { judgePass } from './judge.ts'
import { type Frame, measurePass, type Pass, tells } from './pass.ts'
import { doubtOf } from './quality.ts'
import type { Held, Reference } from './reference.ts'
import { thresholdsOf } from './thresholds.ts'

/** Judges passes of corners by number on any way of the same circuit; null where way or reference were silent. */
export type PassJudge = (
  way: Way,
  start_m: number,
  corner: number,
) => (ReturnType<typeof judgePass> & { pass: Pass; reference: Pass }) | null

/** What a vehicle may not drive over, and the lanes it keeps to, as offsets of its middle; the same for all passes. */
export type Limits = { halfWidth_m: number; limits: OffsetBounds; lanes: OffsetBounds | null }

/** The limits that a reference, or else the settings, bring with them. */
export const limitsOf = (circuit: Circuit, reference: Reference, settings: AnalyseSettings): Limits => {
  const plan = reference.kind === 'plan' ? reference.plan : null
  const width_m = plan?.vehicle.width_m ?? settings.width_m ?? USUAL_WIDTH_M
  const ground = plan?.ground ?? settings.ground ?? []
  const bounds = (kind: 'lane' | 'closed'): OffsetBounds =>
    offsetBounds(circuit, width_m, 0, {
      ground: ground.filter((item) => (item.kind === 'lane') === (kind === 'lane')),
      closed: ['forbidden'],
    })
  return {
    halfWidth_m: width_m / 2,
    limits: bounds('closed'),
    lanes: ground.some((item) => item.kind === 'lane') ? bounds('lane') : null,
  }
}

/** Judges passes by one log's quality; a corner of the reference is measured when it is first asked for. */
export const judgeOf = (
  circuit: Circuit,
  reference: Reference,
  settings: AnalyseSettings,
  quality: LogQuality,
  held: Pick<Held, 'way' | 'start_m' | 'frames'>,
  limits: Limits = limitsOf(circuit, reference, settings),
): PassJudge => {
  const plan = reference.kind === 'plan' ? reference.plan : null
  const doubt = doubtOf(quality, reference.kind)
  const thresholds = thresholdsOf(settings.thresholds)
  const noise = { blur_m: doubt.blur_m, wheel_1pm: doubt.wheel_1pm }
  const { frames } = held
  const seconds = (frame: Frame): number => timeOn(held.way, held.start_m + frame.turnIn_m, held.start_m + (frame.exit_m ?? frame.next_m))
  const away_s = frames.map(seconds)
  const measure = (way: Way, k: number, start_m: number): Pass | null =>
    tells(way, frames[k], start_m) ? measurePass(circuit, way, frames[k], frames[(k + 1) % frames.length], start_m, noise) : null
  const references = new Map<number, Pass | null>()
  const referenceAt = (k: number): Pass | null => {
    const known = references.get(k)
    if (known !== undefined) return known
    const measured = measure(held.way, k, held.start_m)
    references.set(k, measured)
    return measured
  }
  return (way, start_m, k) => {
    const frame = frames[k]
    const own = referenceAt(k)
    const driven = own && measure(way, k, start_m)
    if (!own || !driven) return null
    const judged = judgePass({
      circuit,
      frame,
      way,
      start_m,
      driven,
      referenceWay: held.way,
      referenceStart_m: held.start_m,
      reference: own,
      // Where nobody measured the road its edges are not known.
      doubt: {
        ...doubt,
        offset_m: doubt.offset_m(away_s[k]),
        edge_m: circuit.widthAssumed ? Number.POSITIVE_INFINITY : doubt.edge_m(away_s[k]),
      },
      school: plan?.settings.school ?? settings.school ?? null,
      planned: plan !== null,
      compact: plan?.settings.method === 'compact',
      pedals: quality.pedals,
      steering: quality.steering,
      thresholds,
      ...limits,
    })
    return { ...judged, pass: driven, reference: own }
  }
}

/** Time (s) that a way takes between two travelled distances. */
const timeOn = (way: Way, from_m: number, to_m: number): number =>
  Math.max(0, atTravel(way, way.time_s, to_m) - atTravel(way, way.time_s, from_m))
