import { type Eye, type Picture, project, type RoadMesh } from './index.ts'

type Point = readonly [number, number, number]
type Corner = { x: number; y: number; depth_m: number }

/** Points nearer than this are cut off (m). */
const NEAR_M = 0.3

/** A depth picture of triangles: a plain one of its own, so that what is drawn elsewhere can be held against it. */
export const depthPicture = (eye: Eye, { width, height, fov_rad }: Required<Picture>) => {
  const depths = new Float32Array(width * height).fill(Number.POSITIVE_INFINITY)
  const picture = { width, height, fov_rad }
  const edge = (a: Corner, b: Corner, x: number, y: number): number => (b.x - a.x) * (y - a.y) - (b.y - a.y) * (x - a.x)
  /** Pixels of a triangle with their depth; 1/depth is linear in the picture. */
  const each = ([a, b, c]: readonly [Corner, Corner, Corner], hit: (pixel: number, depth_m: number) => void): void => {
    const area = edge(a, b, c.x, c.y)
    if (area === 0) return
    const [left, right] = [Math.max(0, Math.floor(Math.min(a.x, b.x, c.x))), Math.min(width - 1, Math.ceil(Math.max(a.x, b.x, c.x)))]
    const [top, bottom] = [Math.max(0, Math.floor(Math.min(a.y, b.y, c.y))), Math.min(height - 1, Math.ceil(Math.max(a.y, b.y, c.y)))]
    for (let y = top; y <= bottom; y++)
      for (let x = left; x <= right; x++) {
        const [u, v, w] = [edge(b, c, x + 0.5, y + 0.5) / area, edge(c, a, x + 0.5, y + 0.5) / area, edge(a, b, x + 0.5, y + 0.5) / area]
        if (u < 0 || v < 0 || w < 0) continue
        hit(y * width + x, 1 / (u / a.depth_m + v / b.depth_m + w / c.depth_m))
      }
  }
  const depthOf = ([x, y, z]: Point): number => {
    const level = (x - eye.x_m) * Math.cos(eye.heading_rad) + (y - eye.y_m) * Math.sin(eye.heading_rad)
    return level * Math.cos(eye.pitch_rad) + (z - eye.z_m) * Math.sin(eye.pitch_rad)
  }
  /** The part of a triangle before the eye, as triangles in the picture. */
  const before = (points: readonly Point[]): (readonly [Corner, Corner, Corner])[] => {
    const kept = points.flatMap((p, k): Point[] => {
      const q = points[(k + 1) % points.length]
      const [dp, dq] = [depthOf(p), depthOf(q)]
      const share = (NEAR_M - dp) / (dq - dp)
      const cut = p.map((value, axis) => value + share * (q[axis] - value)) as unknown as Point
      return [...(dp >= NEAR_M ? [p] : []), ...(dp >= NEAR_M !== dq >= NEAR_M ? [cut] : [])]
    })
    const corners = kept.map((p) => project(eye, picture, p)).filter((c) => c !== null)
    return corners.slice(2).map((c, k) => [corners[0], corners[k + 1], c] as const)
  }
  return {
    draw: (points: readonly Point[]): void => {
      for (const triangle of before(points))
        each(triangle, (pixel, depth_m) => {
          if (depth_m < depths[pixel]) depths[pixel] = depth_m
        })
    },
    /** How many pixels of a triangle nothing covers that was drawn. */
    seen: (points: readonly Point[]): number => {
      let pixels = 0
      for (const triangle of before(points))
        each(triangle, (pixel, depth_m) => {
          if (depth_m < depths[pixel] + 0.05) pixels++
        })
      return pixels
    },
  }
}

/** Triangles of a mesh in the circuit's coordinates. */
export const trianglesOf = ({ origin, chunks }: RoadMesh): Point[][] =>
  chunks.flatMap(({ near }) =>
    near.flatMap(({ position, index }) => {
      const point = (i: number): Point => [position[3 * i] + origin[0], position[3 * i + 1] + origin[1], position[3 * i + 2] + origin[2]]
      return Array.from({ length: index.length / 3 }, (_, t) => [point(index[3 * t]), point(index[3 * t + 1]), point(index[3 * t + 2])])
    }),
  )
