import { distanceAhead } from '../circuit/station.ts'
import { type Mark, markOf } from '../marks/mark.ts'

/** A car this short of the way past an apex is still in that corner (m). */
const STILL_IN_CORNER_M = 60

/**
 * The passes of corners that something spoils from a moment on: the corner that the car is in, and those up to the next apex.
 * Stations in metres from the line; none where the circuit has no corners.
 */
export const passesFrom = (
  plan: { circuit: { length_m: number }; marks: readonly Mark[]; corners: readonly { id: string; peak_m: number }[] },
  { lap, station_m }: { lap: number; station_m: number },
): { lap: number; cornerId: string }[] => {
  const { circuit, marks, corners } = plan
  const apexes = corners.map(({ id, peak_m }) => ({ cornerId: id, apex_m: markOf(marks, id, 'apex')?.station_m ?? peak_m }))
  const ahead = apexes
    .map((a) => ({ ...a, ahead_m: distanceAhead(station_m, a.apex_m, circuit.length_m) }))
    .sort((a, b) => a.ahead_m - b.ahead_m)
  const [next] = ahead
  const behind = ahead.at(-1)
  if (!next || !behind) return []
  const passes = [{ lap: next.apex_m >= station_m ? lap : lap + 1, cornerId: next.cornerId }]
  if (behind !== next && circuit.length_m - behind.ahead_m < STILL_IN_CORNER_M)
    passes.unshift({ lap: behind.apex_m <= station_m ? lap : lap - 1, cornerId: behind.cornerId })
  return passes.filter((pass) => pass.lap >= 0)
}
