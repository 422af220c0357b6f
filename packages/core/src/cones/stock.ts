import type { CornerMetrics } from '../corner-numbers/corner-metrics.ts'
import { MIN_GRACE_S } from '../corner-numbers/safety.ts'
import type { Cone } from './placement.ts'
import type { ConeColour, ConeKind } from './scheme.ts'

/** Number of cones of each colour; a colour that is not named has not been counted and is not limited. */
export type ConeStock = Partial<Record<ConeColour, number>>

/** A group left out because cones are short. `short`: number of cones of the colour that are missing. */
export type DroppedGroup = {
  groupId: string
  cornerId: string
  kind: ConeKind
  colour: ConeColour
  count: number
  worth: number
  short: number
}

/** Importance of a kind of cone: first those that people brake and turn by, and those that keep them off bad ground. */
const kindWorth: Record<ConeKind, number> = {
  'no-go': 30,
  'pit-lane': 20,
  brake: 10,
  lift: 8,
  sighter: 7,
  'turn-in': 6,
  apex: 4,
  exit: 4,
  release: 3,
}

/**
 * The worth of a group of cones: by kind, grown by the corner's price (up to double, the dearest corner's), and for
 * cones to brake by, grown again where the grace is short.
 */
export const coneWorth = (cone: Pick<Cone, 'kind' | 'cornerId'>, numbers: readonly CornerMetrics[]): number => {
  const ofCorner = numbers.find((n) => n.cornerId === cone.cornerId)
  const dearest = numbers.reduce((max, n) => Math.max(max, n.worth.price_spmps), 0)
  const priced = ofCorner && dearest > 0 ? 1 + ofCorner.worth.price_spmps / dearest : 1
  const grace_s = ofCorner?.grace?.time_s
  const tight =
    grace_s !== undefined && (cone.kind === 'brake' || cone.kind === 'sighter') ? Math.max(0, 1 - grace_s / (2 * MIN_GRACE_S)) : 0
  return kindWorth[cone.kind] * (priced + tight)
}

/**
 * The cones that the stock allows. Where a colour is short, whole groups are left out, the least worth first, until the
 * rest can be laid: half a pair would mean something else.
 */
export const fitStock = (
  cones: readonly Cone[],
  stock: ConeStock,
  numbers: readonly CornerMetrics[],
): { cones: Cone[]; dropped: DroppedGroup[] } => {
  const dropped: DroppedGroup[] = []
  for (const [colour, owned] of Object.entries(stock) as [ConeColour, number][]) {
    const ofColour = cones.filter((c) => c.colour === colour)
    const groups = [...new Set(ofColour.map((c) => c.groupId))]
      .map((groupId) => {
        const members = ofColour.filter((c) => c.groupId === groupId)
        return { groupId, cone: members[0], count: members.length, worth: coneWorth(members[0], numbers) }
      })
      .sort((a, b) => a.worth - b.worth)
    let needed = ofColour.length
    for (const { groupId, cone, count, worth } of groups) {
      if (needed <= owned) break
      needed -= count
      dropped.push({ groupId, cornerId: cone.cornerId, kind: cone.kind, colour, count, worth, short: ofColour.length - owned })
    }
  }
  const gone = new Set(dropped.map((d) => d.groupId))
  return { cones: cones.filter((c) => !gone.has(c.groupId)), dropped }
}
