export { AIR_DENSITY_KGPM3, GRAVITY_MPS2 } from './constants.ts'
export { degrees, feet, kmh, mph, radians } from './convert.ts'
export {
  formatDate,
  formatDifference,
  formatDistance,
  formatLapTime,
  formatSpeed,
  type Measures,
  measuresFor,
  type UnitSystem,
  unitSystems,
} from './format.ts'
export { type Language, languages } from './language.ts'
export { nearestPairs } from './nearest-pairs.ts'
export { type Random, seededRandom } from './random.ts'
