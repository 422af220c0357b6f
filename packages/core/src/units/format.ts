import { feet, kmh, mph } from './convert.ts'
import type { Language } from './language.ts'

/** Which units a person reads. Inside the core all is SI. */
export const unitSystems = ['metric', 'imperial'] as const
export type UnitSystem = (typeof unitSystems)[number]

/** A lap time as m:ss.mmm, rounded to `decimals`. `formatLapTime(91.2345)` is `'1:31.235'`; NaN gives '–'. */
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

/** Number style of a language: the decimal sign, and what follows a percentage. */
export type NumberStyle = { decimal: '.' | ','; percent: string }

/** Formatting of measures for one reader: their units, and the number style of their language. Signs are left to the words. */
export type Measures = {
  /** Metres or feet, whole. */
  metres: (m: number) => string
  /** The same with a decimal. */
  fine: (m: number) => string
  /** Change of a place: whole metres or feet, at least the length of a metre. */
  atLeastOne: (m: number) => string
  speed: (mps: number) => string
  /** A difference of speeds in steps of five, at least five. */
  speedStep: (mps: number) => string
  /** With a number of decimals, 1 by default. */
  seconds: (s: number, decimals?: number) => string
  percent: (share: number) => string
}

/** Measures for a reader. */
export const measuresFor = (units: UnitSystem, style: NumberStyle = { decimal: '.', percent: '%' }): Measures => {
  const number = (value: number, decimals: number): string => Math.abs(value).toFixed(decimals).replace('.', style.decimal)
  const length = (m: number): number => (units === 'metric' ? m : feet(m))
  const [short, fast] = units === 'metric' ? ['m', 'km/h'] : ['ft', 'mph']
  const speed = (v: number): number => (units === 'metric' ? kmh(v) : mph(v))
  const metres = (m: number): string => `${number(length(m), 0)} ${short}`
  return {
    metres,
    fine: (m) => `${number(length(m), 1)} ${short}`,
    atLeastOne: (m) => metres(Math.max(1, m)),
    speed: (v) => `${Math.round(speed(v))} ${fast}`,
    speedStep: (v) => `${Math.max(5, 5 * Math.round(speed(v) / 5))} ${fast}`,
    seconds: (s, decimals = 1) => `${number(s, decimals)} s`,
    percent: (share) => formatPercent(share, style),
  }
}

/** A fraction as a whole percentage: `formatPercent(0.6)` is `'60%'`. */
export const formatPercent = (share: number, style: NumberStyle = { decimal: '.', percent: '%' }): string =>
  `${Math.round(100 * share)}${style.percent}`

const dates: Record<Language, Intl.DateTimeFormat> = {
  en: new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' }),
  de: new Intl.DateTimeFormat('de', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' }),
}

/** A date of the calendar as a reader of a language writes it. @param date yyyy-mm-dd; anything else comes back as it is */
export const formatDate = (date: string, language: Language = 'en'): string =>
  /^\d{4}-\d{2}-\d{2}$/.test(date) ? dates[language].format(new Date(`${date}T00:00:00Z`)) : date
