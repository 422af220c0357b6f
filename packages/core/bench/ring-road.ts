import type { Survey } from '../src/index.ts'

/** A ring road of a length with a corner about every 250 m, alternating, with hills. */
export const ringRoad = (length_km: number): Survey => {
  const lobes = Math.round(2 * length_km)
  // A wave of amplitude a on a circle of radius R lengthens it; a little less radius makes up for it.
  const radius_m = (0.8 * 1000 * length_km) / (2 * Math.PI)
  const amplitude_m = Math.min(62, 0.3 * radius_m)
  const n = Math.round((1000 * length_km) / 5)
  const at = (i: number) => (2 * Math.PI * i) / n
  const r = (a: number): number => radius_m + amplitude_m * Math.sin(lobes * a) * (1 + 0.2 * Math.sin(3 * a))
  const column = (value: (a: number) => number): Float64Array => Float64Array.from({ length: n }, (_, i) => value(at(i)))
  return {
    name: 'ring road',
    x_m: column((a) => r(a) * Math.cos(a)),
    y_m: column((a) => r(a) * Math.sin(a)),
    z_m: column((a) => 8 * Math.sin(Math.ceil(length_km) * a)),
    widthLeft_m: column(() => 6),
    widthRight_m: column(() => 6),
    bank_rad: column((a) => 0.02 * Math.sin(7 * a)),
  }
}
