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
