import type { OptionalColumn } from './channels.ts'

/**
 * One position from a receiver, with whatever else it records. `time_s`: UTC since 1970; absent channels are undefined. `car`:
 * the number that the receiver gives itself, if it does.
 */
export type ReceivedFix = {
  time_s: number
  lat_deg: number
  lon_deg: number
  ele_m?: number | undefined
  car?: string | undefined
} & { [C in OptionalColumn]?: number | undefined }

/** A device's introduction before its positions: a simulated one says so, with its speed in multiples of real time. */
export type DeviceHello = { hello: string; factor: number; car: string | undefined }

/**
 * Contents of one line from a receiver. `bye`: the device ends by itself; `unknown`: well formed, of no use here; `garbage`:
 * unreadable; `checksum`: damaged.
 */
export type ReceiverLine =
  | { kind: 'fix'; fix: ReceivedFix }
  | { kind: 'hello'; hello: DeviceHello }
  | { kind: 'bye' }
  | { kind: 'part' }
  | { kind: 'unknown' }
  | { kind: 'checksum' }
  | { kind: 'garbage' }
