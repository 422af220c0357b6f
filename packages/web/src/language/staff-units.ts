import { feet, kmh, measuresFor, mph, readerWords, type UnitSystem } from '@ochote/core'
import { say, staffLanguage } from './say.ts'

const KEPT = 'ochote.units'

const kept = (): UnitSystem => (globalThis.localStorage?.getItem(KEPT) === 'imperial' ? 'imperial' : 'metric')

/** Units of the staff's pages on this device, as the school has chosen them; read once, so that all of a page agrees. */
export const staffUnits: UnitSystem = kept()

/** The school's choice for this device; true where pages have to be read anew for it. */
export const keepStaffUnits = (units: UnitSystem): boolean => {
  if (kept() === units) return false
  localStorage.setItem(KEPT, units)
  return true
}

/** Lengths and speeds as the staff's pages write them: whole, and lengths with a decimal. */
export const { metres, fine: fineMetres, speed: speedInWords } = measuresFor(staffUnits, readerWords(staffLanguage).numbers)

/** Names of the units and the numbers in them, where a chart or a scale writes them apart. */
export const lengthUnit = staffUnits === 'metric' ? 'm' : 'ft'
export const speedUnit = staffUnits === 'metric' ? 'km/h' : 'mph'
export const lengthOf = (length_m: number): number => (staffUnits === 'metric' ? length_m : feet(length_m))
/** Metres of a length in the staff's units. */
export const lengthFrom = (length: number): number => (staffUnits === 'metric' ? length : length / feet(1))
/** A short length as exactly as it can be laid or read. */
export const exactMetres = (length_m: number): string =>
  staffUnits === 'metric' ? say`${length_m.toFixed(2)} m` : say`${feet(length_m).toFixed(1)} ft`
export const speedOf = (speed_mps: number): number => (staffUnits === 'metric' ? kmh(speed_mps) : mph(speed_mps))
