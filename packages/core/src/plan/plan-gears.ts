import type { Circuit } from '../circuit/circuit.ts'
import { stationIndex } from '../circuit/station.ts'
import type { Mark } from '../marks/mark.ts'
import type { Line } from '../path/line.ts'
import type { Turning } from '../path/turning.ts'
import type { Profile } from '../profile/profile.ts'
import { GRAVITY_MPS2 } from '../units/constants.ts'
import { gearAt } from '../vehicle/gears.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { timeBetween } from './lap-time.ts'
import type { PlanSettings } from './plan.ts'

/** A gear kept for less than this is passed over (s). */
const MIN_IN_GEAR_S = 0.6
/** The lowest gear that a car is to use where nothing else is set: first is for pulling away. */
const LOWEST_GEAR_OF_CARS = 2
/** Lean to the vertical from which a motorcycle is not shifted (rad): its chain would pull at a tyre that has no grip to spare. */
const LEANED_RAD = (20 * Math.PI) / 180

/** The lowest gear that a vehicle uses: the one that is set, else second for cars; never one that it does not have. */
export const lowestGear = ({ kind, gears }: Pick<Vehicle, 'kind' | 'gears'>, set: number | undefined): number =>
  Math.min(gears.length, set ?? (kind === 'car' ? LOWEST_GEAR_OF_CARS : 1))

type GearInput = {
  circuit: Circuit
  vehicle: Vehicle
  line: Pick<Line, 'kappa_1pm'>
  settings: Pick<PlanSettings, 'school' | 'lowestGear'>
  turnings: readonly Turning[]
  profile: Profile
  marks: readonly Mark[]
}

/**
 * The gear at every station. A change down belongs to braking: in the straight style all are done by the turn-in, in the others
 * by the slowest point, and none comes after that before the next brake or lift mark. A motorcycle keeps one gear while it leans. Gears kept for less than
 * 0.6 s are passed over, and no gear is below the lowest that is set. No gear is taken above its top speed, except where it is
 * passed over for a moment.
 */
export const planGears = (input: GearInput): Uint8Array => {
  const { vehicle, profile, settings } = input
  const lowest = lowestGear(vehicle, settings.lowestGear)
  const gear = Uint8Array.from(profile.speed_mps, (v) => Math.max(lowest, gearAt(vehicle, v)))
  if (vehicle.gears.length === 1) return gear
  passOverBriefOnes(gear, profile)
  holdInCorners(gear, input)
  if (vehicle.kind === 'motorcycle') holdWhileLeaned(gear, input)
  return gear
}

/** The gear before stays where another one would be kept for too short a time. */
const passOverBriefOnes = (gear: Uint8Array, profile: Profile): void => {
  const n = gear.length
  for (let i = 0; i < n; i++) {
    const before = gear[(i - 1 + n) % n]
    if (gear[i] === before) continue
    let j = i
    while (gear[j % n] === gear[i] && j < i + n) j++
    if (timeBetween(profile, i, j % n) < MIN_IN_GEAR_S) for (let k = i; k < j; k++) gear[k % n] = before
  }
}

/** No change down from where a corner's changes are done until the next corner is slowed for: a higher gear is kept instead. */
const holdInCorners = (gear: Uint8Array, { circuit, settings, turnings, marks }: GearInput): void => {
  const n = circuit.count
  const slowing = new Set(marks.filter((m) => m.kind === 'brake' || m.kind === 'lift').map((m) => stationIndex(circuit, m.station_m)))
  const slowest = marks.filter((m) => m.kind === 'slowest').map((m) => stationIndex(circuit, m.station_m))
  const done = settings.school === 'straight' ? turnings.map((t) => t.turnIn) : slowest
  const starts = new Set(done)
  for (const from of done) {
    for (let i = (from + 1) % n; i !== from && !slowing.has(i) && !starts.has(i); i = (i + 1) % n) {
      const before = gear[(i - 1 + n) % n]
      if (gear[i] < before) gear[i] = before
    }
  }
}

/** One gear in every stretch on which a motorcycle leans: that of the highest speed there. */
const holdWhileLeaned = (gear: Uint8Array, { circuit, line, profile }: GearInput): void => {
  const n = circuit.count
  const leans = Uint8Array.from(profile.speed_mps, (v, i) =>
    Math.abs(Math.atan((v * v * line.kappa_1pm[i]) / GRAVITY_MPS2)) > LEANED_RAD ? 1 : 0,
  )
  const upright = leans.indexOf(0)
  if (upright < 0) return
  for (let k = 1; k <= n; k++) {
    const from = (upright + k) % n
    if (!leans[from] || leans[(from - 1 + n) % n]) continue
    let most = 0
    let length = 0
    for (; length < n && leans[(from + length) % n]; length++) most = Math.max(most, gear[(from + length) % n])
    for (let j = 0; j < length; j++) gear[(from + j) % n] = most
  }
}
