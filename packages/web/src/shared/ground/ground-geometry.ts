import { atStation, type Circuit, type Corner, placeAt } from '@ochote/core'

/** A rectangle of the ground in metres; y grows to the north. */
export type GroundBox = { minX: number; minY: number; maxX: number; maxY: number }

const edge = (circuit: Circuit, i: number, side: 1 | -1): readonly [number, number] => {
  const width = side === 1 ? circuit.widthLeft_m[i] : -circuit.widthRight_m[i]
  const heading = circuit.heading_rad[i]
  return [circuit.x_m[i] - width * Math.sin(heading), circuit.y_m[i] + width * Math.cos(heading)]
}

const ring = (points: readonly (readonly [number, number])[]): string =>
  `${points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${(-y).toFixed(1)}`).join('')}Z`

/** The road between its edges as one path with a hole, in metres, north up (SVG's y is minus north). */
export const groundRoad = (circuit: Circuit): string => {
  const all = Array.from({ length: circuit.count }, (_, i) => i)
  return ring(all.map((i) => edge(circuit, i, 1))) + ring(all.map((i) => edge(circuit, i, -1)))
}

/** A path given by plan positions, closed. */
export const groundPath = (x_m: ArrayLike<number>, y_m: ArrayLike<number>): string =>
  ring(Array.from({ length: x_m.length }, (_, i) => [x_m[i], y_m[i]] as const))

/** A path given by offsets at the circuit's stations. */
export const groundOffsetPath = (circuit: Circuit, offset_m: Float64Array): string =>
  ring(
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
export const cornerBox = (circuit: Circuit, corner: Corner): GroundBox => {
  const span = (corner.end_m - corner.start_m + circuit.length_m) % circuit.length_m
  const points = Array.from({ length: 30 }, (_, k) => placeAt(circuit, corner.start_m - 120 + ((span + 180) * k) / 29, 0))
  const xs = points.map((p) => p.x_m)
  const ys = points.map((p) => p.y_m)
  return { minX: Math.min(...xs) - 25, maxX: Math.max(...xs) + 25, minY: Math.min(...ys) - 25, maxY: Math.max(...ys) + 25 }
}

/** The nearest station to a point of the ground, over all stations. */
export const nearestStation = (circuit: Circuit, x_m: number, y_m: number): number => {
  let best = 0
  let least = Number.POSITIVE_INFINITY
  for (let i = 0; i < circuit.count; i++) {
    const d = (circuit.x_m[i] - x_m) ** 2 + (circuit.y_m[i] - y_m) ** 2
    if (d < least) {
      least = d
      best = i
    }
  }
  return circuit.s_m[best]
}

/** A place outside a corner for its name: beyond the outer edge at its peak. */
export const nameplace = (circuit: Circuit, corner: Corner, away_m: number): { x_m: number; y_m: number } => {
  const outer = corner.side === 'left' ? -1 : 1
  const width = atStation(circuit, outer === 1 ? circuit.widthLeft_m : circuit.widthRight_m, corner.peak_m)
  return placeAt(circuit, corner.peak_m, outer * (width + away_m))
}
