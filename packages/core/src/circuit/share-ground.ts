import { inPlaneOf } from './carry.ts'
import type { Circuit } from './circuit.ts'
import type { GroundItem } from './ground.ts'
import { placeOn } from './place.ts'
import { distanceAhead, placeAt, wrapStation } from './station.ts'

/** Two layouts share the road where their centrelines lie this close (m): surveys of one road differ by less. */
const SAME_ROAD_M = 4
/** Spacing of the places at which a stretch is compared (m). */
const COMPARED_EVERY_M = 15

/** A place of one layout on another: where, and whether both run the same way there; null where they share no road. */
const onOther = (from: Circuit, to: Circuit, s_m: number): { station_m: number; sameWay: boolean } | null => {
  const { x_m, y_m, heading_rad } = placeAt(from, s_m, 0)
  const { station_m, offset_m } = placeOn(to, x_m, y_m)
  if (Math.abs(offset_m) > SAME_ROAD_M) return null
  const along = Math.cos(placeAt(to, station_m, 0).heading_rad - heading_rad)
  // Crossing roads share a point, and no stretch.
  return Math.abs(along) > 0.9 ? { station_m, sameWay: along > 0 } : null
}

const otherSide: Record<GroundItem['side'], GroundItem['side']> = { left: 'right', right: 'left', both: 'both' }

/**
 * An item on the ground of one layout as it stands on another layout of the same venue, driven either way; null where the
 * two do not share the road along all of it.
 */
export const sharedItem = (item: GroundItem, from: Circuit, to: Circuit): GroundItem | null => {
  const length_m = distanceAhead(item.from_m, item.to_m, from.length_m)
  const steps = Math.max(1, Math.ceil(length_m / COMPARED_EVERY_M))
  const places = Array.from({ length: steps + 1 }, (_, k) =>
    onOther(from, to, wrapStation(item.from_m + (length_m * k) / steps, from.length_m)),
  )
  const [first, last] = [places[0], places[places.length - 1]]
  if (!first || !last || places.some((place) => place === null || place.sameWay !== first.sameWay)) return null
  return first.sameWay
    ? { ...item, from_m: first.station_m, to_m: last.station_m }
    : { ...item, from_m: last.station_m, to_m: first.station_m, side: otherSide[item.side] }
}

const same = (a: GroundItem, b: GroundItem): boolean => JSON.stringify(a) === JSON.stringify(b)

/**
 * The ground of one layout after that of another one of the same venue changed from `before` to `after`: what was added, moved
 * or changed there is so here too where the two share the road, and what was taken away there is gone here.
 */
export const followGround = (
  own: readonly GroundItem[],
  before: readonly GroundItem[],
  after: readonly GroundItem[],
  from: Circuit,
  to: Circuit,
): GroundItem[] => {
  const there = inPlaneOf(from, to.origin)
  const left = new Set(after.map((item) => item.id))
  const gone = new Set(before.filter((item) => !left.has(item.id)).map((item) => item.id))
  const changed = after.filter((item) => !before.some((old) => old.id === item.id && same(old, item)))
  const carried = new Map(changed.map((item) => [item.id, sharedItem(item, there, to)]))
  const kept = own.filter((item) => !gone.has(item.id) && carried.get(item.id) !== null).map((item) => carried.get(item.id) ?? item)
  const known = new Set(kept.map((item) => item.id))
  return [...kept, ...[...carried.values()].filter((item) => item !== null && !known.has(item.id)).filter((item) => item !== null)]
}
