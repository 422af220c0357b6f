import type { OptionalColumn } from './channels.ts'

/** What some receivers measure of the car's motion; logs do not keep it. */
export const motionColumns = ['ax_mps2', 'ay_mps2', 'yaw_radps'] as const

/**
 * One position as a receiver tells it, with whatever else it records. `time_s`: UTC since 1970; absent channels are
 * undefined. `car`: the number that the receiver gives itself, if it does.
 */
export type ReceivedFix = {
  time_s: number
  lat_deg: number
  lon_deg: number
  ele_m?: number | undefined
  car?: string | undefined
} & { [C in OptionalColumn | (typeof motionColumns)[number]]?: number | undefined }

/** How a device introduces itself before its positions: a simulated one says so, and how many times faster than life it runs. */
export type DeviceHello = { hello: string; factor: number; car: string | undefined }

/** What one line from a receiver gave. `bye`: the device ends by itself; `unknown`: well formed, of no use here; `garbage`: not to be read; `checksum`: damaged. */
export type ReceiverLine =
  | { kind: 'fix'; fix: ReceivedFix }
  | { kind: 'hello'; hello: DeviceHello }
  | { kind: 'bye' }
  | { kind: 'part' }
  | { kind: 'unknown' }
  | { kind: 'checksum' }
  | { kind: 'garbage' }
