import type { Circuit } from '../circuit/circuit.ts'
import type { GroundItem, RunOffSurface } from '../circuit/ground.ts'
import { distanceAhead } from '../circuit/station.ts'
import { vergeWidths } from '../circuit/verges.ts'

/** What a piece of the mesh is. Nothing is drawn that neither survey nor ground items tell. */
export type SeatSurface =
  | (
      | 'road'
      | 'edge'
      | 'verge'
      | 'kerb'
      | 'paint'
      | 'forbidden'
      | 'standing-water'
      | 'patch'
      | 'seam'
      | 'wall'
      | 'ditch'
      | 'blind'
      | 'post'
      | 'board'
    )
  | RunOffSurface

/** Triangles of one surface: positions as x, y, z (m from the mesh's origin, z up) and three indices a triangle, normals up or outward. */
export type MeshPart = { surface: SeatSurface; position: Float32Array; index: Uint32Array }

/** A stretch of the road: as fine as the stations for near by, coarser for far away. Both end on the same cross-sections. */
export type RoadChunk = { from_m: number; to_m: number; middle: readonly [number, number, number]; near: MeshPart[]; far: MeshPart[] }

/** The road as triangles. `flat`: no heights are known; `widthAssumed`: nobody measured its width. */
export type RoadMesh = { origin: readonly [number, number, number]; chunks: RoadChunk[]; flat: boolean; widthAssumed: boolean }

/** Length of a chunk (m), and how many stations are left out between two of a coarse one. */
const CHUNK_M = 100
const COARSE = 4
/** Width in which the road's edge is drawn (m). */
const EDGE_M = 0.12
/** Layers lie above each other by this much (m), so that the upper one is seen. */
const LIFT_M = 0.012
/** Sizes of what is known by its kind alone (m). */
const SIZES = {
  kerb: 0.9,
  paint: 0.15,
  seam: 0.25,
  wall: 1,
  wallFrom: 1,
  blind: 2.5,
  blindFrom: 0.5,
  ditch: 1.5,
  post: 1.2,
  board: 1.4,
} as const

/** Gathers triangles by surface. */
const builder = () => {
  const parts = new Map<SeatSurface, { position: number[]; index: number[] }>()
  const of = (surface: SeatSurface) => {
    const own = parts.get(surface) ?? { position: [], index: [] }
    parts.set(surface, own)
    return own
  }
  return {
    /** Rows of points across, each with the same number of them from left to right: the ground between them, seen from above. */
    strip: (surface: SeatSurface, rows: readonly (readonly [number, number, number])[][]): void => {
      if (rows.length < 2) return
      const { position, index } = of(surface)
      const first = position.length / 3
      const across = rows[0].length
      for (const row of rows) for (const point of row) position.push(...point)
      for (let r = 0; r + 1 < rows.length; r++)
        for (let c = 0; c + 1 < across; c++) {
          const a = first + r * across + c
          const d = a + across + 1
          index.push(a, a + 1, d, a, d, a + across)
        }
    },
    parts: (): MeshPart[] =>
      [...parts].map(([surface, { position, index }]) => ({
        surface,
        position: Float32Array.from(position),
        index: Uint32Array.from(index),
      })),
  }
}

type Builder = ReturnType<typeof builder>
type Point = readonly [number, number, number]
/** A point beside station i: offset from the middle, and a height over the ground (m). */
type At = (i: number, offset_m: number, above_m: number) => Point

/** Stretches of an item within a chunk, as stations to draw it at; empty where it does not lie there. */
const within = (circuit: Circuit, item: Pick<GroundItem, 'from_m' | 'to_m'>, stations: readonly number[]): number[][] => {
  const long_m = distanceAhead(item.from_m, item.to_m, circuit.length_m)
  const runs: number[][] = []
  let run: number[] = []
  for (const i of stations) {
    if (distanceAhead(item.from_m, circuit.s_m[i], circuit.length_m) <= long_m) run.push(i)
    else if (run.length > 0) {
      runs.push(run)
      run = []
    }
  }
  if (run.length > 0) runs.push(run)
  return runs.filter((r) => r.length > 1)
}

const sidesOf = (item: GroundItem): ('left' | 'right')[] => (item.side === 'both' ? ['left', 'right'] : [item.side])

/** Flat bands on the ground: their distance inward from the edge (m; outward negative), and how high they lie in the order of layers. */
const bandOf = (item: GroundItem): { surface: SeatSurface; near_m: number; far_m: number; layer: number } | null => {
  const { near_m, far_m, runOff } = item
  if (item.kind === 'run-off' && runOff) return { surface: runOff.surface, near_m: -runOff.length_m, far_m: 0, layer: 1 }
  if (item.kind === 'kerb') return { surface: 'kerb', near_m: near_m ?? -SIZES.kerb, far_m: far_m ?? 0, layer: 3 }
  if (item.kind === 'paint') return { surface: 'paint', near_m: near_m ?? 0, far_m: far_m ?? SIZES.paint, layer: 4 }
  if (item.kind === 'forbidden') return { surface: 'forbidden', near_m: near_m ?? 0, far_m: far_m ?? 1, layer: 3 }
  if (item.kind === 'standing-water') return { surface: 'standing-water', near_m: near_m ?? 0, far_m: far_m ?? 2, layer: 2 }
  if (item.kind === 'ditch') return { surface: 'ditch', near_m: -SIZES.ditch - 0.5, far_m: -0.5, layer: 2 }
  if (item.kind === 'reference' && item.reference === 'patch') return { surface: 'patch', near_m: near_m ?? 1, far_m: far_m ?? 3, layer: 2 }
  return null
}

/** What stands up beside the road: its foot's distance from the edge, and its height (m). */
const standingOf = (item: GroundItem): { surface: SeatSurface; beside_m: number; high_m: number } | null => {
  if (item.kind === 'wall') return { surface: 'wall', beside_m: SIZES.wallFrom, high_m: SIZES.wall }
  if (item.kind === 'blind') return { surface: 'blind', beside_m: SIZES.blindFrom, high_m: SIZES.blind }
  return null
}

/** What stands at one place: half its width along and across, and its height (m). */
const postOf = (item: GroundItem): { surface: SeatSurface; along_m: number; across_m: number; high_m: number; foot_m: number } | null => {
  if (item.kind === 'marshal-post') return { surface: 'post', along_m: 0.5, across_m: 0.5, high_m: 2.2, foot_m: 4 }
  if (item.kind !== 'reference') return null
  if (item.reference === 'post') return { surface: 'post', along_m: 0.06, across_m: 0.06, high_m: SIZES.post, foot_m: 1 }
  if (item.reference === 'board') return { surface: 'board', along_m: 0.03, across_m: 0.35, high_m: SIZES.board, foot_m: 1.2 }
  return null
}

const drawItems = (into: Builder, circuit: Circuit, ground: readonly GroundItem[], stations: readonly number[], at: At): void => {
  const edge = (i: number, side: 'left' | 'right'): number => (side === 'left' ? circuit.widthLeft_m[i] : -circuit.widthRight_m[i])
  const outward = (side: 'left' | 'right'): number => (side === 'left' ? 1 : -1)
  for (const item of ground) {
    const band = bandOf(item)
    const standing = standingOf(item)
    if (!band && !standing) continue
    for (const run of within(circuit, item, stations))
      for (const side of sidesOf(item)) {
        if (band) {
          const offsets = (i: number): number[] =>
            [edge(i, side) - outward(side) * band.near_m, edge(i, side) - outward(side) * band.far_m].sort((a, b) => b - a)
          into.strip(
            band.surface,
            run.map((i) => offsets(i).map((offset) => at(i, offset, band.layer * LIFT_M))),
          )
        }
        if (standing) {
          // Seen from the road: the upper edge is the left one of a wall at the left.
          const rows = run.map((i) => {
            const offset = edge(i, side) + outward(side) * standing.beside_m
            const [foot, top] = [at(i, offset, 0), at(i, offset, standing.high_m)]
            return side === 'left' ? [top, foot] : [foot, top]
          })
          into.strip(standing.surface, rows)
        }
      }
  }
}

/** Boxes and lines at single places, by the stations between which they lie. */
const drawPlaces = (
  into: Builder,
  circuit: Circuit,
  ground: readonly GroundItem[],
  [first, last]: readonly [number, number],
  at: At,
): void => {
  for (const item of ground) {
    const i = Math.min(circuit.count - 1, Math.round(item.from_m / circuit.step_m) % circuit.count)
    if (i < first || i >= last) continue
    if (item.kind === 'reference' && item.reference === 'seam') {
      const j = (i + 1) % circuit.count
      const share = SIZES.seam / circuit.step_m
      const row = (k: number): Point[] => [at(k, circuit.widthLeft_m[k], LIFT_M), at(k, -circuit.widthRight_m[k], LIFT_M)]
      const [near, far] = [row(i), row(j)]
      into.strip('seam', [near, near.map((p, c) => p.map((v, axis) => v + share * (far[c][axis] - v)) as unknown as Point)])
    }
    const post = postOf(item)
    if (!post) continue
    for (const side of sidesOf(item)) {
      const offset = side === 'left' ? circuit.widthLeft_m[i] + post.foot_m : -circuit.widthRight_m[i] - post.foot_m
      const [x, y, z] = at(i, offset, 0)
      const [cos, sin] = [Math.cos(circuit.heading_rad[i]), Math.sin(circuit.heading_rad[i])]
      const corner = (along: number, across: number, up: number): Point => [
        x + along * post.along_m * cos - across * post.across_m * sin,
        y + along * post.along_m * sin + across * post.across_m * cos,
        z + up * post.high_m,
      ]
      const ring = [
        [-1, 1],
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ] as const
      into.strip(
        post.surface,
        ring.map(([along, across]) => [corner(along, across, 1), corner(along, across, 0)]),
      )
    }
  }
}

/**
 * The mesh of a circuit with what lies on and beside it. Points on the road's edges are those of the survey; a lap closes on the very
 * same points; an open course ends. Cost: linear in stations and in ground items × stations of their chunks.
 */
export const roadMesh = (circuit: Circuit, ground: readonly GroundItem[]): RoadMesh => {
  const { count: n, x_m, y_m, z_m, heading_rad, widthLeft_m, widthRight_m, bank_rad, step_m, length_m, open } = circuit
  const origin = [x_m[0], y_m[0], z_m[0]] as const
  const verges = vergeWidths(circuit)
  const at: At = (i, offset_m, above_m) => {
    const onRoad = Math.min(widthLeft_m[i], Math.max(-widthRight_m[i], offset_m))
    return [
      x_m[i] - offset_m * Math.sin(heading_rad[i]) - origin[0],
      y_m[i] + offset_m * Math.cos(heading_rad[i]) - origin[1],
      z_m[i] + onRoad * Math.tan(bank_rad[i]) + above_m - origin[2],
    ]
  }
  const partsOf = (stations: readonly number[], range: readonly [number, number], near: boolean): MeshPart[] => {
    const into = builder()
    into.strip(
      'road',
      stations.map((i) => [at(i, widthLeft_m[i], 0), at(i, 0, 0), at(i, -widthRight_m[i], 0)]),
    )
    into.strip(
      'verge',
      stations.map((i) => [at(i, widthLeft_m[i] + verges.left_m[i], 0), at(i, widthLeft_m[i], 0)]),
    )
    into.strip(
      'verge',
      stations.map((i) => [at(i, -widthRight_m[i], 0), at(i, -widthRight_m[i] - verges.right_m[i], 0)]),
    )
    for (const side of [1, -1] as const) {
      const edge = (i: number): number => (side === 1 ? widthLeft_m[i] : -widthRight_m[i])
      into.strip(
        'edge',
        stations.map((i) => [edge(i), edge(i) - side * EDGE_M].sort((a, b) => b - a).map((offset) => at(i, offset, LIFT_M))),
      )
    }
    drawItems(into, circuit, ground, stations, at)
    if (near) drawPlaces(into, circuit, ground, range, at)
    return into.parts()
  }
  const steps = Math.max(COARSE, Math.round(CHUNK_M / step_m / COARSE) * COARSE)
  const last = open ? n - 1 : n
  const chunks: RoadChunk[] = []
  for (let first = 0; first < last; first += steps) {
    const end = Math.min(first + steps, last)
    const fine = Array.from({ length: end - first + 1 }, (_, k) => (first + k) % n)
    const coarse = fine.filter((_, k) => k % COARSE === 0 || k === fine.length - 1)
    const middle = at(fine[Math.floor(fine.length / 2)], 0, 0)
    const to_m = end === n ? length_m : end * step_m
    chunks.push({
      from_m: first * step_m,
      to_m,
      middle,
      near: partsOf(fine, [first, end], true),
      far: partsOf(coarse, [first, end], false),
    })
  }
  return { origin, chunks, flat: z_m.every((z) => z === z_m[0]), widthAssumed: circuit.widthAssumed === true }
}

/** Bytes that a mesh takes. */
export const meshBytes = ({ chunks }: RoadMesh): number =>
  chunks.flatMap(({ near, far }) => [...near, ...far]).reduce((sum, { position, index }) => sum + position.byteLength + index.byteLength, 0)
