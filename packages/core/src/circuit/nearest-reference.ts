import type { GroundItem } from './ground.ts'
import { signedDistance } from './station.ts'

/** The lasting reference nearest to a station along the road, within reach: how far past it the station lies. */
export const nearestReference = (
  ground: readonly GroundItem[],
  station_m: number,
  length_m: number,
  reach_m: number,
): { id: string; name: string; past_m: number } | null => {
  const near = ground
    .filter((g) => g.kind === 'reference')
    .map((g) => ({ id: g.id, name: g.name, past_m: signedDistance(g.from_m, station_m, length_m) }))
    .filter((r) => Math.abs(r.past_m) <= reach_m)
  return near.sort((a, b) => Math.abs(a.past_m) - Math.abs(b.past_m))[0] ?? null
}
