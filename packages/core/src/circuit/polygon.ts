/** A path to be drawn: even points with headings; `open`: it does not lead back to its start. */
export type PolygonBase = {
  count: number
  x_m: Float64Array
  y_m: Float64Array
  heading_rad: Float64Array
  open?: boolean
}

/**
 * The polygon through a path's points on the normals of a circuit's stations: sides, curvature at the corners (turn over
 * mean side length) and their derivatives by the offsets. Side i runs from station i to i + 1.
 */
export type Polygon = {
  /** Computes the polygon for offsets stored `stride` apart from each other, the first at index 0. */
  layOut: (x: Float64Array, stride: number) => void
  normalX: Float64Array
  normalY: Float64Array
  sideX: Float64Array
  sideY: Float64Array
  length_m: Float64Array
  kappa_1pm: Float64Array
  /** ∂κ_i by the offsets of stations i − 1, i and i + 1. */
  kappaByBefore: Float64Array
  kappaByOwn: Float64Array
  kappaByAfter: Float64Array
}

/** A polygon over a circuit, to be computed again whenever the offsets change. */
export const polygonOver = (circuit: PolygonBase): Polygon => {
  const n = circuit.count
  const normalX = circuit.heading_rad.map((h) => -Math.sin(h))
  const normalY = circuit.heading_rad.map(Math.cos)
  const column = (): Float64Array => new Float64Array(n)
  const [px, py, sideX, sideY, length, kappa] = [column(), column(), column(), column(), column(), column()]
  const [byBefore, byOwn, byAfter] = [column(), column(), column()]
  const layOut = (x: Float64Array, stride: number): void => {
    for (let i = 0; i < n; i++) {
      px[i] = circuit.x_m[i] + x[stride * i] * normalX[i]
      py[i] = circuit.y_m[i] + x[stride * i] * normalY[i]
    }
    for (let i = 0; i < n; i++) {
      const j = i + 1 === n ? 0 : i + 1
      const dx = px[j] - px[i]
      const dy = py[j] - py[i]
      sideX[i] = dx
      sideY[i] = dy
      length[i] = Math.sqrt(dx * dx + dy * dy)
    }
    // The ends of an open course have no corner: their curvature stays zero.
    const [first, end] = circuit.open ? [1, n - 1] : [0, n]
    for (let b = first; b < end; b++) {
      const a = b === 0 ? n - 1 : b - 1
      const c = b + 1 === n ? 0 : b + 1
      const ex = sideX[a]
      const ey = sideY[a]
      const fx = sideX[b]
      const fy = sideY[b]
      const le = length[a]
      const lf = length[b]
      const mean = (le + lf) / 2
      const k = Math.atan2(ex * fy - ey * fx, ex * fx + ey * fy) / mean
      kappa[b] = k
      const ownAcross = (ex * normalY[b] - ey * normalX[b]) / (le * le) + (fx * normalY[b] - fy * normalX[b]) / (lf * lf)
      const ownAlong = (ex * normalX[b] + ey * normalY[b]) / le - (fx * normalX[b] + fy * normalY[b]) / lf
      byBefore[b] = ((ex * normalY[a] - ey * normalX[a]) / (le * le) + (k * (ex * normalX[a] + ey * normalY[a])) / (2 * le)) / mean
      byOwn[b] = (-ownAcross - (k * ownAlong) / 2) / mean
      byAfter[b] = ((fx * normalY[c] - fy * normalX[c]) / (lf * lf) - (k * (fx * normalX[c] + fy * normalY[c])) / (2 * lf)) / mean
    }
  }
  return {
    layOut,
    normalX,
    normalY,
    sideX,
    sideY,
    length_m: length,
    kappa_1pm: kappa,
    kappaByBefore: byBefore,
    kappaByOwn: byOwn,
    kappaByAfter: byAfter,
  }
}
