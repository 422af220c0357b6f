/** A channel's row of the table below. */
type ChannelRow = {
  column: string
  meaning: string
  range: readonly [number, number]
  digits: number
  units: Readonly<Record<string, number>>
}

/** A wheel's own speed, in the units of speeds. */
const wheelSpeed = <W extends string>(wheel: W, place: string) =>
  ({
    column: `wheel${wheel}_mps`,
    meaning: `speed of the ${place} wheel`,
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 3,
    units: { 'm/s': 1, 'km/h': 1 / 3.6, mph: 0.44704 },
  }) as const satisfies ChannelRow

/**
 * Channels of a log, one row each: its column in a `Log` (unit in the name), its meaning, the range of plausible values, the
 * decimals it is written with, and the units a file may give it in, each with the factor into the column's own unit (the
 * first). Reading, mapping, writing and judging of logs go by this table alone.
 */
export const channels = {
  time: {
    column: 'time_s',
    meaning: 'time since the first fix',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 3,
    units: { s: 1, ms: 1e-3, min: 60 },
  },
  lat: {
    column: 'lat_deg',
    meaning: 'latitude, WGS 84',
    range: [-90, 90],
    digits: 9,
    units: { deg: 1, rad: 180 / Math.PI, '1e-7 deg': 1e-7, 'arc min': 1 / 60 },
  },
  lon: {
    column: 'lon_deg',
    meaning: 'longitude, WGS 84',
    range: [-180, 180],
    digits: 9,
    units: { deg: 1, rad: 180 / Math.PI, '1e-7 deg': 1e-7, 'arc min': 1 / 60 },
  },
  ele: {
    column: 'ele_m',
    meaning: 'height; 0 where none was recorded',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 3,
    units: { m: 1, ft: 0.3048 },
  },
  speed: {
    column: 'speed_mps',
    meaning: 'speed over ground',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 3,
    units: { 'm/s': 1, 'km/h': 1 / 3.6, mph: 0.44704, kn: 0.514444 },
  },
  throttle: {
    column: 'throttle_pct',
    meaning: 'throttle pedal, per cent of its travel',
    range: [-30, Number.POSITIVE_INFINITY],
    digits: 1,
    units: { '%': 1, share: 100 },
  },
  brake: {
    column: 'brake_bar',
    meaning: 'brake pressure, or what stands for it',
    range: [-30, Number.POSITIVE_INFINITY],
    digits: 2,
    units: { bar: 1, psi: 0.0689476, kPa: 0.01, '%': 1, share: 100, g: 100 },
  },
  steer: {
    column: 'steer_deg',
    meaning: 'steering wheel angle, left positive',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 2,
    units: { deg: 1, rad: 180 / Math.PI, '%': 1 },
  },
  gear: { column: 'gear', meaning: 'gear in use; 0 neutral, −1 reverse', range: [-1, 12], digits: 0, units: { gear: 1 } },
  rpm: { column: 'rpm', meaning: 'engine speed, revolutions per minute', range: [0, 30_000], digits: 0, units: { rpm: 1 } },
  clutch: {
    column: 'clutch_pct',
    meaning: 'clutch pedal, per cent of its travel',
    range: [-30, Number.POSITIVE_INFINITY],
    digits: 1,
    units: { '%': 1, share: 100 },
  },
  x: {
    column: 'x_m',
    meaning: 'place in local metres, as simulators write it; which way its axes point is found on the circuit',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 3,
    units: { m: 1, ft: 0.3048 },
  },
  y: {
    column: 'y_m',
    meaning: 'the other local coordinate on the ground',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 3,
    units: { m: 1, ft: 0.3048 },
  },
  distance: {
    column: 'distance_m',
    meaning: 'distance driven, in the lap or in all',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 3,
    units: { m: 1, km: 1000, ft: 0.3048 },
  },
  lap: { column: 'lap', meaning: 'number of the lap, which changes at the line', range: [-1, 10_000], digits: 0, units: { lap: 1 } },
  beacon: { column: 'beacon', meaning: 'other than 0 where the line is passed', range: [-1e9, 1e9], digits: 0, units: { beacon: 1 } },
  accLong: {
    column: 'ax_mps2',
    meaning: 'acceleration along the car; sign and mounting are found by its speed',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 3,
    units: { 'm/s²': 1, g: 9.80665 },
  },
  accLat: {
    column: 'ay_mps2',
    meaning: 'acceleration across the car; sign and mounting are found by its path',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 3,
    units: { 'm/s²': 1, g: 9.80665 },
  },
  yawRate: {
    column: 'yaw_radps',
    meaning: 'rate of turning, left positive',
    range: [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
    digits: 4,
    units: { 'rad/s': 1, 'deg/s': Math.PI / 180 },
  },
  heading: {
    column: 'heading_deg',
    meaning: 'direction of travel, clockwise from north',
    range: [-400, 400],
    digits: 2,
    units: { deg: 1, rad: 180 / Math.PI },
  },
  wheelFL: wheelSpeed('FL', 'front left'),
  wheelFR: wheelSpeed('FR', 'front right'),
  wheelRL: wheelSpeed('RL', 'rear left'),
  wheelRR: wheelSpeed('RR', 'rear right'),
} as const satisfies Record<string, ChannelRow>

/** A channel by its short name. */
export type Channel = keyof typeof channels
/** The name of a channel's column in a log. */
export type LogColumnName = (typeof channels)[Channel]['column']

/** All channels in the order in which they are written. */
export const channelNames = Object.keys(channels) as [Channel, ...Channel[]]

/** Channels that every log has (places without a number where it tells its way otherwise); the others may be absent. */
const always = ['time', 'lat', 'lon', 'ele'] as const satisfies readonly Channel[]
export type RequiredColumn = (typeof channels)[(typeof always)[number]]['column']
export type OptionalColumn = Exclude<LogColumnName, RequiredColumn>

/** All columns of a log in the order in which they are written. */
export const logColumns = channelNames.map((channel) => channels[channel].column) as readonly LogColumnName[]

/** Columns that a log may lack. */
export const optionalColumns = channelNames
  .filter((channel) => !(always as readonly Channel[]).includes(channel))
  .map((channel) => channels[channel].column as OptionalColumn)

/** The units in which a file may give a channel, with their factors. */
export const unitsOf = (channel: Channel): Readonly<Record<string, number>> => channels[channel].units
