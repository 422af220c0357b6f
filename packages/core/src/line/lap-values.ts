import { type LapModel, PER_STATION } from './lap-model.ts'

/** The gap of an open course: bounds of its idle offset and drive, and of the speed at the start; the rest always holds. */
const fillGap = ({ bounds, entryU }: LapModel, x: Float64Array, c: Float64Array, i: number, uj: number): void => {
  const d = x[3 * i + 2]
  const at = PER_STATION * i
  c[at] = x[3 * i] - bounds.low_m[i]
  c[at + 1] = bounds.high_m[i] - x[3 * i]
  c[at + 2] = d
  c[at + 3] = 2 - d
  c[at + 4] = entryU - uj
  c[at + 5] = 1
  c[at + 6] = 1
  c[at + 7] = 1
}

/** Moves the path to x and fills in the constraint values there; returns the cost (s), or NaN where there is no lap. */
export const lapValues = (model: LapModel, x: Float64Array, c: Float64Array): number => {
  const { n, bounds, polygon, road, limit, power2, drag, rolling, smoothing, perMetre_s } = model
  const { length_m: length, kappa_1pm: kappa } = polygon
  polygon.layOut(x, 3)
  let cost = 0
  for (let i = 0; i < n; i++) {
    const j = i + 1 === n ? 0 : i + 1
    const ui = x[3 * i + 1]
    const uj = x[3 * j + 1]
    if (!(ui > 0 && uj > 0)) return Number.NaN
    if (model.isGap(i)) {
      fillGap(model, x, c, i, uj)
      continue
    }
    const d = x[3 * i + 2]
    const k = (kappa[i] + kappa[j]) / 2
    const um = (ui + uj) / 2
    const an = road.support[i] + (road.lift[i] - k * road.sinBank[i]) * um
    if (!(an > 0)) return Number.NaN
    const ay = road.side[i] + k * road.cosBank[i] * um
    const ax = (road.cosGrade[i] * (uj - ui)) / (2 * length[i]) + road.gradePull[i] + drag * um + rolling * an
    const brake = d - ax
    const lengthways = d * limit.perDrive[i] + brake * limit.perBrake[i]
    const at = PER_STATION * i
    c[at] = x[3 * i] - bounds.low_m[i]
    c[at + 1] = bounds.high_m[i] - x[3 * i]
    c[at + 2] = d
    c[at + 3] = brake
    c[at + 4] = Math.min(limit.force, limit.wheelie * an) - d
    c[at + 5] = power2 - d * d * um
    c[at + 6] = Math.min(limit.brakeMost[i], limit.stoppie * an) - brake
    c[at + 7] = an * an - lengthways * lengthways - (ay * limit.perSide[i]) ** 2
    cost += (2 * length[i]) / (road.cosGrade[i] * (Math.sqrt(ui) + Math.sqrt(uj)))
    cost += perMetre_s * length[i] + (model.bends(i) ? (smoothing / 2) * (kappa[j] - kappa[i]) ** 2 : 0)
  }
  return cost
}
