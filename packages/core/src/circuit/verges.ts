import type { Circuit } from './circuit.ts'

/** The ground beside the road reaches this far (m), less where another part of the road or the inside of a bend is nearer. */
export const VERGE_M = 30
const LEAST_VERGE_M = 0.5
/** How much of the inside of a bend is ground before its strips would cross each other. */
const INSIDE_SHARE = 0.8
/** Parts of the road farther along than this are other parts (m). */
const OTHER_PART_M = 80
/** How far the ground reaches beside each station (m). */
export type VergeWidths = { left_m: Float64Array; right_m: Float64Array }

const widthsOf = (circuit: Circuit): VergeWidths => {
  const { count: n, x_m, y_m, heading_rad, kappa_1pm, widthLeft_m, widthRight_m, s_m, length_m, step_m, open } = circuit
  const left_m = new Float64Array(n).fill(VERGE_M)
  const right_m = new Float64Array(n).fill(VERGE_M)
  for (let i = 0; i < n; i++) {
    const k = kappa_1pm[i]
    if (Math.abs(k) > 1e-4) {
      const [column, width] = k > 0 ? [left_m, widthLeft_m[i]] : [right_m, widthRight_m[i]]
      column[i] = Math.min(column[i], INSIDE_SHARE * (1 / Math.abs(k) - width))
    }
  }
  // Other parts of the road, found by a grid of cells as wide as the farthest that two of them can matter to each other.
  const cell_m = 2 * VERGE_M + 30
  const cells = new Map<string, number[]>()
  const stride = Math.max(1, Math.round(4 / step_m))
  const key = (x: number, y: number) => `${Math.floor(x / cell_m)} ${Math.floor(y / cell_m)}`
  for (let i = 0; i < n; i += stride) {
    const own = cells.get(key(x_m[i], y_m[i]))
    if (own) own.push(i)
    else cells.set(key(x_m[i], y_m[i]), [i])
  }
  for (let i = 0; i < n; i++) {
    const [cos, sin] = [Math.cos(heading_rad[i]), Math.sin(heading_rad[i])]
    for (let cx = -1; cx <= 1; cx++)
      for (let cy = -1; cy <= 1; cy++)
        for (const j of cells.get(key(x_m[i] + cx * cell_m, y_m[i] + cy * cell_m)) ?? []) {
          const apart = Math.abs(s_m[i] - s_m[j])
          if ((open ? apart : Math.min(apart, length_m - apart)) < OTHER_PART_M) continue
          const [dx, dy] = [x_m[j] - x_m[i], y_m[j] - y_m[i]]
          const across = -dx * sin + dy * cos
          const far_m = Math.hypot(dx, dy)
          const other = Math.max(widthLeft_m[j], widthRight_m[j])
          const column = across > 0 ? left_m : right_m
          const width = across > 0 ? widthLeft_m[i] : widthRight_m[i]
          column[i] = Math.min(column[i], (far_m - other - width) / 2)
        }
  }
  for (const column of [left_m, right_m]) for (let i = 0; i < n; i++) column[i] = Math.max(LEAST_VERGE_M, column[i])
  return { left_m, right_m }
}

const known = new WeakMap<Circuit, VergeWidths>()

/**
 * How far the ground beside the road is taken to go on at its edge's height: nobody measured it, so no farther than 30 m, and not into
 * the inside of a bend or another part of the road. Computed once a circuit.
 */
export const vergeWidths = (circuit: Circuit): VergeWidths => {
  const before = known.get(circuit)
  if (before) return before
  const widths = widthsOf(circuit)
  known.set(circuit, widths)
  return widths
}
