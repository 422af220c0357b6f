import { feet, kmh, mph } from './convert.ts'

/** Which units a person reads. Inside the core all is SI. */
export const unitSystems = ['metric', 'imperial'] as const
export type UnitSystem = (typeof unitSystems)[number]

/** A lap time as m:ss.mmm, rounded to so many decimals. `formatLapTime(91.2345)` is `'1:31.235'`; NaN gives '–'. */
export const formatLapTime = (time_s: number, decimals = 3): string => {
  if (!Number.isFinite(time_s)) return '–'
  const scale = 10 ** decimals
  const units = Math.round(time_s * scale)
  const minutes = Math.floor(units / (60 * scale))
  const rest = ((units - minutes * 60 * scale) / scale).toFixed(decimals).padStart(decimals === 0 ? 2 : decimals + 3, '0')
  return `${minutes}:${rest}`
}

/** A difference of time in seconds with sign and two decimals: `'+0.12 s'`, `'−0.30 s'`. */
export const formatDifference = (time_s: number): string => {
  const text = Math.abs(time_s).toFixed(2)
  const sign = text === '0.00' ? '±' : time_s < 0 ? '−' : '+'
  return `${sign}${text} s`
}

/** A speed, whole, with unit: `formatSpeed(27.8, 'metric')` is `'100 km/h'`. */
export const formatSpeed = (speed_mps: number, units: UnitSystem): string =>
  units === 'metric' ? `${Math.round(kmh(speed_mps))} km/h` : `${Math.round(mph(speed_mps))} mph`

/** A distance, whole, with unit: metres or feet. */
export const formatDistance = (length_m: number, units: UnitSystem): string =>
  units === 'metric' ? `${Math.round(length_m)} m` : `${Math.round(feet(length_m))} ft`

/** How measures are written for one reader: their units, and the decimal sign of their language. Signs are left to the words. */
export type Measures = {
  /** Metres or feet, whole. */
  metres: (m: number | undefined) => string
  /** The same with a decimal. */
  fine: (m: number | undefined) => string
  speed: (mps: number | undefined) => string
  /** A difference of speeds in steps of five, at least five. */
  speedStep: (mps: number) => string
  /** With so many decimals, one where not given. */
  seconds: (s: number | undefined, decimals?: number) => string
  percent: (share: number | undefined) => string
}

/** Measures for a reader. */
export const measuresFor = (units: UnitSystem, comma = false): Measures => {
  const sign = (text: string): string => (comma ? text.replace('.', ',') : text)
  const length = (m: number): number => (units === 'metric' ? m : feet(m))
  const [short, fast] = units === 'metric' ? ['m', 'km/h'] : ['ft', 'mph']
  const speed = (v: number): number => (units === 'metric' ? kmh(v) : mph(v))
  return {
    metres: (m = 0) => `${Math.abs(length(m)).toFixed(0)} ${short}`,
    fine: (m = 0) => sign(`${Math.abs(length(m)).toFixed(1)} ${short}`),
    speed: (v = 0) => `${Math.round(speed(v))} ${fast}`,
    speedStep: (v) => `${Math.max(5, 5 * Math.round(speed(v) / 5))} ${fast}`,
    seconds: (s = 0, decimals = 1) => sign(`${Math.abs(s).toFixed(decimals)} s`),
    percent: (share = 0) => `${Math.round(100 * share)} %`,
  }
}
