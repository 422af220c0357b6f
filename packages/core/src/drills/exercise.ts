import { type Surface, surfaces } from '../profile/grip.ts'
import { type Axle, type DrillGrip, type DrillKind, type DrillSizes, type DrillTarget, drillTarget } from './drill.ts'

/**
 * An exercise as it lies on the pad: the place of its first cone and the way it is driven (degrees from the pad's long side, left is
 * positive), its sizes, the surface there, and for a skid exercise the axle with the share of its grip that is left.
 */
export type PadExercise = {
  id: string
  kind: DrillKind
  name: string
  x_m: number
  y_m: number
  turn_deg: number
  sizes: DrillSizes
  surface: Surface
  axle?: Axle | undefined
  axleShare?: number | undefined
  /** Corrections in one sentence, where they are not the usual ones. */
  sentences?: string[] | undefined
}

/** A cone of an exercise on the pad, from the corner where both base lines meet (m). */
export type PadCone = { x_m: number; y_m: number; role: PadConeRole }
/** What a cone of an exercise is for. */
export const padConeRoles = ['speed', 'brake', 'gate', 'stop', 'slalom', 'inner', 'outer', 'reference'] as const
export type PadConeRole = (typeof padConeRoles)[number]

/** Share of the grip that an exercise is to use. */
export const DRILL_SHARE = 0.75
/** Time from a signal to the brake (s). */
export const SIGNAL_S = 0.8
/** Half the width of a gate, and of the lane beside a single cone (m). */
const HALF_LANE_M = 1.75
/** Room to gather speed before an exercise, and length of the box to stop in (m). */
const RUN_UP_M = 20
const BOX_M = 5
/** Distance between the cones of a ring, at most (m). */
const RING_GAP_M = 6
/** Cones of a slalom. */
const SLALOM_CONES = 5
/** Somebody who is a second late, or slides, has this much grip to stop with, as a share of what the exercise uses. */
const LEFT_SHARE = 0.6

type Local = { x: number; y: number; role: PadConeRole }
type Shape = { cones: Local[]; path: (readonly [number, number])[]; runOff_m: number; marks: { x: number; label: 'reaction' }[] }

const pair = (x: number, role: PadConeRole, half = HALF_LANE_M, y = 0): Local[] => [
  { x, y: y + half, role },
  { x, y: y - half, role },
]

const ring = (cx: number, cy: number, radius_m: number, role: PadConeRole): Local[] => {
  const count = Math.max(4, Math.ceil((2 * Math.PI * radius_m) / RING_GAP_M))
  return Array.from({ length: count }, (_, k) => {
    const a = (2 * Math.PI * k) / count
    return { x: cx + radius_m * Math.cos(a), y: cy + radius_m * Math.sin(a), role }
  })
}

const circle = (cx: number, cy: number, radius_m: number, from = -Math.PI / 2): (readonly [number, number])[] =>
  Array.from({ length: 49 }, (_, k) => {
    const a = from + (2 * Math.PI * k) / 48
    return [cx + radius_m * Math.cos(a), cy + radius_m * Math.sin(a)] as const
  })

/** An exercise in its own frame: x the way it is driven, y to the left, the first cone at the origin. */
const shapeOf = (kind: DrillKind, sizes: DrillSizes, target: DrillTarget, late_m: number): Shape => {
  const { radius_m: R, spacing_m: L, amplitude_m: A } = sizes
  const none = { marks: [] }
  if (kind === 'braking-box') {
    const signal_m = target.speed_mps * SIGNAL_S
    const end = signal_m + (target.stop_m ?? 0)
    return {
      cones: [...pair(-10, 'speed'), ...pair(0, 'brake'), ...pair(Math.max(signal_m, end - BOX_M), 'stop'), ...pair(end, 'stop')],
      path: [
        [-RUN_UP_M - 10, 0],
        [end, 0],
      ],
      // Late by as long as the signal takes.
      runOff_m: Math.max(late_m, signal_m),
      marks: [{ x: signal_m, label: 'reaction' }],
    }
  }
  if (kind === 'slalom') {
    const cones: Local[] = Array.from({ length: SLALOM_CONES }, (_, k) => ({ x: L * (k + 1), y: 0, role: 'slalom' }))
    const end = L * (SLALOM_CONES + 1)
    const path = Array.from({ length: 60 }, (_, k) => {
      const x = (end * k) / 59
      return [x, A * Math.sin((Math.PI * (x - L / 2)) / L)] as const
    })
    return {
      cones: [...pair(0, 'gate', HALF_LANE_M, -A), ...cones, ...pair(end, 'gate')],
      path: [[-RUN_UP_M, -A], ...path],
      runOff_m: late_m,
      ...none,
    }
  }
  if (kind === 'lane-change') {
    const [gate, over] = [L / 2, 2 * A]
    const [a, b, c] = [gate + L, gate + L + gate, gate + L + gate + L]
    const end = c + gate
    return {
      cones: [
        ...pair(0, 'gate'),
        ...pair(gate, 'gate'),
        ...pair(a, 'gate', HALF_LANE_M, over),
        ...pair(b, 'gate', HALF_LANE_M, over),
        ...pair(c, 'gate'),
        ...pair(end, 'gate'),
      ],
      path: [
        [-RUN_UP_M, 0],
        [gate, 0],
        [a, over],
        [b, over],
        [c, 0],
        [end, 0],
      ],
      runOff_m: late_m,
      ...none,
    }
  }
  const lane = 2 * HALF_LANE_M + 0.5
  if (kind === 'figure-of-eight') {
    const away = 2 * (R + HALF_LANE_M)
    return {
      cones: [...ring(0, R, R - HALF_LANE_M, 'inner'), ...ring(0, R - away, R - HALF_LANE_M, 'inner')],
      path: [...circle(0, R, R), ...circle(0, R - away, R, Math.PI / 2).reverse()],
      runOff_m: late_m,
      ...none,
    }
  }
  const inner = ring(0, R, R - HALF_LANE_M, 'inner')
  if (kind === 'circle-corner')
    return {
      // In and out at one cone: it stands outside of where the way in touches the circle.
      cones: [{ x: 0, y: -HALF_LANE_M, role: 'reference' }, ...inner.filter((_, k) => k % 2 === 0)],
      path: [[-RUN_UP_M, 0], ...circle(0, R, R), [RUN_UP_M / 2, 0]],
      runOff_m: late_m,
      ...none,
    }
  return { cones: [...inner, ...ring(0, R, R - HALF_LANE_M + lane, 'outer')], path: circle(0, R, R), runOff_m: late_m, ...none }
}

/** An exercise worked out: its target, cones and way on the pad, the room that it takes, and the room that it needs beyond. */
export type LaidExercise = {
  exercise: PadExercise
  target: DrillTarget
  cones: PadCone[]
  path: { x_m: number; y_m: number }[]
  /** Where the reaction to a signal ends, for a braking box. */
  reaction: { x_m: number; y_m: number } | null
  /** Corners of the least box in the exercise's own direction that holds its cones and its way. */
  box: { x_m: number; y_m: number }[]
  /** Room that somebody needs who is a second late or slides (m): the imagined wall stands no nearer. */
  runOff_m: number
}

/** Works an exercise out for a vehicle on its surface. Cost: its cones. */
export const layExercise = (exercise: PadExercise, grip: DrillGrip): LaidExercise => {
  const { kind, sizes, surface, x_m, y_m, turn_deg, axleShare = 1 } = exercise
  const share = surfaces[surface] * DRILL_SHARE
  const target = drillTarget(kind, grip, share, sizes, axleShare)
  const left_mps2 = Math.min(grip.maxBrake_mps2, Math.min(grip.muX, grip.muY) * share * LEFT_SHARE * 9.81)
  const late_m = kind === 'braking-box' ? target.speed_mps : target.speed_mps ** 2 / (2 * left_mps2)
  const { cones, path, runOff_m, marks } = shapeOf(kind, sizes, target, late_m)
  const turn = (turn_deg * Math.PI) / 180
  const at = (x: number, y: number): { x_m: number; y_m: number } => ({
    x_m: x_m + x * Math.cos(turn) - y * Math.sin(turn),
    y_m: y_m + x * Math.sin(turn) + y * Math.cos(turn),
  })
  const xs = [...cones.map((c) => c.x), ...path.map((p) => p[0])]
  const ys = [...cones.map((c) => c.y), ...path.map((p) => p[1])]
  const [x0, x1, y0, y1] = [Math.min(...xs) - 1, Math.max(...xs) + 1, Math.min(...ys) - 1, Math.max(...ys) + 1]
  return {
    exercise,
    target,
    cones: cones.map(({ x, y, role }) => ({ ...at(x, y), role })),
    path: path.map(([x, y]) => at(x, y)),
    reaction: marks[0] ? at(marks[0].x, 0) : null,
    box: [at(x0, y0), at(x1, y0), at(x1, y1), at(x0, y1)],
    runOff_m,
  }
}
