import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { type Channel, channelNames, channels } from '../log/channels.ts'
import type { Log } from '../log/log.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { logOf } from './log-file.ts'
import { type GuessedChannel, guessMapping, mappingOf } from './log-mapping.ts'
import { readLogText } from './log-reader.ts'
import type { LogTable } from './log-table.ts'

const { log } = simulateDrive(demoPlan(), { laps: 1, seed: 4, noise_m: 0.05 })
const ROWS = 900
const columns: Record<Channel, keyof Log> = {
  time: 'time_s',
  lat: 'lat_deg',
  lon: 'lon_deg',
  ele: 'ele_m',
  speed: 'speed_mps',
  throttle: 'throttle_pct',
  brake: 'brake_bar',
  steer: 'steer_deg',
  gear: 'gear',
  rpm: 'rpm',
  clutch: 'clutch_pct',
  x: 'x_m',
  y: 'y_m',
  distance: 'distance_m',
  lap: 'lap',
  beacon: 'beacon',
  accLong: 'ax_mps2',
  accLat: 'ay_mps2',
  yawRate: 'yaw_radps',
  heading: 'heading_deg',
  wheelFL: 'wheelFL_mps',
  wheelFR: 'wheelFR_mps',
  wheelRL: 'wheelRL_mps',
  wheelRR: 'wheelRR_mps',
}

/** A log whose columns carry plain names but for one, which may be in another unit too. */
const tableWith = (channel: Channel, name: string, times = 1): LogTable => {
  const names = channelNames.map((c) => (c === channel ? name : columns[c]))
  const rows = Array.from({ length: ROWS }, (_, i) =>
    channelNames.map((c) => (log[columns[c]]?.[i] ?? 0) * (c === channel ? times : 1)).join(';'),
  )
  const file = readLogText(`${names.join(';')}\n${rows.join('\n')}\n`)
  if (file.form !== 'table') throw new Error(file.form)
  return file.table
}
const guessOf = (table: LogTable, channel: Channel): GuessedChannel | undefined => guessMapping(table).find((g) => g.channel === channel)

const headers: Record<Channel, readonly string[]> = {
  time: [
    'Time',
    'TIME (s)',
    'Timestamp',
    'UTC Time',
    'Elapsed Time (s)',
    'Zeit [s]',
    'GPS_Time',
    'Session Time',
    'T',
    'Date Time',
    'datetime',
    'Time Stamp',
    'Uhrzeit',
    'Laufzeit',
    'Zeitstempel',
    'Seconds',
    't_s',
    'Sample Time',
    'Total Time',
  ],
  lat: [
    'Latitude',
    'lat',
    'GPS_Lat',
    'GPS Latitude (deg)',
    'Lat.',
    'position_lat',
    'Breitengrad',
    'Breite',
    'GPSLatitude',
    'gps.lat',
    'Lat (°)',
    'Pos Lat',
  ],
  lon: ['Longitude', 'lon', 'lng', 'Long', 'GPS_Lon', 'Längengrad', 'Länge', 'position_long', 'GPSLongitude', 'LON', 'gps_long'],
  ele: ['Altitude', 'Elevation (m)', 'Height', 'Höhe', 'GPS Altitude (m)', 'alt_m', 'GPS Height'],
  speed: [
    'Speed',
    'GPS Speed (m/s)',
    'Velocity',
    'Ground Speed',
    'Geschwindigkeit',
    'Vehicle Speed',
    'GPSSpeed',
    'Car Speed',
    'Tempo',
    'SOG',
    'V',
  ],
  throttle: [
    'Throttle',
    'TPS',
    'Throttle Position (%)',
    'Accelerator Pedal',
    'Gas',
    'Gaspedal',
    'Fahrpedal',
    'Drosselklappe',
    'Pedal Position',
    'ThrottlePos',
  ],
  brake: [
    'Brake',
    'Brake Pressure (bar)',
    'BrakePressureFront',
    'Bremse',
    'Bremsdruck vorn',
    'Brake_F',
    'Front Brake Pressure',
    'Brake Pedal Position',
  ],
  steer: ['Steering', 'Steering Angle (deg)', 'SteerAngle', 'Lenkwinkel', 'Lenkradwinkel', 'Steering Wheel Angle', 'Steer_deg'],
  gear: ['Gear', 'Gang', 'Gear Position', 'Current Gear', 'gear_no'],
  rpm: ['RPM', 'Engine Speed (rpm)', 'Engine RPM', 'Drehzahl', 'Motordrehzahl', 'Revs', 'EngineSpeed'],
  clutch: ['Clutch', 'clutch_pct', 'Clutch Position (%)', 'Kupplung'],
  x: ['X', 'pos_x', 'Position X (m)', 'x_m', 'World X', 'Local X [m]', 'CarCoordX'],
  y: ['Y', 'pos_y', 'Position Y (m)', 'y_m', 'World Y', 'Local Y [m]', 'CarCoordY'],
  distance: ['Distance', 'Lap Distance (m)', 'lap_dist', 'LapDistance', 'Distance driven (km)', 'Wegstrecke'],
  lap: ['Lap', 'Lap Number', 'lap_no', 'LapCount', 'Current Lap', 'Runde'],
  beacon: ['Beacon', 'Lap Trigger', 'lap_marker'],
  accLong: [
    'Longitudinal Acceleration (g)',
    'LongAcc',
    'G Force Long',
    'accel_x',
    'Acc Long (m/s²)',
    'InlineAcc',
    'ax_mps2',
    'Längsbeschleunigung',
  ],
  accLat: ['Lateral Acceleration (g)', 'LatAcc', 'G Force Lat', 'accel_y', 'Acc Lat (m/s²)', 'ay_mps2', 'Querbeschleunigung'],
  yawRate: ['Yaw Rate (deg/s)', 'YawRate', 'Gyro Z', 'yaw_radps', 'Gierrate'],
  heading: ['Heading', 'Course (deg)', 'GPS Heading', 'COG', 'Kurs'],
  wheelFL: ['Wheel Speed FL (km/h)', 'WheelSpeedFL', 'wheelFL_mps', 'Wheel Speed Front Left'],
  wheelFR: ['Wheel Speed FR (km/h)', 'WheelSpeedFR', 'wheelFR_mps', 'Wheel Speed Front Right'],
  wheelRL: ['Wheel Speed RL (km/h)', 'WheelSpeedRL', 'wheelRL_mps', 'Wheel Speed Rear Left'],
  wheelRR: ['Wheel Speed RR (km/h)', 'WheelSpeedRR', 'wheelRR_mps', 'Wheel Speed Rear Right'],
}

describe('a column by its name', () => {
  it.each(channelNames)('%s', (channel) => {
    for (const name of headers[channel]) {
      const guess = guessOf(tableWith(channel, name), channel)
      expect([name, guess?.column, guess?.speaksFor ?? null]).toEqual([name, name, null])
    }
  })

  it('is nothing where the name says something else', () => {
    const others: Readonly<Record<string, Channel | null>> = {
      'Lateral Acc': 'accLat',
      'Longitudinal Acceleration': 'accLong',
      'Lat G': 'accLat',
      G_Long: 'accLong',
      'GPS Lat Acc': 'accLat',
      'Wheel Speed FL': 'wheelFL',
      'Motor Speed': null,
      'Wind Speed': null,
      'Vertical Speed': null,
      'Speed Accuracy': null,
      'Altitude Accuracy': null,
      'Brake Temp': null,
      'Brake Bias': null,
      'Brake Switch': null,
      'Lap Time': null,
      'Delta Time': null,
      'Steering Torque': null,
      'Gear Ratio': null,
      'Oil Temp': null,
      'Exhaust Gas Temp': null,
      Heading: 'heading',
      Satellites: null,
      Lap: 'lap',
      Distance: 'distance',
      'Distance to go': null,
      'Yaw Rate': 'yawRate',
    }
    for (const [name, channel] of Object.entries(others)) {
      const file = readLogText(`q;${name}\n${Array.from({ length: 60 }, (_, i) => `${i};${(i % 7) + 0.5}`).join('\n')}\n`)
      const guessed = file.form === 'table' ? guessMapping(file.table).map((g) => g.channel) : null
      expect([name, guessed]).toEqual([name, channel === null ? [] : [channel]])
    }
  })

  it('goes to the one that says more of it, and to one channel only', () => {
    const file = readLogText(`Time;Wheel Speed;GPS Speed (m/s);Speed\n${Array.from({ length: 60 }, (_, i) => `${i};1;2;3`).join('\n')}\n`)
    const guess = file.form === 'table' ? guessMapping(file.table) : []
    expect(guess.map((g) => [g.channel, g.column])).toEqual([
      ['time', 'Time'],
      ['speed', 'GPS Speed (m/s)'],
    ])
  })
})

describe('a unit', () => {
  it.each([
    ['time', 'Time (ms)', 1000, 'ms'],
    ['time', 'Time', 1000, 'ms'],
    ['time', 'Time', 1 / 60, 'min'],
    ['lat', 'Latitude', 1e7, '1e-7 deg'],
    ['lat', 'Latitude', 60, 'arc min'],
    ['lat', 'Latitude (rad)', Math.PI / 180, 'rad'],
    ['ele', 'Altitude (ft)', 1 / 0.3048, 'ft'],
    ['speed', 'Speed (km/h)', 3.6, 'km/h'],
    ['speed', 'Speed [kph]', 3.6, 'km/h'],
    ['speed', 'Speed', 3.6, 'km/h'],
    ['speed', 'Speed_mph', 1 / 0.44704, 'mph'],
    ['speed', 'Speed', 1 / 0.44704, 'mph'],
    ['speed', 'SOG (kn)', 1 / 0.514444, 'kn'],
    ['speed', 'Speed', 1, 'm/s'],
    ['throttle', 'Throttle', 0.01, 'share'],
    ['brake', 'Brake Pressure (psi)', 1 / 0.0689476, 'psi'],
    ['brake', 'Brake Pressure', 1 / 0.0689476, 'psi'],
    ['brake', 'Brake (kPa)', 100, 'kPa'],
    ['steer', 'Steering', Math.PI / 180, 'rad'],
  ] as const)('of %s is told by “%s” or by its numbers, and brought into the log’s own', (channel, name, times, unit) => {
    const table = tableWith(channel, name, times)
    expect(guessOf(table, channel)).toMatchObject({ column: name, unit, speaksFor: null })
    const read = logOf({ form: 'table', table })
    const [own, wanted] = [read[columns[channel]], log[columns[channel]]]
    for (let i = 0; i < ROWS; i += 41) expect(own?.[i]).toBeCloseTo(wanted?.[i] ?? Number.NaN, channel === 'lat' ? 6 : 2)
  })

  it.each([
    ['km/h for miles', 'Speed (km/h)', 1 / 0.44704, 'mph'],
    ['miles for km/h', 'Speed (mph)', 3.6, 'km/h'],
    ['m/s for km/h', 'Speed (m/s)', 3.6, 'km/h'],
    ['knots for m/s', 'Speed (kn)', 1, 'm/s'],
  ])('that does not fit the way covered is asked: %s', (_, name, times, fits) => {
    const table = tableWith('speed', name, times)
    const guess = guessOf(table, 'speed')
    expect(guess?.speaksFor).toBe(fits)
    expect(guess?.sure).toBeLessThan(0.75)
    expect(() => logOf({ form: 'table', table })).toThrow(expect.objectContaining({ code: 'log-units' }))
    const mapping = { ...mappingOf(guessMapping(table)), speed: { column: name, unit: fits } }
    expect(logOf({ form: 'table', table }, mapping).speed_mps?.[500]).toBeCloseTo(log.speed_mps?.[500] ?? 0, 2)
  })

  it('of every channel has the log’s own first', () => {
    for (const { units } of Object.values(channels)) expect(Object.values(units)[0]).toBe(1)
  })
})
