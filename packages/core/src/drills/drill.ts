import { GRAVITY_MPS2 } from '../units/constants.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'

/** Exercises on the pad. `circle-corner`: round a circle and out again at the one cone by which one came in; `skid`: an axle without its grip. */
export const drillKinds = ['braking-box', 'slalom', 'circle', 'figure-of-eight', 'lane-change', 'circle-corner', 'skid'] as const
export type DrillKind = (typeof drillKinds)[number]

/** Result of an attempt, logged by one touch. The first one is the aim. */
export const drillResults = {
  'braking-box': ['in-box', 'short', 'over'],
  slalom: ['clean', 'cone', 'off-line'],
  circle: ['in-band', 'slow', 'pushed-wide'],
  'figure-of-eight': ['in-band', 'slow', 'pushed-wide'],
  'lane-change': ['clean', 'cone', 'slid'],
  'circle-corner': ['in-band', 'pushed-wide', 'cone'],
  skid: ['caught', 'pushed-wide', 'spun'],
} as const satisfies Record<DrillKind, readonly string[]>
export type DrillResult = (typeof drillResults)[DrillKind][number]

/** Sizes of an exercise (m), and the speed it is entered at where that is set (m/s). */
export type DrillSizes = { radius_m: number; spacing_m: number; amplitude_m: number; entry_mps: number }

/** Targets of an exercise at some grip: speed (m/s), and the time or length that goes with it where there is one. */
export type DrillTarget = { speed_mps: number; time_s: number | null; stop_m: number | null }

/** Usual sizes: each fits the usual pad with the room that it needs. */
export const defaultSizes: DrillSizes = { radius_m: 12, spacing_m: 12, amplitude_m: 1.5, entry_mps: 50 / 3.6 }

/** Friction of a vehicle, and the hardest that it can brake. */
export type DrillGrip = Pick<Vehicle, 'muX' | 'muY' | 'maxBrake_mps2'>

/** Axles from which grip can be taken. */
export const axles = ['front', 'rear'] as const
export type Axle = (typeof axles)[number]
/** Shares of its grip that an axle is left with in a skid exercise, step by step. */
export const gripSteps = [1, 0.8, 0.6, 0.45] as const

/**
 * Demands of an exercise on a vehicle. `share`: how much of the friction is to be used, times what the surface leaves. Braking box:
 * length to stop from the entry speed, v²/(2a), a the friction along the road or the brakes' limit. Slalom: speed at which the peak of a
 * sinusoid, v²·A·(π/L)², meets the grip; a lane change is one such half-wave each way. Circles: √(μ g R) and the time round; on a skid
 * exercise the axle with the least grip gives way first. Source: kinematics; a flat surface.
 */
export const drillTarget = (
  kind: DrillKind,
  grip: DrillGrip,
  share: number,
  sizes: DrillSizes = defaultSizes,
  axleShare = 1,
): DrillTarget => {
  const across_mps2 = grip.muY * share * GRAVITY_MPS2
  if (kind === 'braking-box') {
    const along_mps2 = Math.min(grip.maxBrake_mps2, grip.muX * share * GRAVITY_MPS2)
    return { speed_mps: sizes.entry_mps, time_s: sizes.entry_mps / along_mps2, stop_m: sizes.entry_mps ** 2 / (2 * along_mps2) }
  }
  if (kind === 'slalom' || kind === 'lane-change') {
    const amplitude_m = kind === 'lane-change' ? 2 * sizes.amplitude_m : sizes.amplitude_m
    return { speed_mps: (sizes.spacing_m / Math.PI) * Math.sqrt(across_mps2 / amplitude_m), time_s: null, stop_m: null }
  }
  const speed_mps = Math.sqrt(across_mps2 * (kind === 'skid' ? axleShare : 1) * sizes.radius_m)
  const around_m = 2 * Math.PI * sizes.radius_m * (kind === 'figure-of-eight' ? 2 : 1)
  return { speed_mps, time_s: around_m / speed_mps, stop_m: null }
}
