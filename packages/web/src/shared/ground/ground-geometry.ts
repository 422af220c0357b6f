import { atStation, type Circuit, type Corner, distanceAhead, placeAt } from '@ochote/core'

/** A rectangle of the ground in metres; y grows to the north. */
export type GroundBox = { minX: number; minY: number; maxX: number; maxY: number }

const edge = (circuit: Circuit, i: number, side: 1 | -1): readonly [number, number] => {
  const width = side === 1 ? circuit.widthLeft_m[i] : -circuit.widthRight_m[i]
  const heading = circuit.heading_rad[i]
  return [circuit.x_m[i] - width * Math.sin(heading), circuit.y_m[i] + width * Math.cos(heading)]
}

const trail = (points: readonly (readonly [number, number])[]): string =>
  points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${(-y).toFixed(1)}`).join('')

const ring = (points: readonly (readonly [number, number])[]): string => `${trail(points)}Z`

/** The road between its edges as one path with a hole, in metres, north up (SVG's y is minus north). */
export const groundRoad = (circuit: Circuit): string => {
  const all = Array.from({ length: circuit.count }, (_, i) => i)
  const left = all.map((i) => edge(circuit, i, 1))
  const right = all.map((i) => edge(circuit, i, -1))
  return circuit.open ? ring([...left, ...right.reverse()]) : ring(left) + ring(right)
}

/** A path given by plan positions, closed unless the course is open. */
export const groundPath = (x_m: ArrayLike<number>, y_m: ArrayLike<number>, open = false): string =>
  (open ? trail : ring)(Array.from({ length: x_m.length }, (_, i) => [x_m[i], y_m[i]] as const))

/** A path given by offsets at the circuit's stations. */
export const groundOffsetPath = (circuit: Circuit, offset_m: Float64Array): string =>
  (circuit.open ? trail : ring)(
    Array.from({ length: circuit.count }, (_, i) => {
      const h = circuit.heading_rad[i]
      return [circuit.x_m[i] - offset_m[i] * Math.sin(h), circuit.y_m[i] + offset_m[i] * Math.cos(h)] as const
    }),
  )

/** The box around the whole circuit with some room. */
export const circuitBox = (circuit: Circuit, room_m = 40): GroundBox => {
  const box = {
    minX: Number.POSITIVE_INFINITY,
    minY: Number.POSITIVE_INFINITY,
    maxX: Number.NEGATIVE_INFINITY,
    maxY: Number.NEGATIVE_INFINITY,
  }
  for (let i = 0; i < circuit.count; i++) {
    box.minX = Math.min(box.minX, circuit.x_m[i])
    box.maxX = Math.max(box.maxX, circuit.x_m[i])
    box.minY = Math.min(box.minY, circuit.y_m[i])
    box.maxY = Math.max(box.maxY, circuit.y_m[i])
  }
  return { minX: box.minX - room_m, minY: box.minY - room_m, maxX: box.maxX + room_m, maxY: box.maxY + room_m }
}

/** The box around one corner with its approach and its way out. */
export const cornerBox = (circuit: Circuit, corner: Corner, before_m = 120): GroundBox =>
  stretchBox(circuit, {
    from_m: corner.start_m - before_m,
    span_m: distanceAhead(corner.start_m, corner.end_m, circuit.length_m) + before_m + 60,
  })

/** The box around a stretch of the road, with room beside it. */
export const stretchBox = (circuit: Circuit, { from_m, span_m }: { from_m: number; span_m: number }): GroundBox => {
  const points = Array.from({ length: 30 }, (_, k) => placeAt(circuit, from_m + (span_m * k) / 29, 0))
  const xs = points.map((p) => p.x_m)
  const ys = points.map((p) => p.y_m)
  return { minX: Math.min(...xs) - 25, maxX: Math.max(...xs) + 25, minY: Math.min(...ys) - 25, maxY: Math.max(...ys) + 25 }
}

/** A corner's name on the ground: its middle, for a text of the size given to {@link placeNames}. */
export type Nameplace = { cornerId: string; x_m: number; y_m: number }

/**
 * Places for all corner names: beside each peak, on the side away from the circuit's middle where it is free, never on
 * the road or on another name if any of six tries allows it. `halfWidth_m` is asked for each corner.
 */
export const placeNames = (
  circuit: Circuit,
  corners: readonly Corner[],
  size: { away_m: number; halfHeight_m: number; halfWidth_m: (corner: Corner) => number },
): Nameplace[] => {
  const { minX, maxX, minY, maxY } = circuitBox(circuit, 0)
  const fromMiddle = (p: { x_m: number; y_m: number }): number => Math.hypot(p.x_m - (minX + maxX) / 2, p.y_m - (minY + maxY) / 2)
  const placed: (Nameplace & { halfWidth_m: number })[] = []
  for (const corner of corners) {
    const halfWidth_m = size.halfWidth_m(corner)
    const sideways = Math.abs(Math.sin(placeAt(circuit, corner.peak_m, 0).heading_rad))
    const beside = (side: 1 | -1, times: number): { x_m: number; y_m: number } => {
      const width = atStation(circuit, side === 1 ? circuit.widthLeft_m : circuit.widthRight_m, corner.peak_m)
      return placeAt(circuit, corner.peak_m, side * (width + times * size.away_m + sideways * halfWidth_m))
    }
    const outward = fromMiddle(beside(1, 1)) > fromMiddle(beside(-1, 1)) ? 1 : -1
    const inward = outward === 1 ? -1 : 1
    const tries = [beside(outward, 1), beside(inward, 1), beside(outward, 2), beside(inward, 2), beside(outward, 3), beside(inward, 3)]
    const free = (p: { x_m: number; y_m: number }): boolean =>
      !placed.some((o) => Math.abs(o.x_m - p.x_m) < o.halfWidth_m + halfWidth_m && Math.abs(o.y_m - p.y_m) < 2 * size.halfHeight_m) &&
      !crossesRoad(circuit, p, halfWidth_m, size.halfHeight_m)
    const chosen = tries.find(free) ?? tries[0]
    placed.push({ cornerId: corner.id, x_m: chosen.x_m, y_m: chosen.y_m, halfWidth_m })
  }
  return placed.map(({ halfWidth_m: _, ...place }) => place)
}

const crossesRoad = (circuit: Circuit, p: { x_m: number; y_m: number }, halfWidth_m: number, halfHeight_m: number): boolean => {
  for (let i = 0; i < circuit.count; i += 2)
    if (Math.abs(circuit.x_m[i] - p.x_m) < halfWidth_m + 4 && Math.abs(circuit.y_m[i] - p.y_m) < halfHeight_m + 4) return true
  return false
}
