import { fastNoise } from '../log/smooth.ts'
import { degrees } from '../units/convert.ts'

/**
 * How an accelerometer sits in its car, found by comparing it with the car's own speed. `turned_deg`: its first axis from the car's
 * length, counted to the left; `scale`: what its readings have to be multiplied by; `offset_g`: what it shows at rest.
 */
export type Mounting = { turned_deg: number; scale: number; offset_g: number }

/** The car's own acceleration along it (g, slope included as it is felt), by how much that errs (g, 1σ), and the mounting. */
export type FeltAcceleration = { along_g: Float64Array; noise_g: number; mounting: Mounting }

/** Readings are averaged over this long to either side (s): engine and road shake faster. */
const SHAKE_HALF_S = 0.08
/** Share of what speeds show that a reading has to follow to be one of acceleration. */
const FOLLOWS = 0.75
/** Fewer readings than this, or slower ones than these, tell nothing that positions do not (readings, s). */
const TELLS = { readings: 200, interval_s: 0.12 } as const

type Readings = { time_s: Float64Array; first: Float64Array; second: Float64Array | undefined }

/** Running mean over a time to either side. */
const averaged = (time_s: Float64Array, column: Float64Array, half_s: number): Float64Array => {
  const n = column.length
  const out = new Float64Array(n)
  let from = 0
  let to = 0
  let sum = 0
  for (let i = 0; i < n; i++) {
    while (to < n && time_s[to] <= time_s[i] + half_s) sum += column[to++]
    while (time_s[from] < time_s[i] - half_s) sum -= column[from++]
    out[i] = sum / (to - from)
  }
  return out
}

const mean = (column: Float64Array): number => column.reduce((sum, v) => sum + v, 0) / column.length

/**
 * What a car felt along it, out of an accelerometer that may be mounted anyhow: unit, sign, angle and offset are those by which its
 * two readings follow the car's speed best (least squares over `half_s`, as the speed's own acceleration `known_g` was smoothed). Null
 * where they do not follow it.
 */
export const feltAcceleration = ({ time_s, first, second }: Readings, known_g: Float64Array, half_s: number): FeltAcceleration | null => {
  const n = time_s.length
  const interval_s = (time_s[n - 1] - time_s[0]) / Math.max(1, n - 1)
  if (n < TELLS.readings || interval_s > TELLS.interval_s) return null
  const slow = averaged(time_s, first, half_s)
  const slowSecond = second ? averaged(time_s, second, half_s) : new Float64Array(n)
  const [m1, m2, mk] = [mean(slow), mean(slowSecond), mean(known_g)]
  let [s11, s12, s22, k1, k2, kk] = [0, 0, 0, 0, 0, 0]
  for (let i = 0; i < n; i++) {
    const [a, b, k] = [slow[i] - m1, slowSecond[i] - m2, known_g[i] - mk]
    s11 += a * a
    s12 += a * b
    s22 += b * b
    k1 += a * k
    k2 += b * k
    kk += k * k
  }
  const determinant = s11 * s22 - s12 * s12
  const both = second !== undefined && determinant > 1e-6 * s11 * s22
  const c1 = both ? (k1 * s22 - k2 * s12) / determinant : s11 > 0 ? k1 / s11 : 0
  const c2 = both ? (k2 * s11 - k1 * s12) / determinant : 0
  const offset = mk - c1 * m1 - c2 * m2
  if (!(c1 * k1 + c2 * k2 > FOLLOWS * kk)) return null
  const raw = first.map((a, i) => c1 * a + c2 * (second?.[i] ?? 0) + offset)
  const size = Math.hypot(c1, c2)
  return {
    along_g: averaged(time_s, raw, SHAKE_HALF_S),
    noise_g: fastNoise(raw) / Math.sqrt(Math.max(1, (2 * SHAKE_HALF_S) / interval_s)),
    mounting: { turned_deg: degrees(Math.atan2(c2, c1)), scale: size, offset_g: -offset },
  }
}
