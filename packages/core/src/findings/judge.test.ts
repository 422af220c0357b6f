import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import type { GroundItem } from '../circuit/ground.ts'
import { atTravel, type DriverInputs, firstAtOrAbove, type Trajectory, wheelAt } from '../drive/trajectory.ts'
import { type LogCode, logCodes } from '../mistakes/mistakes.ts'
import type { Plan } from '../plan/plan.ts'
import { judgeOf } from './pass-judge.ts'
import { uncertaintyOf } from './quality.ts'
import { referencePlan } from './reference.ts'
import { rootOf } from './roots.ts'
import { type OwnThreshold, type OwnThresholds, ownThresholds, thresholds as t, thresholdRange, thresholdsOf } from './thresholds.ts'
import type { LogQuality } from './uncertainty.ts'
import { turnInOf } from './wheel-shape.ts'

/** A log as fine as logs come: the allowances are next to the thresholds alone. */
const fine: LogQuality = {
  interval_s: 0.01,
  offsetNoise_m: 0,
  drift_m: 0,
  positionUncertainty_m: 0,
  laps: 4,
  wheelNoise_1pm: 0,
  positions: true,
  pedals: true,
  demands: { source: 'pedals', noise_g: 0 },
  demandNoise_g: 0,
  steering: true,
}

/** A plan's own lap, with the pedals at 50 samples a second, to be changed by hand. */
const ownLap = (plan: Plan): Trajectory => {
  const { trajectory } = referencePlan(plan)
  const from_s = trajectory.time_s[0]
  const count = Math.floor((trajectory.time_s[trajectory.time_s.length - 1] - from_s) * 50)
  const time_s = Float64Array.from({ length: count }, (_, i) => from_s + i / 50)
  const travel_m = time_s.map((s) => {
    const j = Math.max(1, firstAtOrAbove(trajectory.time_s, s))
    const share = (s - trajectory.time_s[j - 1]) / (trajectory.time_s[j] - trajectory.time_s[j - 1])
    return trajectory.inputs.travel_m[j - 1] + share * trajectory.step_m
  })
  const column = (values: Float64Array): Float64Array => travel_m.map((m) => atTravel(trajectory, values, m))
  const { brake_g, drive_g, throttle, gear } = trajectory.inputs
  return {
    ...trajectory,
    speed_mps: Float64Array.from(trajectory.speed_mps),
    offset_m: Float64Array.from(trajectory.offset_m),
    kappa_1pm: Float64Array.from(trajectory.kappa_1pm),
    inputs: {
      time_s,
      travel_m,
      brake_g: column(brake_g),
      drive_g: column(drive_g),
      throttle: column(throttle),
      wheel_1pm: column(trajectory.kappa_1pm),
      gear: travel_m.map(
        (m) => (gear ?? new Float64Array(1))[Math.min((gear?.length ?? 1) - 1, Math.round(m / trajectory.step_m) - trajectory.first)],
      ),
    },
  }
}

const straight = demoPlan()
const trail = demoPlan({ school: 'trail' })
const compact = demoPlan({ method: 'compact' })
const kart = demoPlan({}, 'kart')
const lane: GroundItem = { id: 'l', kind: 'lane', name: 'Paving', side: 'right', from_m: 120, to_m: 480, near_m: 0.2, far_m: 11.8 }
const paved: Plan = { ...straight, ground: [lane] }

const reference = (plan: Plan, cornerId: string) => {
  const k = plan.corners.findIndex((c) => c.id === cornerId)
  const held = referencePlan(plan)
  const judged = judgeOf(plan.circuit, { kind: 'plan', plan }, {}, fine, held)(held.trajectory, 0, k)
  if (!judged) throw new Error('The plan does not tell')
  return { k, frame: held.frames[k], pass: judged.reference }
}

type Corner = ReturnType<typeof reference>
type Change = (trajectory: Trajectory, corner: Corner, size: number) => void

/** Codes that a pass of a corner shows after a change by hand. */
const judged = (plan: Plan, cornerId: string, change: Change, size: number, quality = fine, own: OwnThresholds = {}) => {
  const corner = reference(plan, cornerId)
  const trajectory = ownLap(plan)
  change(trajectory, corner, size)
  const outcome = judgeOf(plan.circuit, { kind: 'plan', plan }, { thresholds: own }, quality, referencePlan(plan))(trajectory, 0, corner.k)
  if (!outcome) throw new Error('Not judged')
  return outcome
}

const codes = (...given: Parameters<typeof judged>): LogCode[] => judged(...given).found.map((f) => f.code)

/** Rewrites a column of the pedals between two places. */
const inputs = (
  trajectory: Trajectory,
  name: keyof DriverInputs,
  from_m: number,
  to_m: number,
  value: (at: { i: number; at_m: number; old: number }) => number,
) => {
  const column = trajectory.inputs[name]
  if (!column) throw new Error('No such column')
  for (let i = 0; i < column.length; i++) {
    const at_m = trajectory.inputs.travel_m[i]
    if (at_m >= from_m && at_m < to_m) column[i] = value({ i, at_m, old: column[i] })
  }
}

const grid = (
  trajectory: Trajectory,
  name: 'offset_m' | 'speed_mps' | 'kappa_1pm',
  from_m: number,
  to_m: number,
  value: (at_m: number, old: number) => number,
) => {
  const column = trajectory[name]
  for (let i = 0; i < column.length; i++) {
    const at_m = (trajectory.first + i) * trajectory.step_m
    if (at_m >= from_m && at_m <= to_m) column[i] = value(at_m, column[i])
  }
}

/** 1 on a stretch about a place, fading to 0 over 20 m beyond it. */
const about = (at_m: number, centre_m: number, half_m: number): number => {
  const beyond = Math.max(0, Math.abs(at_m - centre_m) - half_m)
  return beyond >= 20 ? 0 : (1 + Math.cos((Math.PI * beyond) / 20)) / 2
}

const sideways = (trajectory: Trajectory, centre_m: number, half_m: number, by_m: number): void =>
  grid(trajectory, 'offset_m', centre_m - half_m - 20, centre_m + half_m + 20, (at_m, old) => old + by_m * about(at_m, centre_m, half_m))

/** The path as it was `later_m` before, about a place. */
const slide = (trajectory: Trajectory, centre_m: number, later_m: number): void => {
  const before = { ...trajectory, offset_m: Float64Array.from(trajectory.offset_m) }
  grid(trajectory, 'offset_m', centre_m - 60, centre_m + 60, (at_m) =>
    atTravel(before, before.offset_m, at_m - later_m * about(at_m, centre_m + later_m, 25)),
  )
}

const brakeOf = ({ pass }: Corner) => {
  if (!pass.brake) throw new Error('No brake in the plan')
  return pass.brake
}

const throttleAt = ({ pass }: Corner): number => pass.opening.first?.at_m ?? Number.NaN
/** Where the reference is at full throttle after a corner. */
const fullAt = ({ inputs: { travel_m, throttle } }: Trajectory, c: Corner): number => {
  const first = travel_m.findIndex((m, i) => m > throttleAt(c) && throttle[i] >= 0.97)
  return travel_m[first]
}
const press = (trajectory: Trajectory, from_m: number, to_m: number, brake_g: number): void => {
  inputs(trajectory, 'brake_g', from_m, to_m, () => brake_g)
  inputs(trajectory, 'drive_g', from_m, to_m, () => 0)
  inputs(trajectory, 'throttle', from_m, to_m, () => 0)
}

/** No brake until `later_m` past a place, and the speed of that place until then. */
const brakeLater = (trajectory: Trajectory, at_m: number, later_m: number, speed_mps: number): void => {
  press(trajectory, at_m - 4, at_m + later_m, 0)
  grid(trajectory, 'speed_mps', at_m, at_m + later_m + 4, () => speed_mps)
}

const open = (trajectory: Trajectory, from_m: number, to_m: number, share: (at_m: number) => number): void => {
  inputs(trajectory, 'throttle', from_m, to_m, ({ at_m }) => share(at_m))
  inputs(trajectory, 'drive_g', from_m, to_m, ({ at_m }) => 0.4 * share(at_m))
}

/** The slowest speed at another place, and a fifth of a second lost by it. */
const slowestAlong = (trajectory: Trajectory, c: Corner, by_m: number): void => {
  const before = { ...trajectory, speed_mps: Float64Array.from(trajectory.speed_mps) }
  grid(trajectory, 'speed_mps', c.frame.turnIn_m - 40, c.frame.apex_m + 60, (at_m) =>
    atTravel(before, before.speed_mps, at_m - by_m * about(at_m, c.pass.slowest_m + by_m, 15)),
  )
  trajectory.time_s = trajectory.time_s.map((t, i) => t + ((trajectory.first + i) * trajectory.step_m > c.frame.apex_m ? 0.2 : 0))
}

const gearFrom = (trajectory: Trajectory, from_m: number, to_m: number, by: number): void =>
  inputs(trajectory, 'gear', from_m, to_m, ({ old }) => old + by)

/** Each code: where, how the plan's lap is changed by a size, a size that is one, and one that just is not. */
const cases: [LogCode, Plan, string, Change, number, number][] = [
  ['brake-early', straight, 'T1', (w, c, m) => press(w, brakeOf(c).onset.at_m - m, brakeOf(c).onset.at_m + 4, brakeOf(c).peak_g), 18, 15],
  ['brake-late', straight, 'T1', (w, c, m) => brakeLater(w, brakeOf(c).onset.at_m, m, brakeOf(c).onset.speed_mps), 14, 10],
  [
    'brake-soft',
    straight,
    'T1',
    (w, c, share) => inputs(w, 'brake_g', brakeOf(c).onset.at_m - 5, c.frame.apex_m, ({ old }) => old * share),
    0.72,
    0.77,
  ],
  [
    'brake-slow-build',
    straight,
    'T1',
    (w, c, s) => {
      const { at_m, speed_mps } = brakeOf(c).onset
      inputs(w, 'brake_g', at_m, at_m + s * speed_mps, (f) => (f.old * (f.at_m - at_m)) / (s * speed_mps))
    },
    0.8,
    0.6,
  ],
  ['brake-split', straight, 'T1', (w, c, share) => press(w, 240, 250, share * brakeOf(c).peak_g), 0.2, 0.3],
  [
    'brake-over',
    straight,
    'T1',
    (w, c, share) => grid(w, 'speed_mps', c.frame.turnIn_m - 20, c.frame.apex_m + 40, (_, v) => v * (1 - share)),
    0.09,
    0.05,
  ],
  ['brake-hold', straight, 'T1', (w, c, s) => press(w, brakeOf(c).release.at_m - 3, brakeOf(c).release.at_m + s * 18, 0.08), 0.5, 0.25],
  [
    'brake-dump',
    straight,
    'T1',
    (w, c, s) => {
      const from_m = c.frame.turnIn_m + 4
      press(w, c.frame.turnIn_m - 8, from_m, brakeOf(c).peak_g)
      inputs(w, 'brake_g', from_m, from_m + s * 19, ({ at_m }) => brakeOf(c).peak_g * (1 - (at_m - from_m) / (s * 19)))
    },
    0.09,
    0.35,
  ],
  ['brake-in-turn', straight, 'T1', (w, c, s) => press(w, c.frame.turnIn_m - 4, c.frame.turnIn_m + s * 18.9, 0.15), 0.5, 0.2],
  ['no-trail', trail, 'T1', (w, c, s) => press(w, c.frame.turnIn_m - s * 28, c.frame.apex_m, 0), 0.7, 0.3],
  ['coast', trail, 'T1', (w, c, s) => press(w, brakeOf(c).release.at_m, brakeOf(c).release.at_m + s * 18.2, 0), 0.95, 0.55],
  ['setup-narrow', straight, 'T1', (w, c, m) => sideways(w, c.frame.turnIn_m, 12, -m), 1.8, 1.4],
  [
    'turn-in-early',
    straight,
    'T1',
    (w, c, m) => inputs(w, 'wheel_1pm', c.frame.turnIn_m - m, c.frame.turnIn_m + 6, () => -0.25 * c.frame.peak_1pm),
    8,
    4,
  ],
  [
    'turn-in-late',
    straight,
    'T1',
    (w, c, m) => inputs(w, 'wheel_1pm', c.frame.turnIn_m - 9, c.frame.turnIn_m + m, () => -0.1 * c.frame.peak_1pm),
    8,
    4,
  ],
  ['apex-early', straight, 'T1', (w, c, m) => slide(w, c.frame.apex_m, -m), 18, 8],
  ['apex-late', straight, 'T1', (w, c, m) => slide(w, c.frame.apex_m, m), 18, 8],
  ['apex-missed', straight, 'T1', (w, c, m) => sideways(w, c.frame.apex_m, 40, m), 1.5, 1.15],
  ['exit-unused', straight, 'T1', (w, c, m) => sideways(w, c.frame.exit_m ?? 0, 40, -m), 2.4, 1.9],
  ['exit-wide', straight, 'T1', (w, c, m) => sideways(w, c.frame.exit_m ?? 0, 25, m), 0.8, 0.45],
  ['limit-crossed', straight, 'T1', (w, c, m) => sideways(w, c.frame.apex_m, 10, -m), 0.95, 0.55],
  ['wrong-lane', paved, 'T1', (w, c, m) => sideways(w, c.frame.apex_m, 10, -m), 0.6, 0.25],
  ['too-much-road', compact, 'T1', (w, c, m) => sideways(w, c.frame.turnIn_m - 50, 15, m), 1.9, 1.4],
  [
    'steer-notched',
    straight,
    'T1',
    (w, c, share) =>
      inputs(w, 'wheel_1pm', 325, 345, ({ at_m, old }) => old + share * c.frame.peak_1pm * Math.max(0, 1 - Math.abs(at_m - 335) / 8)),
    0.25,
    0.05,
  ],
  [
    'steer-pinched',
    straight,
    'T1',
    (w, c, share) => inputs(w, 'wheel_1pm', c.frame.apex_m + 2, c.frame.apex_m + 22, ({ old }) => old - share * c.frame.peak_1pm),
    0.2,
    0.08,
  ],
  [
    'steer-caught',
    straight,
    'T1',
    (w, c, share) => inputs(w, 'wheel_1pm', c.frame.apex_m + 6, c.frame.apex_m + 11, () => share * c.frame.peak_1pm),
    0.15,
    0.05,
  ],
  [
    'throttle-early',
    straight,
    'T1',
    (w, c, dip) => {
      open(w, throttleAt(c) - 12, throttleAt(c) - 2, () => 0.3)
      open(w, throttleAt(c) - 2, throttleAt(c) + 6, () => 0.3 - dip)
    },
    0.25,
    0.1,
  ],
  ['throttle-late', straight, 'T1', (w, c, s) => open(w, throttleAt(c) - 3, throttleAt(c) + s * 18.2, () => 0.02), 0.6, 0.3],
  [
    'throttle-full-late',
    straight,
    'T11',
    // At first as much as a careful foot gives, and all of it later.
    (w, c, m) => {
      const [from_m, to_m] = [throttleAt(c), fullAt(w, c) + m]
      open(w, from_m, to_m, (at_m) => 0.1 + (0.8 * (at_m - from_m)) / (to_m - from_m))
    },
    35,
    5,
  ],
  [
    'throttle-short',
    straight,
    'T11',
    (w, c, s) => {
      const from_m = fullAt(w, c) + 30
      open(w, from_m, from_m + 40 * s, () => 0.86)
      w.time_s = w.time_s.map((t, i) => t + ((w.first + i) * w.step_m > from_m + 10 ? s / 15 : 0))
      w.inputs.time_s = w.inputs.travel_m.map((at_m) => atTravel(w, w.time_s, at_m))
    },
    2.5,
    0.3,
  ],
  [
    'throttle-dip',
    straight,
    'T1',
    (w, c, dip) => open(w, (c.frame.exit_m ?? 0) + 5, (c.frame.exit_m ?? 0) + 12, () => 1 - dip),
    0.25,
    0.12,
  ],
  [
    'throttle-jab',
    straight,
    'T1',
    (w, c, s) =>
      open(w, throttleAt(c) + 3, (c.frame.exit_m ?? 0) + 20, (m) => Math.min(0.95, 0.12 + (0.83 * (m - throttleAt(c) - 3)) / (s * 18.5))),
    0.2,
    0.6,
  ],
  ['lift-missing', kart, 'T7', (w, c, m) => open(w, c.frame.from_m, (c.pass.lift?.at_m ?? 0) + m, () => 1), 90, 4],
  [
    'lift-late',
    kart,
    'T7',
    (w, c, m) => {
      const { at_m, speed_mps } = c.pass.lift ?? { at_m: 0, speed_mps: 0 }
      open(w, at_m - 5, at_m + m, () => 1)
      grid(w, 'speed_mps', at_m, at_m + m + 4, () => speed_mps)
    },
    14,
    5,
  ],
  [
    'lift-early',
    kart,
    'T7',
    (w, c, m) => {
      const lift_m = c.pass.lift?.at_m ?? 0
      open(w, lift_m - m, lift_m, () => 0)
      // The lost speed shows at the apex.
      w.time_s = w.time_s.map((s, i) => s + ((w.first + i) * w.step_m > lift_m - m / 2 ? m / 200 : 0))
    },
    24,
    6,
  ],
  ['shift-early', straight, 'T1', (w, c, s) => gearFrom(w, (c.frame.exit_m ?? 0) - s * 22, (c.frame.exit_m ?? 0) + 6, 1), 0.8, 0.05],
  ['shift-late', straight, 'T1', (w, c, s) => gearFrom(w, c.frame.turnIn_m - 8, c.frame.turnIn_m - 8 + s * 20, 1), 1, 0.3],
  [
    'shift-slow',
    straight,
    'T1',
    (w, c, s) => {
      // Two changes down in the zone, the second by so much later.
      const { travel_m, time_s, gear } = w.inputs
      if (!gear) throw new Error('No gears')
      const downs = [...gear.keys()].filter(
        (i) => travel_m[i] > brakeOf(c).onset.at_m && travel_m[i] < c.frame.turnIn_m && gear[i] < gear[i - 1],
      )
      if (downs.length < 2) throw new Error('Fewer than two changes down')
      const [, second] = downs
      const before = gear[second - 1]
      for (let i = second; time_s[i] < time_s[second] + s; i++) gear[i] = before
    },
    0.6,
    0.2,
  ],
  ['slowest-early', straight, 'T7', (w, c, m) => slowestAlong(w, c, -m), 20, 3],
  ['slowest-late', straight, 'T2', (w, c, m) => slowestAlong(w, c, m), 20, 3],
  ['wrong-gear', straight, 'T1', (w, c, s) => gearFrom(w, c.frame.apex_m - s * 9, c.frame.apex_m + s * 9, 1), 1, 0.3],
]

describe('late', () => {
  const brake = brakeOf(reference(straight, 'T1'))

  it('is no mistake of a slower car, which has as much road left as the plan has at that speed', () => {
    // 14 m later, but at the speed that the plan has there by then.
    expect(codes(straight, 'T1', (w, c, m) => press(w, brakeOf(c).onset.at_m - 4, brakeOf(c).onset.at_m + m, 0), 14)).not.toContain(
      'brake-late',
    )
    const steady = codes(straight, 'T1', (w, c, m) => brakeLater(w, brakeOf(c).onset.at_m, m, brake.onset.speed_mps), 14)
    expect(steady).toContain('brake-late')
  })

  it('is what has to be made up by braking harder than the plan, at whatever speed', () => {
    const harder = codes(
      straight,
      'T1',
      (w, c, m) => {
        press(w, brakeOf(c).onset.at_m - 4, brakeOf(c).onset.at_m + m, 0)
        inputs(w, 'brake_g', brakeOf(c).onset.at_m + m, brakeOf(c).onset.at_m + 60, () => 1.3 * brake.peak_g)
      },
      14,
    )
    expect(harder).toContain('brake-late')
  })
})

describe('a corner driven as planned', () => {
  it.each(straight.corners.map((c) => c.id))('shows nothing in %s', (id) => {
    for (const plan of [straight, trail]) expect(codes(plan, id, () => {}, 0)).toEqual([])
  })
})

describe('each mistake that a log can show', () => {
  it('has its case here', () => {
    expect(new Set(cases.map(([code]) => code))).toEqual(new Set(logCodes))
  })

  it.each(cases)('%s is seen when it is there, with evidence', (code, plan, cornerId, change, size) => {
    const { found } = judged(plan, cornerId, change, size)
    const mistake = found.find((f) => f.code === code)
    expect(found.map((f) => f.code)).toContain(code)
    expect(Object.values(mistake?.evidence ?? {}).length).toBeGreaterThan(0)
    for (const value of Object.values(mistake?.evidence ?? {})) expect(Number.isFinite(value)).toBe(true)
    expect(mistake?.certainty).toBeGreaterThan(0.5)
    expect(mistake?.to_m).toBeGreaterThanOrEqual(mistake?.from_m ?? 0)
  })

  it.each(cases)('%s is not seen just within its bound', (code, plan, cornerId, change, _size, small) => {
    expect(codes(plan, cornerId, change, small)).not.toContain(code)
  })
})

describe('thresholds of a school', () => {
  const about = (code: LogCode): OwnThreshold[] =>
    (Object.keys(ownThresholds) as OwnThreshold[]).filter((name) => (ownThresholds[name] as readonly string[]).includes(code))
  /** Hardest braking and the shares of time in which something falls or opens excuse more the smaller they are. */
  const excusesBelow: readonly OwnThreshold[] = ['softPeak', 'dump_s', 'jab_s']
  const mild = (code: LogCode): OwnThresholds =>
    Object.fromEntries(about(code).map((name) => [name, thresholdRange(name)[excusesBelow.includes(name) ? 0 : 1]]))

  /** These are made larger than any school may excuse. */
  const beyond: readonly LogCode[] = ['brake-dump', 'exit-wide', 'throttle-early']
  it.each(cases.filter(([code]) => about(code).length > 0 && !beyond.includes(code)))(
    'excuse %s where they are as mild as can be',
    (code, plan, cornerId, change, size) => {
      expect(codes(plan, cornerId, change, size)).toContain(code)
      const { found } = judged(plan, cornerId, change, size, fine, mild(code))
      expect(found.map((f) => f.code)).not.toContain(code)
    },
  )

  it('find what the usual ones let pass, and tell what was allowed', () => {
    const early: Change = (w, c, m) => press(w, brakeOf(c).onset.at_m - m, brakeOf(c).onset.at_m + 4, brakeOf(c).peak_g)
    expect(codes(straight, 'T1', early, 12)).not.toContain('brake-early')
    const { found } = judged(straight, 'T1', early, 12, fine, { brakeEarly_m: 4, brakeEarly_s: 0.14 })
    const mistake = found.find((f) => f.code === 'brake-early')
    expect(mistake?.evidence.allowed_m).toBeGreaterThan(-9)
    expect(mistake?.evidence.allowed_m).toBeLessThan(-4)
  })

  it('hold within their range only', () => {
    expect(thresholdsOf({})).toEqual(t)
    expect(thresholdsOf({ turnIn_m: 9 })).toEqual({ ...t, turnIn_m: 9 })
    expect(thresholdsOf({ turnIn_m: 0.1, dip: Number.NaN, hold_s: 99 })).toEqual(t)
    for (const name of Object.keys(ownThresholds) as OwnThreshold[]) {
      const [min, max] = thresholdRange(name)
      expect(min).toBeLessThan(t[name])
      expect(max).toBeGreaterThan(t[name])
    }
  })
})

describe('where a brake ends', () => {
  /** A log whose noise lets a lighter touch count than a release. */
  const light: Change = (trajectory, corner, until_m) => {
    trajectory.brakeTouch_g = 0.02
    const release_m = brakeOf(corner).release.at_m
    press(trajectory, release_m - 1, release_m + until_m, 0.03)
  }

  it('is where it last falls below a release, not where a resting foot leaves the pedal', () => {
    const { pass, found } = judged(straight, 'T1', light, 40)
    expect(pass.brake?.release.at_m).toBeCloseTo(brakeOf(reference(straight, 'T1')).release.at_m, -1)
    expect(found.map((f) => f.code)).not.toContain('brake-hold')
  })

  it('is its own end, also past where the corner is looked at', () => {
    const held: Change = (trajectory, corner) => press(trajectory, brakeOf(corner).release.at_m - 3, corner.frame.apex_m + 60, 0.4)
    const { pass } = judged(straight, 'T1', held, 0)
    expect(pass.brake?.release.at_m).toBeGreaterThan(reference(straight, 'T1').frame.apex_m + 55)
    expect(pass.brake?.fall_s).toBeGreaterThan(0)
  })
})

describe('a brake that is let go and pressed again', () => {
  /** The brake is on sooner, gone for half a second while the speed is held, and on again at the plan's mark. */
  const twice: Change = (trajectory, corner, gained_mps) => {
    const { at_m, speed_mps } = brakeOf(corner).onset
    press(trajectory, at_m - 1.2 * speed_mps, at_m - 0.5 * speed_mps, brakeOf(corner).peak_g)
    grid(
      trajectory,
      'speed_mps',
      at_m - 0.5 * speed_mps,
      at_m,
      (m, old) => old + (gained_mps * (m - at_m + 0.5 * speed_mps)) / (0.5 * speed_mps),
    )
    inputs(trajectory, 'drive_g', at_m - 0.5 * speed_mps, at_m - 2, () => 0.1)
  }

  it('is one braking where the car only kept its speed between', () => {
    const kept: Change = (trajectory, corner) => {
      const { at_m, speed_mps } = brakeOf(corner).onset
      twice(trajectory, corner, 0)
      grid(trajectory, 'speed_mps', at_m - 0.5 * speed_mps, at_m + 2, () => speed_mps - 4)
    }
    const shown = codes(straight, 'T1', kept, 0)
    expect(shown).toContain('brake-early')
    expect(shown).toContain('brake-split')
  })

  it('is two where it was driven on between: the first was for nothing', () => {
    expect(codes(straight, 'T1', twice, 3)).not.toContain('brake-early')
  })
})

describe('where a noisy wheel is turned in', () => {
  const time_s = Float64Array.from({ length: 200 }, (_, i) => i / 50)
  const travel_m = time_s.map((s) => 20 * s)
  const wheel = (shake_1pm: number): Trajectory => {
    const trajectory = ownLap(straight)
    // Rises through the level of 0.002 at 40 m.
    const wheel_1pm = travel_m.map((m, i) => 0.002 + 0.0001 * (m - 40) + (i % 2 === 0 ? shake_1pm : -shake_1pm))
    return { ...trajectory, inputs: { ...trajectory.inputs, time_s, travel_m, wheel_1pm } }
  }

  it('is neither sooner nor later than where a quiet one is', () => {
    expect(turnInOf(wheel(0), 1, 0.002, 0, 70)).toBeCloseTo(40, 6)
    expect(Math.abs((turnInOf(wheel(0.0004), 1, 0.002, 0, 70, 0.0003) ?? 0) - 40)).toBeLessThan(1)
    expect(turnInOf(wheel(0.0004), 1, 0.002, 0, 70)).toBeGreaterThan(42)
  })

  it('is nowhere where it is not kept', () => {
    const trajectory = wheel(0)
    trajectory.inputs.wheel_1pm = travel_m.map((m) => (m > 40 && m < 46 ? 0.003 : 0))
    expect(turnInOf(trajectory, 1, 0.002, 0, 70, 0.0001)).toBeNull()
  })
})

describe('a wheel held after the apex', () => {
  const { frame } = reference(straight, 'T1')
  const beside = referencePlan(straight).trajectory

  it('is not one that is opened as the reference’s, but later', () => {
    const later: Change = (trajectory, { frame: { apex_m } }, by_m) =>
      inputs(trajectory, 'wheel_1pm', apex_m, apex_m + 80, ({ at_m }) => wheelAt(beside, at_m - by_m))
    const beyond_1pm = wheelAt(beside, frame.apex_m + 30) - wheelAt(beside, frame.apex_m + 40)
    expect(Math.abs(beyond_1pm)).toBeGreaterThan(t.pinch * frame.peak_1pm)
    expect(codes(straight, 'T1', later, 10)).not.toContain('steer-pinched')
  })

  it('is one that stays where it is while the reference’s opens', () => {
    const held: Change = (trajectory, { frame: { apex_m } }) => {
      const kept_1pm = wheelAt(trajectory, apex_m + 10)
      inputs(trajectory, 'wheel_1pm', apex_m + 10, apex_m + 40, () => kept_1pm)
    }
    expect(codes(straight, 'T1', held, 0)).toContain('steer-pinched')
  })
})

describe('what a log cannot tell', () => {
  const noisy: LogQuality = { ...fine, interval_s: 0.1, offsetNoise_m: 0.3, drift_m: 0.8 }
  const missed = cases.find(([code]) => code === 'apex-missed')?.[3] ?? (() => {})

  it('widens each threshold by two standard errors', () => {
    const uncertainty = uncertaintyOf(noisy, 'plan')
    expect(uncertainty.offset_m(0)).toBeCloseTo(2 * Math.hypot(0.3, (1.25 * 0.8) / 2), 9)
    expect(uncertaintyOf(noisy, 'lap').offset_m(0)).toBeCloseTo(2 * Math.SQRT2 * 0.3, 9)
    expect(uncertainty.offset_m(6)).toBeGreaterThan(uncertainty.offset_m(2))
    expect(codes(straight, 'T1', missed, 1.5, noisy)).not.toContain('apex-missed')
    expect(codes(straight, 'T1', missed, 4, noisy)).toContain('apex-missed')
  })

  it('is said instead of guessed where the noise is three times the threshold', () => {
    const hopeless: LogQuality = { ...fine, offsetNoise_m: 1.5 }
    const outcome = judged(straight, 'T1', missed, 4, hopeless)
    expect(outcome.undecidable).toContain('apex-missed')
    expect(outcome.found.map((f) => f.code)).not.toContain('apex-missed')
    expect(judged(straight, 'T1', missed, 4).undecidable).toEqual([])
  })

  it('is said of an edge too, which has no threshold of its own', () => {
    const rough: LogQuality = { ...fine, offsetNoise_m: 0.3 }
    const crossed = cases.find(([code]) => code === 'limit-crossed')?.[3] ?? (() => {})
    expect(judged(straight, 'T1', crossed, 0.95, rough).undecidable).toContain('limit-crossed')
    expect(judged(straight, 'T1', crossed, 3, rough).undecidable).not.toContain('limit-crossed')
    expect(judged(straight, 'T1', crossed, 0.55).undecidable).not.toContain('limit-crossed')
  })

  it('is said of a brake that falls between two samples', () => {
    const dropped = cases.find(([code]) => code === 'brake-dump')?.[3] ?? (() => {})
    expect(judged(straight, 'T1', dropped, 0.04, { ...fine, interval_s: 0.15 }).undecidable).toContain('brake-dump')
    expect(codes(straight, 'T1', dropped, 0.04)).toContain('brake-dump')
  })

  it('never makes a mistake appear that a fine log does not show', () => {
    for (const [, plan, cornerId, change, size] of cases) {
      const seen = codes(plan, cornerId, change, size)
      const wrong = codes(plan, cornerId, change, size, noisy).filter((code) => !seen.includes(code))
      // Where the noise hides that the car came in faster, braking in the turn is told as holding on to the brake.
      expect(wrong.filter((code) => code !== 'brake-hold')).toEqual([])
    }
  })
})

describe('the root', () => {
  it('is one, and explains what the graph leads to', () => {
    const all = (w: Trajectory, c: Corner): void => {
      for (const code of ['turn-in-early', 'apex-early', 'exit-wide'] as const) {
        const found = cases.find(([name]) => name === code)
        found?.[3](w, c, found[4])
      }
    }
    const rooted = rootOf(judged(straight, 'T1', all, 1).found)
    expect(rooted.filter((f) => f.root).map((f) => f.code)).toEqual(['turn-in-early'])
    expect(rooted.find((f) => f.code === 'apex-early')?.because).toBe('turn-in-early')
  })

  it('is none where nothing was found', () => {
    expect(rootOf([])).toEqual([])
  })

  it('of a soft brake that is also slow is the one further past its bound', () => {
    const both: Change = (w, c, share) => {
      cases.find(([code]) => code === 'brake-slow-build')?.[3](w, c, 0.75)
      inputs(w, 'brake_g', brakeOf(c).onset.at_m - 5, c.frame.apex_m, ({ old }) => old * share)
    }
    expect(codes(straight, 'T1', both, 0.3).filter((code) => code === 'brake-soft' || code === 'brake-slow-build')).toEqual(['brake-soft'])
    expect(t.softPeak).toBe(0.75)
  })
})
