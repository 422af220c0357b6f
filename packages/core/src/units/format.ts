import { feet, kmh, mph } from './convert.ts'

/** Which units a person reads. Inside the core all is SI. */
export type UnitSystem = 'metric' | 'imperial'

/** A lap time as m:ss.mmm, rounded to the millisecond. `formatLapTime(91.2345)` is `'1:31.235'`; NaN gives '–'. */
export const formatLapTime = (time_s: number): string => {
  if (!Number.isFinite(time_s)) return '–'
  const ms = Math.round(time_s * 1000)
  const minutes = Math.floor(ms / 60000)
  const rest = ((ms - minutes * 60000) / 1000).toFixed(3).padStart(6, '0')
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
