import { GRAVITY_MPS2 } from '../units/constants.ts'

/** Exercises on the pad. */
export const drillKinds = ['braking-box', 'slalom', 'circle', 'figure-of-eight', 'lane-change'] as const
export type DrillKind = (typeof drillKinds)[number]

/** Result of an attempt, logged by one touch. The first one is the aim. */
export const drillResults = {
  'braking-box': ['in-box', 'short', 'over'],
  slalom: ['clean', 'cone', 'off-line'],
  circle: ['in-band', 'slow', 'pushed-wide'],
  'figure-of-eight': ['in-band', 'slow', 'pushed-wide'],
  'lane-change': ['clean', 'cone', 'slid'],
} as const satisfies Record<DrillKind, readonly string[]>
export type DrillResult = (typeof drillResults)[DrillKind][number]

/** Sizes of an exercise (m), and the speed it is entered at where that is set (m/s). */
export type DrillSizes = { radius_m: number; spacing_m: number; amplitude_m: number; entry_mps: number }

/** Targets of an exercise at some grip: speed (m/s), and the time or length that goes with it where there is one. */
export type DrillTarget = { speed_mps: number; time_s: number | null; stop_m: number | null }

/** Usual sizes: they fit a pad of 90 × 60 m. */
export const defaultSizes: DrillSizes = { radius_m: 20, spacing_m: 18, amplitude_m: 1.5, entry_mps: 50 / 3.6 }

/**
 * Demands of an exercise on a vehicle. `mu`: friction of tyre and surface; `share`: how much of it is to be used. Braking box:
 * length to stop from the entry speed, v²/(2μg). Slalom: speed at which the peak of a sinusoid, v²·A·(π/L)², meets the grip; a
 * lane change is one such half-wave each way. Circle and figure of eight: √(μ g R) and the time round. Source: kinematics; a
 * flat surface.
 */
export const drillTarget = (kind: DrillKind, mu: number, share: number, sizes: DrillSizes = defaultSizes): DrillTarget => {
  const grip_mps2 = mu * share * GRAVITY_MPS2
  if (kind === 'braking-box')
    return { speed_mps: sizes.entry_mps, time_s: sizes.entry_mps / grip_mps2, stop_m: sizes.entry_mps ** 2 / (2 * grip_mps2) }
  if (kind === 'slalom' || kind === 'lane-change') {
    const amplitude_m = kind === 'lane-change' ? 2 * sizes.amplitude_m : sizes.amplitude_m
    return { speed_mps: (sizes.spacing_m / Math.PI) * Math.sqrt(grip_mps2 / amplitude_m), time_s: null, stop_m: null }
  }
  const speed_mps = Math.sqrt(grip_mps2 * sizes.radius_m)
  const around_m = 2 * Math.PI * sizes.radius_m * (kind === 'circle' ? 1 : 2)
  return { speed_mps, time_s: around_m / speed_mps, stop_m: null }
}
