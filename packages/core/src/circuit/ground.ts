import type { Circuit } from './circuit.ts'
import { distanceAhead } from './station.ts'

/** Things on or beside the road: hazards, closed bands, run-offs, landmarks, posts and lanes. */
export const groundKinds = [
  'blind',
  'crest',
  'off-camber',
  'bump',
  'dip',
  'drop',
  'ditch',
  'wall',
  'soft-edge',
  'forbidden',
  'paint',
  'kerb',
  'standing-water',
  'run-off',
  'reference',
  'pit-exit',
  'pit-entry',
  'marshal-post',
  'lane',
  'passing',
] as const
export type GroundKind = (typeof groundKinds)[number]

/** Kinds of lasting reference. */
export const referenceKinds = ['seam', 'patch', 'post', 'board', 'kerb-end'] as const
export type ReferenceKind = (typeof referenceKinds)[number]

/** Surfaces of a run-off. */
export const runOffSurfaces = ['asphalt', 'gravel', 'grass'] as const
export type RunOffSurface = (typeof runOffSurfaces)[number]

/**
 * Something on the ground from one station to another (equal for a point), on a side of the road. Bands on the road
 * reach from `near_m` to `far_m`, both measured from that side's edge towards the other.
 */
export type GroundItem = {
  id: string
  kind: GroundKind
  name: string
  side: 'left' | 'right' | 'both'
  from_m: number
  to_m: number
  near_m?: number | undefined
  far_m?: number | undefined
  reference?: ReferenceKind | undefined
  /** Depth (m) beyond the road's edge until something hard. */
  runOff?: { surface: RunOffSurface; length_m: number } | undefined
}

/** Stretches shorter than this say nothing (m). */
const MIN_STRETCH_M = 12
/** A crest or dip counts from this vertical radius on (m). */
const VERTICAL_RADIUS_M = 700
/** Bank that counts as off-camber (rad), where the road bends tighter than a radius (m). */
const OFF_CAMBER_RAD = 0.008
const OFF_CAMBER_RADIUS_M = 200

/** Crests, dips and off-camber stretches as heights, bank and curvature show them. */
export const findGround = (circuit: Circuit): GroundItem[] => {
  const stretch = (kind: GroundKind, name: string, side: (i: number) => GroundItem['side'], holds: (i: number) => boolean): GroundItem[] =>
    stretchesWhere(circuit, holds).map(({ from, to }) => ({
      id: `found-${kind}-${Math.round(circuit.s_m[from])}`,
      kind,
      name,
      side: side(from),
      from_m: circuit.s_m[from],
      to_m: circuit.s_m[to],
    }))
  const { kappaVertical_1pm: vertical, kappa_1pm: kappa, bank_rad: bank } = circuit
  return [
    ...stretch(
      'crest',
      'Crest',
      () => 'both',
      (i) => vertical[i] < -1 / VERTICAL_RADIUS_M,
    ),
    ...stretch(
      'dip',
      'Dip',
      () => 'both',
      (i) => vertical[i] > 1 / VERTICAL_RADIUS_M,
    ),
    ...stretch(
      'off-camber',
      'Off-camber',
      (i) => (kappa[i] > 0 ? 'right' : 'left'),
      // Bank with the left edge higher hurts left-hand bends, where curvature is positive too.
      (i) => Math.abs(kappa[i]) > 1 / OFF_CAMBER_RADIUS_M && Math.sign(kappa[i]) * bank[i] > OFF_CAMBER_RAD,
    ),
  ]
}

/** Stretches of stations round the lap where something holds, at least {@link LEAST_STRETCH_M} long. */
const stretchesWhere = (circuit: Circuit, holds: (i: number) => boolean): { from: number; to: number }[] => {
  const n = circuit.count
  let first = 0
  while (first < n && holds(first)) first++
  if (first === n) return [{ from: 0, to: n - 1 }]
  const out: { from: number; to: number }[] = []
  let from = -1
  for (let k = 1; k <= n; k++) {
    const i = (first + k) % n
    if (holds(i) && from < 0) from = i
    if (!holds(i) && from >= 0) {
      const to = (i - 1 + n) % n
      if (distanceAhead(circuit.s_m[from], circuit.s_m[to], circuit.length_m) >= MIN_STRETCH_M) out.push({ from, to })
      from = -1
    }
  }
  return out
}
