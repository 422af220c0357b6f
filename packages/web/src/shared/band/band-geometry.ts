import { atStation, type Circuit, type GroundItem } from '@ochote/core'

/** The stretch of the lap that a band shows; `end_m` may pass the lap's end, then it goes on over the line. */
export type BandView = { start_m: number; end_m: number }

/** A band's drawing area: width, the road's middle, its half height when straight, and how far it swells at most (px). */
export type BandFrame = { width: number; middle: number; half: number; swell: number }

/** The whole lap. */
export const wholeLap = (circuit: Pick<Circuit, 'length_m'>): BandView => ({ start_m: 0, end_m: circuit.length_m })

/** Station to pixels; stations before the view's start are taken a lap later where that brings them into view. */
export const stationToX = (station_m: number, view: BandView, frame: BandFrame, length_m: number): number => {
  const s = station_m < view.start_m && station_m + length_m <= view.end_m ? station_m + length_m : station_m
  return ((s - view.start_m) / (view.end_m - view.start_m)) * frame.width
}

/** Pixels to station, wrapped into the lap. */
export const xToStation = (x: number, view: BandView, frame: BandFrame, length_m: number): number => {
  const s = view.start_m + (x / frame.width) * (view.end_m - view.start_m)
  return ((s % length_m) + length_m) % length_m
}

/** A road straighter than this is drawn straight (1/m): radius 900 m, above the noise of any survey. */
const STRAIGHT_1PM = 1 / 900
/** Curvature at which a bend swells the band by almost all there is (1/m): radius 30 m. */
const FULL_SWELL_1PM = 1 / 30

/** Width of the drawn road up (left) and down (right) at a station: it swells to the side towards which it bends. */
export const roadReach = (kappa_1pm: number, frame: BandFrame): { up: number; down: number } => {
  const swell = frame.swell * Math.tanh(1.1 * Math.sqrt(Math.max(0, Math.abs(kappa_1pm) - STRAIGHT_1PM) / FULL_SWELL_1PM))
  return { up: frame.half + (kappa_1pm > 0 ? swell : 0), down: frame.half + (kappa_1pm < 0 ? swell : 0) }
}

/** Vertical place of an offset inside the swollen road: the left edge is the top, the right edge the bottom. */
export const offsetToY = (circuit: Circuit, station_m: number, offset_m: number, frame: BandFrame): number => {
  const { up, down } = roadReach(atStation(circuit, circuit.kappa_1pm, station_m), frame)
  const left = atStation(circuit, circuit.widthLeft_m, station_m)
  const right = atStation(circuit, circuit.widthRight_m, station_m)
  return offset_m >= 0 ? frame.middle - (offset_m / left) * up : frame.middle + (-offset_m / right) * down
}

/** Even samples of the view, at most one for two pixels. */
export const sampleStations = (view: BandView, frame: BandFrame, circuit: Pick<Circuit, 'step_m'>): number[] => {
  const span = view.end_m - view.start_m
  const count = Math.max(2, Math.min(Math.round(frame.width / 2), Math.round(span / circuit.step_m)))
  return Array.from({ length: count + 1 }, (_, i) => view.start_m + (span * i) / count)
}

const pathThrough = (points: readonly (readonly [number, number])[]): string =>
  points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join('')

/** The road of a view as a closed path. */
export const roadPath = (circuit: Circuit, view: BandView, frame: BandFrame): string => {
  const stations = sampleStations(view, frame, circuit)
  const x = (s: number): number => ((s - view.start_m) / (view.end_m - view.start_m)) * frame.width
  const reach = stations.map((s) => roadReach(atStation(circuit, circuit.kappa_1pm, s), frame))
  const top = stations.map((s, i) => [x(s), frame.middle - reach[i].up] as const)
  const bottom = stations.map((s, i) => [x(s), frame.middle + reach[i].down] as const).reverse()
  return `${pathThrough([...top, ...bottom])}Z`
}

/** A column of offsets as a path over the road. */
export const offsetPath = (circuit: Circuit, offset_m: Float64Array, view: BandView, frame: BandFrame): string => {
  const x = (s: number): number => ((s - view.start_m) / (view.end_m - view.start_m)) * frame.width
  return pathThrough(
    sampleStations(view, frame, circuit).map((s) => [x(s), offsetToY(circuit, s, atStation(circuit, offset_m, s), frame)] as const),
  )
}

/** Values that differ less than this over a lap are drawn flat, in their own unit: the rest is noise. */
const MIN_RANGE = 3

/** A column of values as a path between two heights; least and greatest value of the whole lap fill the room. */
export const columnPath = (
  circuit: Circuit,
  column: Float64Array,
  view: BandView,
  frame: BandFrame,
  room: { top: number; bottom: number },
): string => {
  let min = Number.POSITIVE_INFINITY
  let max = Number.NEGATIVE_INFINITY
  for (const value of column) {
    min = Math.min(min, value)
    max = Math.max(max, value)
  }
  const x = (s: number): number => ((s - view.start_m) / (view.end_m - view.start_m)) * frame.width
  const y = (value: number): number => room.bottom - ((value - min) / Math.max(max - min, MIN_RANGE)) * (room.bottom - room.top)
  return pathThrough(sampleStations(view, frame, circuit).map((s) => [x(s), y(atStation(circuit, column, s))] as const))
}

/** Zooms a view around a station by a factor; never below 80 m nor beyond the lap. */
export const zoomView = (view: BandView, around_m: number, factor: number, length_m: number): BandView => {
  const span = Math.min(length_m, Math.max(80, (view.end_m - view.start_m) * factor))
  const share = (around_m - view.start_m) / (view.end_m - view.start_m)
  return shiftInto({ start_m: around_m - share * span, end_m: around_m + (1 - share) * span }, length_m)
}

/** Moves a view along the lap by metres, stopping at its ends. */
export const panView = (view: BandView, by_m: number, length_m: number): BandView =>
  shiftInto({ start_m: view.start_m + by_m, end_m: view.end_m + by_m }, length_m)

const shiftInto = (view: BandView, length_m: number): BandView => {
  const span = view.end_m - view.start_m
  const start_m = Math.min(Math.max(0, view.start_m), length_m - span)
  return { start_m, end_m: start_m + span }
}

/** An item of ground on the band (px): where it begins and how far it reaches, its glyph's middle and row beside the road. */
export type PlacedItem = {
  item: GroundItem
  from: number
  extent: number
  middle: number
  edge: number
  out: 1 | -1
  row: number
  count: number
}

/** A glyph takes this much of the band (px). */
const GLYPH_PX = 15
/** Above the road the names of the corners have their place. */
const MAX_ROWS = { above: 2, below: 3 } as const

/** Places what is in view: equal glyphs at one place are one with their count, others that would cover each other stand in rows, those beyond the last row share it. */
export const placeGround = (circuit: Circuit, items: readonly GroundItem[], view: BandView, frame: BandFrame): PlacedItem[] => {
  const scale = frame.width / (view.end_m - view.start_m)
  const length = circuit.length_m
  const placed = items.flatMap((item): PlacedItem[] => {
    const from = stationToX(item.from_m, view, frame, length)
    const long_m = (((item.to_m - item.from_m) % length) + length) % length
    const extent = long_m * scale
    if (from + extent < -GLYPH_PX || from > frame.width + GLYPH_PX) return []
    const { up, down } = roadReach(atStation(circuit, circuit.kappa_1pm, item.from_m + long_m / 2), frame)
    const out = item.side === 'left' ? -1 : 1
    return [
      { item, from, extent, middle: from + extent / 2, edge: out === -1 ? frame.middle - up : frame.middle + down, out, row: 0, count: 1 },
    ]
  })
  const merged: PlacedItem[] = []
  for (const out of [-1, 1]) {
    const ends: number[] = []
    for (const p of placed.filter((q) => q.out === out).sort((a, b) => a.middle - b.middle)) {
      const same = merged.find((q) => q.out === out && q.item.kind === p.item.kind && p.middle - q.middle < GLYPH_PX)
      // A stretch keeps its own bar; two posts at one place are one post twice.
      if (same && p.extent <= 3) {
        same.count++
        continue
      }
      const free = ends.findIndex((end) => p.middle - end >= GLYPH_PX)
      p.row = free >= 0 ? free : Math.min(ends.length, (out === -1 ? MAX_ROWS.above : MAX_ROWS.below) - 1)
      ends[p.row] = p.middle
      merged.push(p)
    }
  }
  return placed.filter((p) => merged.includes(p))
}
