import type { Circuit } from '../circuit/circuit.ts'
import { atStation, distanceAhead, placeAt, stationIndex, wrapStation } from '../circuit/station.ts'
import { EYE_HEIGHT_M } from '../corner-numbers/sight.ts'
import { stationInLap } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { heightAt } from './height.ts'

/** The side on which somebody sits in a car. */
export type SeatSide = 'left' | 'right' | 'middle'

/** Where somebody sits in a vehicle: the driver, or who is beside the driver; in the middle where there is one seat. */
export const seatIn = (
  { kind, driverSits = 'left' }: Pick<Vehicle, 'kind' | 'driverSits'>,
  who: 'driver' | 'beside' = 'driver',
): SeatSide => (kind !== 'car' ? 'middle' : (driverSits === 'left') === (who === 'driver') ? 'left' : 'right')

/** Height of the eyes over the road (m). */
const eyeHeights: Record<Vehicle['kind'], number> = { car: EYE_HEIGHT_M, 'single-seater': 0.85, kart: 0.8, motorcycle: 1.35 }
/** Distance of a car's seat from its middle (m). */
const SEAT_M = 0.36
/** Height of the eyes of somebody who stands (m). */
const STANDING_M = 1.65
/** How far ahead on the line the head is turned (s), and at least (m). */
const LOOK = { ahead_s: 1.6, least_m: 14 } as const
/** How far the middle of the picture lies below where the line is looked at (rad): a visor shows more road than sky. */
const BELOW_RAD = (4.5 * Math.PI) / 180
/** Vertical angle of what a visor leaves free (rad). */
export const VISOR_RAD = (42 * Math.PI) / 180

/** Height of the eyes in a kind of vehicle (m). */
export const eyeHeight = (kind: Vehicle['kind']): number => eyeHeights[kind]

/** Where somebody looks from, and where to: position (m, z up), direction anticlockwise from east, up positive (rad). */
export type Eye = { x_m: number; y_m: number; z_m: number; heading_rad: number; pitch_rad: number }

/** A lap as it is driven: offset and time at each station (m, s). */
export type SeatDrive = { offset_m: Float64Array; time_s: Float64Array; lapTime_s: number }

/** The lap as it is planned. */
export const plannedDrive = ({ line, profile }: Plan): SeatDrive => ({
  offset_m: line.offset_m,
  time_s: profile.time_s,
  lapTime_s: profile.lapTime_s,
})

/** The station that a drive looks at from another one (m); on an open course at most its end. */
const lookedAt = (circuit: Circuit, drive: SeatDrive, station_m: number): number => {
  const i = stationIndex(circuit, wrapStation(station_m, circuit.length_m))
  const reached_m = distanceAhead(station_m, stationInLap(circuit, drive, drive.time_s[i] + LOOK.ahead_s), circuit.length_m)
  const ahead_m = station_m + Math.max(LOOK.least_m, reached_m)
  return circuit.open ? Math.min(ahead_m, circuit.length_m - circuit.step_m) : ahead_m
}

/** How somebody looks. `turned_rad`: the head turned from where the road is looked at, to the left positive; `standing`: on foot. */
export type Looking = { side?: SeatSide; turned_rad?: number; standing?: boolean; drive?: SeatDrive }

/** The eye of somebody at a station, the driver unless another side is given, on the plan's line unless another drive is: the head is turned to where the car is 1.6 s later. */
export const eyeAt = (
  plan: Plan,
  station_m: number,
  { side = seatIn(plan.vehicle), turned_rad = 0, standing = false, drive = plannedDrive(plan) }: Looking = {},
): Eye => {
  const { circuit, vehicle } = plan
  const offsetAt = (s_m: number): number => atStation(circuit, drive.offset_m, s_m)
  const seated = vehicle.kind === 'car' && !standing
  const shift = !seated || side === 'middle' ? 0 : side === 'left' ? SEAT_M : -SEAT_M
  const offset = offsetAt(station_m) + shift
  const place = placeAt(circuit, station_m, offset)
  const eye_m = standing ? STANDING_M : eyeHeight(vehicle.kind)
  const z_m = heightAt(circuit, station_m, offset) + eye_m
  const ahead_m = lookedAt(circuit, drive, station_m)
  const to = placeAt(circuit, ahead_m, offsetAt(ahead_m))
  const flat_m = Math.hypot(to.x_m - place.x_m, to.y_m - place.y_m)
  const heading_rad = Math.atan2(to.y_m - place.y_m, to.x_m - place.x_m) + turned_rad
  const rise = heightAt(circuit, ahead_m, offsetAt(ahead_m)) + eye_m - z_m
  return { x_m: place.x_m, y_m: place.y_m, z_m, heading_rad, pitch_rad: Math.atan2(rise, Math.max(flat_m, 1)) - BELOW_RAD }
}

/** A picture: its size (pixels) and how much the eye sees from top to bottom (rad). */
export type Picture = { width: number; height: number; fov_rad?: number }

/** A point in a picture: pixels from its upper left corner, and its distance along the direction of view (m); null behind the eye. */
export type InPicture = { x: number; y: number; depth_m: number }

/** Projects a point (m) into a picture. Straight lines stay straight; the middle of the picture is where the eye looks. */
export const project = (
  eye: Eye,
  { width, height, fov_rad = VISOR_RAD }: Picture,
  [x_m, y_m, z_m]: readonly [number, number, number],
): InPicture | null => {
  const [dx, dy, dz] = [x_m - eye.x_m, y_m - eye.y_m, z_m - eye.z_m]
  const [ch, sh, cp, sp] = [Math.cos(eye.heading_rad), Math.sin(eye.heading_rad), Math.cos(eye.pitch_rad), Math.sin(eye.pitch_rad)]
  const level = dx * ch + dy * sh
  const right = dx * sh - dy * ch
  const depth_m = level * cp + dz * sp
  const up = -level * sp + dz * cp
  if (depth_m <= 0.05) return null
  const scale = height / 2 / Math.tan(fov_rad / 2)
  return { x: width / 2 + (scale * right) / depth_m, y: height / 2 - (scale * up) / depth_m, depth_m }
}
