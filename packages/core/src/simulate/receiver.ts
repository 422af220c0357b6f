import { seededRandom } from '../units/random.ts'

/** Errors of a simulated receiver: the size (1σ) of a slow drift and of a quick jitter (m). */
export type ReceiverNoise = { wander_m: number; jitter_m: number }

/** A receiver with corrections, as used for setting things out. */
const surveyReceiver: ReceiverNoise = { wander_m: 0.12, jitter_m: 0.03 }

/** Slow waves of the wander: periods (s) that share no multiple. */
const PERIODS_S = [47, 71, 113] as const

/**
 * What a simulated receiver shows for a true place at a time: the place with a slow wander (three waves with seeded
 * phases) and a quick jitter. The same seed and time give the same answer.
 */
export const receiverAt = (
  truth: { x_m: number; y_m: number },
  time_s: number,
  seed: number,
  noise: ReceiverNoise = surveyReceiver,
): { x_m: number; y_m: number } => {
  const phases = seededRandom(seed)
  const wave = (): number => {
    let sum = 0
    for (const period of PERIODS_S) sum += Math.sin(2 * Math.PI * (time_s / period + phases.uniform()))
    return (sum * noise.wander_m) / Math.sqrt(PERIODS_S.length / 2)
  }
  const quick = seededRandom(seed ^ Math.round(time_s * 1000))
  const [east, north] = [wave(), wave()]
  return { x_m: truth.x_m + east + noise.jitter_m * quick.normal(), y_m: truth.y_m + north + noise.jitter_m * quick.normal() }
}
