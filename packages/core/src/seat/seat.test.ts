import { describe, expect, it } from 'vitest'
import { demoPlan, fixtureCircuit } from '../../fixtures/load.ts'
import { buildCircuit, type GroundItem, inSightFrom, placeAt, readCircuit, vergeWidths } from '../index.ts'
import { eyeAt, eyeHeight, heightAt, meshBytes, project, roadMesh, seatIn } from './index.ts'
import { depthPicture, trianglesOf } from './raster.test-data.ts'

const partsOf = (mesh: ReturnType<typeof roadMesh>, surface: string) =>
  mesh.chunks.flatMap(({ near }) => near.filter((part) => part.surface === surface))
const pointsOf = ({ position }: { position: Float32Array }, origin: readonly number[]): [number, number, number][] =>
  Array.from({ length: position.length / 3 }, (_, i) => [
    position[3 * i] + origin[0],
    position[3 * i + 1] + origin[1],
    position[3 * i + 2] + origin[2],
  ])

describe('the mesh of a road', () => {
  const circuit = fixtureCircuit('ostrel-mere.geojson')
  const mesh = roadMesh(circuit, [])

  it('has its edges where circuit and survey have them, within 2 cm', () => {
    const edges = partsOf(mesh, 'road').flatMap((part) => pointsOf(part, mesh.origin))
    expect(edges.length).toBeGreaterThan(3 * circuit.count)
    for (let i = 0; i < circuit.count; i += 7)
      for (const offset of [circuit.widthLeft_m[i], -circuit.widthRight_m[i]]) {
        const { x_m, y_m } = placeAt(circuit, circuit.s_m[i], offset)
        const z_m = heightAt(circuit, circuit.s_m[i], offset)
        expect(Math.min(...edges.map(([x, y, z]) => Math.hypot(x - x_m, y - y_m, z - z_m)))).toBeLessThan(0.02)
      }
    // A circle of 50 m, 10 m wide: edges are circles of 45 and 55 m.
    const circle = fixtureCircuit('circle-r50.csv')
    const ring = roadMesh(circle, [])
    const centre = { x: 0, y: 0 }
    for (let i = 0; i < circle.count; i++) {
      centre.x += circle.x_m[i] / circle.count
      centre.y += circle.y_m[i] / circle.count
    }
    for (const [k, [x, y]] of partsOf(ring, 'road')
      .flatMap((part) => pointsOf(part, ring.origin))
      .entries()) {
      const radius = [50 - circle.widthLeft_m[0], 50, 50 + circle.widthRight_m[0]][circle.kappa_1pm[0] > 0 ? k % 3 : 2 - (k % 3)]
      expect(Math.abs(Math.hypot(x - centre.x, y - centre.y) - radius)).toBeLessThan(0.02)
    }
  })

  it('closes at the line, and at every chunk, on the very same points, fine and coarse', () => {
    const rows = mesh.chunks.map(({ near, far }) => [near, far].map((parts) => parts[0].position))
    for (const [k, [near, far]] of rows.entries()) {
      const [nextNear, nextFar] = rows[(k + 1) % rows.length]
      expect([...near.slice(-9)]).toEqual([...nextNear.slice(0, 9)])
      expect([...far.slice(-9)]).toEqual([...nextNear.slice(0, 9)])
      expect([...near.slice(-9)]).toEqual([...nextFar.slice(0, 9)])
    }
  })

  it('ends where an open course ends', () => {
    const open = roadMesh({ ...circuit, open: true }, [])
    expect(open.chunks.at(-1)?.to_m).toBe((circuit.count - 1) * circuit.step_m)
  })

  it('shows its upper side everywhere', () => {
    for (const { near, far } of mesh.chunks)
      for (const { position: p, index } of [...near, ...far])
        for (let t = 0; t < index.length; t += 3) {
          const [a, b, c] = [3 * index[t], 3 * index[t + 1], 3 * index[t + 2]]
          const up = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])
          expect(up).toBeGreaterThan(-1e-3)
        }
  })

  it('gives the ground beside it up where another part of the road, or the inside of a bend, begins', () => {
    const { left_m, right_m } = vergeWidths(circuit)
    for (let i = 0; i < circuit.count; i++) {
      const kappa = circuit.kappa_1pm[i]
      if (kappa > 0.001) expect(left_m[i] + circuit.widthLeft_m[i]).toBeLessThan(Math.max(1 / kappa, circuit.widthLeft_m[i] + 0.6))
      if (kappa < -0.001) expect(right_m[i] + circuit.widthRight_m[i]).toBeLessThan(Math.max(-1 / kappa, circuit.widthRight_m[i] + 0.6))
    }
  })

  it('draws what the ground items tell, and nothing else', () => {
    const item = (kind: GroundItem['kind'], change: Partial<GroundItem> = {}): GroundItem => ({
      ...{ id: kind, kind, name: kind, side: 'left', from_m: 400, to_m: 460 },
      ...change,
    })
    expect([...new Set(mesh.chunks.flatMap(({ near }) => near.map((part) => part.surface)))].sort()).toEqual(['edge', 'road', 'verge'])
    const told = roadMesh(circuit, [
      item('kerb'),
      item('run-off', { runOff: { surface: 'gravel', length_m: 20 } }),
      item('wall', { side: 'right' }),
      item('reference', { reference: 'seam', from_m: 500, to_m: 500 }),
      item('reference', { reference: 'board', from_m: 520, to_m: 520 }),
      item('crest'),
    ])
    const surfaces = new Set(told.chunks.flatMap(({ near }) => near.map((part) => part.surface)))
    expect([...surfaces].sort()).toEqual(['board', 'edge', 'gravel', 'kerb', 'road', 'seam', 'verge', 'wall'])
    // A kerb begins at the edge and lies outside of it, over the whole of its stretch.
    const kerb = partsOf(told, 'kerb').flatMap((part) => pointsOf(part, told.origin))
    const away = kerb.map(([x, y]) => Math.min(...Array.from(circuit.x_m, (cx, i) => Math.hypot(x - cx, y - circuit.y_m[i]))))
    expect(Math.min(...away)).toBeGreaterThan(Math.min(...circuit.widthLeft_m) - 0.2)
  })

  it('is small, also with many stations, heights that are missing and widths that are assumed', () => {
    expect(meshBytes(mesh)).toBeLessThan(30e6 * (circuit.length_m / 5000))
    expect(mesh.flat).toBe(false)
    expect(fixtureCircuit('circle-r50.csv').z_m.every((z) => z === 0)).toBe(roadMesh(fixtureCircuit('circle-r50.csv'), []).flat)
    const ring = Array.from({ length: 90 }, (_, i) => `${150 * Math.cos((i * Math.PI) / 45)},${90 * Math.sin((i * Math.PI) / 45)}`)
    const bare = buildCircuit(readCircuit(['x,y', ...ring].join('\n'), 'bare.csv'))
    expect(roadMesh(bare, [])).toMatchObject({ flat: true, widthAssumed: true })
  })
})

describe('a picture from the seat', () => {
  const plan = demoPlan({ pace: 0.7 })

  it('puts what lies straight ahead in the middle, and things where they are', () => {
    const eye = { x_m: 10, y_m: 20, z_m: 1, heading_rad: Math.PI / 2, pitch_rad: 0 }
    const picture = { width: 800, height: 400, fov_rad: Math.PI / 2 }
    // At 90° from top to bottom, half the height is one unit of distance.
    expect(project(eye, picture, [10, 30, 1])).toEqual({ x: 400, y: 200, depth_m: 10 })
    const right = project(eye, picture, [15, 30, 1])
    expect(right?.x).toBeCloseTo(500, 9)
    expect(project(eye, picture, [10, 30, 3])?.y).toBeCloseTo(160, 9)
    expect(project(eye, picture, [10, 10, 1])).toBeNull()
    // Looking up by 45°, what lies at 45° is in the middle.
    expect(project({ ...eye, pitch_rad: Math.PI / 4 }, picture, [10, 30, 11])?.y).toBeCloseTo(200, 9)
  })

  it('looks from where each kind of driver sits', () => {
    const middle = eyeAt(plan, 300, { side: 'middle' })
    const left = eyeAt(plan, 300, { side: 'left' })
    expect(Math.hypot(left.x_m - middle.x_m, left.y_m - middle.y_m)).toBeCloseTo(0.36, 2)
    expect(middle.z_m - heightAt(plan.circuit, 300, plan.line.offset_m[150])).toBeCloseTo(eyeHeight('car'), 1)
    expect(eyeAt(plan, 300)).toEqual(left)
    const [driver, beside] = [seatIn({ kind: 'car', driverSits: 'right' }), seatIn({ kind: 'car', driverSits: 'right' }, 'beside')]
    expect([driver, beside]).toEqual(['right', 'left'])
    for (const kind of ['kart', 'motorcycle', 'single-seater'] as const)
      expect(seatIn({ kind, driverSits: 'right' }, 'beside')).toBe('middle')
    expect(eyeHeight('kart')).toBeLessThan(eyeHeight('car'))
    expect(eyeAt({ ...plan, vehicle: { ...plan.vehicle, kind: 'kart' } }, 300, { side: 'left' }).x_m).toBe(
      eyeAt({ ...plan, vehicle: { ...plan.vehicle, kind: 'kart' } }, 300).x_m,
    )
  })

  it('shows a cone where the sight check says that it is seen, and hides it where it says that it is not', () => {
    const place = { circuit: plan.circuit, line: plan.line, ground: [] }
    const mesh = trianglesOf(roadMesh(plan.circuit, []))
    let [same, unsafe, cautious, hidden] = [0, 0, 0, 0]
    for (const mark of plan.marks)
      for (const before_m of [40, 90, 150, 220]) {
        const from_m = (mark.station_m - before_m + plan.circuit.length_m) % plan.circuit.length_m
        const offset = plan.line.offset_m[Math.floor(mark.station_m / plan.circuit.step_m)]
        const foot = placeAt(plan.circuit, mark.station_m, offset)
        const z = heightAt(plan.circuit, mark.station_m, offset)
        const seat = eyeAt(plan, from_m)
        const heading_rad = Math.atan2(foot.y_m - seat.y_m, foot.x_m - seat.x_m)
        const away_m = Math.hypot(foot.x_m - seat.x_m, foot.y_m - seat.y_m)
        const eye = { ...seat, heading_rad, pitch_rad: Math.atan2(z - seat.z_m, away_m) }
        // Through a glass that makes the cone some 14 pixels high: smaller than a pixel nothing can be said of it.
        const drawn = depthPicture(eye, { width: 240, height: 150, fov_rad: 2 * Math.atan((75 * 0.45) / (14 * away_m)) })
        for (const triangle of mesh)
          if (Math.hypot(triangle[0][0] - seat.x_m, triangle[0][1] - seat.y_m) < before_m + 60) drawn.draw(triangle)
        const [nx, ny] = [Math.sin(heading_rad), -Math.cos(heading_rad)]
        const pixels = drawn.seen([
          [foot.x_m - 0.14 * nx, foot.y_m - 0.14 * ny, z],
          [foot.x_m + 0.14 * nx, foot.y_m + 0.14 * ny, z],
          [foot.x_m, foot.y_m, z + 0.45],
        ])
        // Within a step of the station where it comes into sight either answer is right.
        const told = [from_m - 6, from_m, from_m + 6].map((s) =>
          inSightFrom(place, (s + plan.circuit.length_m) % plan.circuit.length_m, mark.station_m),
        )
        if (told.includes(true) && told.includes(false)) continue
        if (!told[1]) hidden++
        if (pixels > 0 === told[1]) same++
        else if (told[1]) unsafe++
        else cautious++
      }
    expect(same).toBeGreaterThanOrEqual(50)
    expect(hidden).toBeGreaterThan(0)
    // Another part of the road may stand in the way, of which the sight check knows nothing.
    expect(unsafe).toBeLessThanOrEqual(0.01 * same)
    // Land that is not drawn, for nobody measured it, is taken to hide things rather than not.
    expect(cautious).toBeLessThanOrEqual(0.03 * same)
  })
})
