import { describe, expect, it } from 'vitest'
import { GRAVITY_MPS2 } from '../units/constants.ts'
import { type DrillGrip, defaultSizes, drillKinds, drillTarget } from './drill.ts'
import { layExercise, type PadExercise, SIGNAL_S } from './exercise.ts'
import { boxDistance, checkPad, placeOnPad, usualPad } from './pad.ts'

const grip = (mu: number, change: Partial<DrillGrip> = {}): DrillGrip => ({ muX: mu, muY: mu, maxBrake_mps2: 50, ...change })

describe('what an exercise asks', () => {
  it('stops from 50 km/h where kinematics say', () => {
    const { stop_m, time_s } = drillTarget('braking-box', grip(1), 1)
    const v = 50 / 3.6
    expect(stop_m).toBeCloseTo((v * v) / (2 * GRAVITY_MPS2), 9)
    expect(time_s).toBeCloseTo(v / GRAVITY_MPS2, 9)
  })

  it('goes round a circle at the speed whose demand is the grip', () => {
    const { speed_mps, time_s } = drillTarget('circle', grip(0.9), 0.8)
    expect(speed_mps ** 2 / defaultSizes.radius_m).toBeCloseTo(0.72 * GRAVITY_MPS2, 9)
    expect((time_s ?? 0) * speed_mps).toBeCloseTo(2 * Math.PI * defaultSizes.radius_m, 9)
    expect(drillTarget('figure-of-eight', grip(0.9), 0.8).time_s).toBeCloseTo(2 * (time_s ?? 0), 9)
  })

  it('weaves a slalom whose sharpest point asks for the grip', () => {
    const { speed_mps } = drillTarget('slalom', grip(1), 0.75)
    // Curvature of A·sin(πx/L) at its crest, by differences.
    const { amplitude_m: A, spacing_m: L } = defaultSizes
    const y = (x: number): number => A * Math.sin((Math.PI * x) / L)
    const h = 0.01
    const kappa = Math.abs(y(L / 2 + h) - 2 * y(L / 2) + y(L / 2 - h)) / (h * h)
    expect((speed_mps ** 2 * kappa) / (0.75 * GRAVITY_MPS2)).toBeCloseTo(1, 4)
  })

  it('asks for less with less grip, of every kind', () => {
    for (const kind of drillKinds) {
      const [dry, wet] = [drillTarget(kind, grip(1), 0.8), drillTarget(kind, grip(0.6), 0.8)]
      if (dry.stop_m !== null) expect(wet.stop_m ?? 0).toBeGreaterThan(dry.stop_m)
      else expect(wet.speed_mps).toBeLessThan(dry.speed_mps)
    }
  })
})

const exercise = (kind: PadExercise['kind'], change: Partial<PadExercise> = {}): PadExercise => ({
  id: kind,
  kind,
  name: kind,
  x_m: 40,
  y_m: 30,
  turn_deg: 0,
  sizes: defaultSizes,
  surface: 'dry',
  ...change,
})

describe('an exercise laid on the pad', () => {
  it('stops by friction along the road or by what the brakes can, whichever is less', () => {
    const v = defaultSizes.entry_mps
    expect(drillTarget('braking-box', grip(1, { muX: 0.8 }), 1).stop_m).toBeCloseTo((v * v) / (2 * 0.8 * GRAVITY_MPS2), 9)
    expect(drillTarget('braking-box', grip(1, { maxBrake_mps2: 4 }), 1).stop_m).toBeCloseTo((v * v) / 8, 9)
    // What corners does not brake.
    expect(drillTarget('circle', grip(1, { muX: 0.1 }), 1).speed_mps).toBeCloseTo(Math.sqrt(GRAVITY_MPS2 * defaultSizes.radius_m), 9)
  })

  it('puts the end of the box where reaction and stop end, by hand', () => {
    const laid = layExercise(exercise('braking-box'), grip(1))
    const v = defaultSizes.entry_mps
    const end_m = v * SIGNAL_S + (v * v) / (2 * 0.75 * GRAVITY_MPS2)
    const stops = laid.cones.filter((c) => c.role === 'stop')
    expect(Math.max(...stops.map((c) => c.x_m)) - 40).toBeCloseTo(end_m, 6)
    expect((laid.reaction?.x_m ?? 0) - 40).toBeCloseTo(v * SIGNAL_S, 9)
    // A second late at that speed is so much further on.
    expect(laid.runOff_m).toBeCloseTo(v, 6)
    expect(laid.cones.filter((c) => c.role === 'brake').map((c) => c.y_m)).toEqual([31.75, 28.25])
  })

  it('turns about its first cone, and keeps all distances', () => {
    for (const kind of drillKinds) {
      const [flat, turned] = [0, 90].map((turn_deg) => layExercise(exercise(kind, { turn_deg }), grip(1)))
      flat.cones.forEach((cone, k) => {
        expect(turned.cones[k].x_m).toBeCloseTo(40 - (cone.y_m - 30), 9)
        expect(turned.cones[k].y_m).toBeCloseTo(30 + (cone.x_m - 40), 9)
      })
    }
  })

  it('has rings of cones at the radius, a lane inside and outside of the way', () => {
    const { cones, path } = layExercise(exercise('circle'), grip(1))
    const from = (p: { x_m: number; y_m: number }): number => Math.hypot(p.x_m - 40, p.y_m - 30 - defaultSizes.radius_m)
    for (const cone of cones) expect(from(cone)).toBeCloseTo(cone.role === 'inner' ? 10.25 : 14.25, 9)
    for (const p of path) expect(from(p)).toBeCloseTo(defaultSizes.radius_m, 9)
  })

  it('leaves a corner by the one cone at which it was begun', () => {
    const { cones, path } = layExercise(exercise('circle-corner'), grip(1))
    const [reference, ...more] = cones.filter((c) => c.role === 'reference')
    expect(more).toEqual([])
    const near = path.filter((p) => Math.hypot(p.x_m - reference.x_m, p.y_m - reference.y_m) < 2)
    expect(near.length).toBeGreaterThanOrEqual(2)
  })

  it('goes slower the less grip an axle is left', () => {
    const at = (axleShare: number): number => layExercise(exercise('skid', { axle: 'rear', axleShare }), grip(1)).target.speed_mps
    expect(at(0.45)).toBeCloseTo(at(1) * Math.sqrt(0.45), 9)
  })
})

describe('a pad', () => {
  const square = (x: number, y: number, size: number) => [
    { x_m: x, y_m: y },
    { x_m: x + size, y_m: y },
    { x_m: x + size, y_m: y + size },
    { x_m: x, y_m: y + size },
  ]
  it('measures between boxes: edge to edge, corner to corner, and nothing where they overlap', () => {
    expect(boxDistance(square(0, 0, 10), square(15, 0, 10))).toBeCloseTo(5, 9)
    expect(boxDistance(square(0, 0, 10), square(13, 14, 10))).toBeCloseTo(5, 9)
    expect(boxDistance(square(0, 0, 10), square(5, 5, 10))).toBe(0)
    expect(boxDistance(square(0, 0, 30), square(5, 5, 2))).toBe(0)
  })

  it('tells what is too near an edge or another exercise, and by how much', () => {
    const laid = layExercise(exercise('circle', { x_m: 60, y_m: 40 }), grip(1))
    const reach = 14.25 + 1
    const room = (spare_m: number) => ({ length_m: 60 + reach + laid.runOff_m + spare_m, width_m: 400 })
    const [edge] = checkPad(room(-0.5), [laid])
    expect(edge).toMatchObject({ problem: 'edge', id: 'circle' })
    const wide = { length_m: 400, width_m: 400 }
    const apart = (y_m: number) => layExercise(exercise('circle', { id: 'b', x_m: 200, y_m }), grip(1))
    const first = layExercise(exercise('circle', { id: 'a', x_m: 200, y_m: 100 }), grip(1))
    expect(checkPad(wide, [first, apart(100 + 2 * reach + laid.runOff_m + 1)])).toEqual([])
    const near = checkPad(wide, [first, apart(100 + 2 * 14.25 + 2)])
    expect(near).toEqual([expect.objectContaining({ problem: 'neighbour', id: 'a', otherId: 'b' })])
    expect((near[0] as { short_m: number }).short_m).toBeCloseTo(laid.runOff_m, 0)
  })

  it('finds a new exercise a safe place beside others, for every kind on a usual pad', () => {
    for (const kind of drillKinds) {
      const lay = (place: object) => layExercise(exercise(kind, place), grip(1))
      expect(checkPad(usualPad, [lay(placeOnPad(usualPad, [], lay))]), kind).toEqual([])
    }
    const first = layExercise(exercise('circle', { id: 'a', x_m: 25, y_m: 25 }), grip(1))
    const lay = (place: object) => layExercise(exercise('circle', { id: 'b', ...place }), grip(1))
    expect(checkPad({ length_m: 200, width_m: 70 }, [first, lay(placeOnPad({ length_m: 200, width_m: 70 }, [first], lay))])).toEqual([])
  })
})
