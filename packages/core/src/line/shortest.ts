import type { Circuit } from '../circuit/circuit.ts'
import { type Line, lineFromOffsets } from '../path/line.ts'
import { emptyBand } from '../solve/banded.ts'
import { solveBoxProgram } from '../solve/box-program.ts'
import type { OffsetBounds } from './bounds.ts'
import { bendingModel } from './smoothest.ts'

const settings = { steps: 12, settled_m: 5e-3, bending_m: 1.5 } as const

/**
 * The line of least length between bounds. Σ|side| is majorised by Σ|side|²/(2ℓ), ℓ being the sides' present lengths,
 * which is quadratic in the offsets; the box program is solved and ℓ renewed until the line settles. A weak penalty
 * on bending (∫κ² dσ times `bending_m`) rounds the kinks that a pure shortest path has at its apexes.
 */
export const shortestLine = (circuit: Circuit, bounds: OffsetBounds): Line => {
  const n = circuit.count
  const normalX = circuit.heading_rad.map((h) => -Math.sin(h))
  const normalY = circuit.heading_rad.map(Math.cos)
  // As for the smoothest line, the first model is the centreline's: a path clamped into a narrow place would bend like a spike.
  let offset: Float64Array = new Float64Array(n)
  for (let step = 0; step < settings.steps; step++) {
    const bending = bendingModel(circuit, offset)
    const band = emptyBand(n, 2)
    for (let k = 0; k < band.values.length; k++) band.values[k] = settings.bending_m * bending.band.values[k]
    const g = bending.g.map((value) => settings.bending_m * value)
    for (let i = 0; i < (circuit.open ? n - 1 : n); i++) {
      const j = i + 1 === n ? 0 : i + 1
      const dx = circuit.x_m[j] - circuit.x_m[i]
      const dy = circuit.y_m[j] - circuit.y_m[i]
      const weight =
        1 / Math.hypot(dx + offset[j] * normalX[j] - offset[i] * normalX[i], dy + offset[j] * normalY[j] - offset[i] * normalY[i])
      band.values[3 * i] += weight
      band.values[3 * j] += weight
      band.values[3 * i + 1] -= weight * (normalX[i] * normalX[j] + normalY[i] * normalY[j])
      g[i] -= weight * (dx * normalX[i] + dy * normalY[i])
      g[j] += weight * (dx * normalX[j] + dy * normalY[j])
    }
    const { x } = solveBoxProgram(band, g, bounds.low_m, bounds.high_m, offset)
    const change_m = x.reduce((max, value, i) => Math.max(max, Math.abs(value - offset[i])), 0)
    offset = x
    if (change_m < settings.settled_m) break
  }
  return lineFromOffsets(circuit, offset)
}
