import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import type { GroundItem } from '../circuit/ground.ts'
import type { Pin } from '../circuit/pin.ts'
import type { LineMethod } from '../line/line-method.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'
import type { Mark } from '../marks/mark.ts'
import type { Line } from '../path/line.ts'
import type { Turning } from '../path/turning.ts'
import type { GripShare, Surface } from '../profile/grip.ts'
import type { Profile } from '../profile/profile.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'

/** Settings of a plan. `pace`: share of grip, 0 < pace ≤ 1. */
export type PlanSettings = {
  surface: Surface
  pace: number
  school: BrakingSchool
  margin_m?: number | undefined
  /** Smoothest by default. */
  method?: LineMethod | undefined
  pins?: readonly Pin[] | undefined
  /** Speed at the start of an open course; from rest by default. */
  entry_mps?: number | undefined
  /** The lowest gear to use; second for cars by default. */
  lowestGear?: number | undefined
  /** What `compact` pays for a metre of path (s). */
  perMetre_s?: number | undefined
}

/** Everything computed for one circuit, vehicle and setting. */
export type Plan = {
  circuit: Circuit
  corners: readonly Corner[]
  ground: readonly GroundItem[]
  vehicle: Vehicle
  settings: PlanSettings
  line: Line
  turnings: readonly Turning[]
  /** The share of grip planned at each station. */
  grip: readonly GripShare[]
  profile: Profile
  marks: readonly Mark[]
}
