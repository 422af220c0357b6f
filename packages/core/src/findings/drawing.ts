import type { Circuit } from '../circuit/circuit.ts'
import { distanceAhead, placeAt, stationIndex, wrapStation } from '../circuit/station.ts'

/** A corner from above in metres, as pairs of x and y, the entry pointing up; `shown` is the place of a finding. */
export type CornerDrawingColumns = { left: number[]; right: number[]; planned: number[]; driven: number[]; shown: number[] }

/** Road drawn before and after what is shown (m). */
const AROUND_M = 30
const STEP_M = 4

/** Draws a stretch of road with the planned and the driven path, turned so that the entry points up. Offsets at the circuit's stations. */
export const drawCorner = (
  circuit: Circuit,
  { from_m, to_m, shown_m }: { from_m: number; to_m: number; shown_m: number },
  planned_m: ArrayLike<number>,
  driven_m: ArrayLike<number> | null,
): CornerDrawingColumns => {
  const out: CornerDrawingColumns = { left: [], right: [], planned: [], driven: [], shown: [] }
  const first_m = from_m - AROUND_M
  const way_m = distanceAhead(first_m, to_m + AROUND_M, circuit.length_m)
  const start = placeAt(circuit, wrapStation(first_m, circuit.length_m), 0)
  const [cos, sin] = [Math.cos(Math.PI / 2 - start.heading_rad), Math.sin(Math.PI / 2 - start.heading_rad)]
  const add = (list: number[], station_m: number, offset_m: number): void => {
    const { x_m, y_m } = placeAt(circuit, station_m, offset_m)
    const [dx, dy] = [x_m - start.x_m, y_m - start.y_m]
    list.push(Math.round(10 * (cos * dx - sin * dy)) / 10, Math.round(10 * (sin * dx + cos * dy)) / 10)
  }
  for (let along = 0; along <= way_m; along += STEP_M) {
    const station_m = wrapStation(first_m + along, circuit.length_m)
    const i = stationIndex(circuit, station_m)
    add(out.left, station_m, circuit.widthLeft_m[i])
    add(out.right, station_m, -circuit.widthRight_m[i])
    add(out.planned, station_m, planned_m[i])
    if (driven_m) add(out.driven, station_m, driven_m[i])
  }
  const at = stationIndex(circuit, shown_m)
  add(out.shown, wrapStation(shown_m, circuit.length_m), (driven_m ?? planned_m)[at])
  return out
}
