import { type Channel, channelNames, channels, unitsOf } from '../log/channels.ts'
import { median, quantile } from '../solve/robust.ts'
import type { LogColumn, LogTable } from './log-table.ts'

/** Which column is which channel, in which unit. */
export type LogMapping = Partial<Record<Channel, { column: string; unit: string }>>

/** A guess with how sure it is (0 … 1) and, where the numbers speak against the header, the unit that they speak for. */
export type GuessedChannel = { channel: Channel; column: string; unit: string; sure: number; speaksFor: string | null }

/** Names by which columns are known (in lower case, without signs), and what such a name must not hold. */
const names: Record<Channel, { is: RegExp; not?: RegExp }> = {
  time: {
    is: /^(time|t|timestamp|time ?stamp|date ?time|utc|elapsed|seconds|clock|(gps|log|session|sample|total|run) time|zeit|uhrzeit|laufzeit|zeitstempel)\b/,
    not: /\blap\b|sector|delta|diff/,
  },
  lat: { is: /(^|\b|gps)(lat|latitude|breite|breitengrad)\b/, not: /acc|lateral|\bg\b/ },
  lon: { is: /(^|\b|gps)(lon|lng|long|longitude|länge|längengrad|laengengrad)\b/, not: /acc|longitudinal|\bg\b/ },
  ele: { is: /\b(alt|altitude|ele|elevation|height|höhe|hoehe)\b/, not: /accuracy/ },
  speed: {
    is: /(\b|gps)(speed|velocity|geschwindigkeit|tempo|spd|v|sog|speed over ground)\b/,
    not: /engine|motor|wheel|rpm|shaft|\b(fan|wind)\b|vertical|accuracy/,
  },
  throttle: {
    is: /\b(throttle|tps|accelerator|gas|gaspedal|fahrpedal|drosselklappe|pedal position)\b/,
    not: /temp|brake|clutch/,
  },
  brake: { is: /\b(brake|brakes|brake pressure|bremse|bremsdruck|bremspedal)\b/, not: /temp|bias|balance|switch|light|wear/ },
  steer: { is: /\b(steer|steering|lenkwinkel|lenkradwinkel|lenkung|lenkrad|wheel angle)\b/, not: /torque|rate|speed/ },
  gear: { is: /\b(gear|gang)\b/, not: /ratio|temp/ },
  rpm: { is: /\b(rpm|revs|engine speed|drehzahl|motordrehzahl|engine rpm)\b/ },
  clutch: { is: /\b(clutch|kupplung)\b/, not: /temp|switch/ },
  x: { is: /^((car|world|local|track) )?(pos|position|coord|coordinate)? ?x( ?(pos|position|coord))?$/ },
  y: { is: /^((car|world|local|track) )?(pos|position|coord|coordinate)? ?y( ?(pos|position|coord))?$/ },
  distance: {
    is: /\b(lap ?dist(ance)?|dist(ance)?( (driven|travell?ed|lap))?|odometer|strecke|rundenstrecke|wegstrecke)\b/,
    not: /to go|remain|gap|ahead|behind|to (edge|line)/,
  },
  lap: { is: /^(lap|lap ?(no|nr|num|number|count|counter|index)|current lap|laps|runde|rundennummer)$/ },
  beacon: { is: /\b(beacon|lap ?(trigger|marker)|marker|rundensignal)\b/ },
  accLong: {
    is: /\b(long(itudinal)?|inline|fore aft|x) ?(acc|accel|acceleration|g|g force)\b|\b(acc|accel|acceleration|g|g force|gforce) ?(long|longitudinal|x|inline)\b|längsbeschleunigung|^ax( mps2)?$/,
  },
  accLat: {
    is: /\b(lat(eral)?|sideways|y) ?(acc|accel|acceleration|g|g force)\b|\b(acc|accel|acceleration|g|g force|gforce) ?(lat|lateral|y)\b|querbeschleunigung|^ay( mps2)?$/,
  },
  yawRate: { is: /\b(yaw ?rate|yaw velocity|gyro z|gierrate|yaw radps)\b/ },
  heading: { is: /\b(heading|course|bearing|cog|kurs)\b/, not: /error|deviation/ },
  wheelFL: { is: /\bwheel ?(speed)? ?(fl|lf|front left)\b|\bwheel ?fl\b/ },
  wheelFR: { is: /\bwheel ?(speed)? ?(fr|rf|front right)\b|\bwheel ?fr\b/ },
  wheelRL: { is: /\bwheel ?(speed)? ?(rl|lr|rear left)\b|\bwheel ?rl\b/ },
  wheelRR: { is: /\bwheel ?(speed)? ?(rr|rear right)\b|\bwheel ?rr\b/ },
}

const plain = (name: string): string =>
  name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .replace(/[_\-.:/]+/g, ' ')
    .trim()

/** Ways in which units are written, in lower case. */
const unitWords: readonly [RegExp, string][] = [
  [/^(km\/?h|kph|kmh)$/, 'km/h'],
  [/^(m\/s|mps|ms-1)$/, 'm/s'],
  [/^(mph|mi\/h)$/, 'mph'],
  [/^(kn|kt|kts|knots?)$/, 'kn'],
  [/^(°|deg|degrees?|grad)$/, 'deg'],
  [/^rad(ians?)?$/, 'rad'],
  [/^(m|metres?|meters?)$/, 'm'],
  [/^(ft|feet)$/, 'ft'],
  [/^(%|pct|percent)$/, '%'],
  [/^bar$/, 'bar'],
  [/^psi$/, 'psi'],
  [/^kpa$/, 'kPa'],
  [/^g$/, 'g'],
  [/^(s|sec|seconds?)$/, 's'],
  [/^(ms|msec|milliseconds?)$/, 'ms'],
  [/^min(utes)?$/, 'arc min'],
  [/^(rpm|1\/min)$/, 'rpm'],
  [/^(m\/s\^?2|m\/s²|mps2|ms-2)$/, 'm/s²'],
  [/^(deg\/s|°\/s|dps|degps)$/, 'deg/s'],
  [/^(rad\/s|radps)$/, 'rad/s'],
  [/^km$/, 'km'],
]

const unitOf = (column: LogColumn, channel: Channel): string | null => {
  const text = column.unit?.toLowerCase().trim()
  const word = text && unitWords.find(([is]) => is.test(text))?.[1]
  return word && word in unitsOf(channel) ? word : null
}

const hasOneUnit = (channel: Channel): boolean => Object.keys(unitsOf(channel)).length === 1

/** Finite values of a column, thinned to about `max`. */
const some = (values: Float64Array, max = 2000): number[] => {
  const out: number[] = []
  const step = Math.max(1, Math.floor(values.length / max))
  for (let i = 0; i < values.length; i += step) if (Number.isFinite(values[i])) out.push(values[i])
  return out
}

/** True if a column's numbers can be a channel's at all. */
const canBe = (channel: Channel, column: LogColumn): boolean => {
  const { kind, values, unit } = column
  if (kind !== 'number') return channel === 'time'
  // Places in metres, or a pull sideways in g, are no angles on the globe.
  if ((channel === 'lat' || channel === 'lon') && unit && unitWords.some(([is]) => is.test(unit.toLowerCase())) && !unitOf(column, channel))
    return false
  const list = some(values)
  if (list.length === 0) return false
  const [min, max] = list.reduce(
    ([low, high], v) => [Math.min(low, v), Math.max(high, v)],
    [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY],
  )
  const [low, high] = channels[channel].range
  // Places and units are judged where their unit is known.
  return channel === 'lat' || channel === 'lon' || (min >= low && max <= high)
}

/** Metres on the ground per degree of latitude. */
const DEGREE_M = 111_195
/** A unit fits when its speeds are within this share of the distance really covered. */
const FITS = 0.12

/** Speeds (m/s) between places a little apart in time, from columns in degrees and seconds. */
const groundSpeeds = (time: Float64Array, lat: Float64Array, lon: Float64Array): { at: number; mps: number }[] => {
  const out: { at: number; mps: number }[] = []
  const n = time.length
  const step = Math.max(1, Math.floor(n / 3000))
  for (let i = 0; i < n; i += step) {
    // At least a second apart, so that held positions and noise hardly count.
    let j = i
    while (j < n && !(time[j] - time[i] >= 1)) j++
    if (j >= n || time[j] - time[i] > 2.5) continue
    const east = (lon[j] - lon[i]) * Math.cos((lat[i] * Math.PI) / 180)
    const mps = (Math.hypot(lat[j] - lat[i], east) * DEGREE_M) / (time[j] - time[i])
    if (Number.isFinite(mps)) out.push({ at: (i + j) >> 1, mps })
  }
  return out
}

const scaled = (column: LogColumn, channel: Channel, unit: string): Float64Array => {
  const factor = column.kind === 'number' ? (unitsOf(channel)[unit] ?? 1) : 1
  return factor === 1 ? column.values : column.values.map((v) => v * factor)
}

/** The unit of places by their size where no header says so. */
const placeUnit = ({ values }: LogColumn, given: string | null): string => {
  if (given) return given
  const size = median(some(values).map(Math.abs))
  return size > 1e6 ? '1e-7 deg' : size > 180 ? 'arc min' : 'deg'
}

/** The unit of time for which cars drive as fast as cars do. */
const timeUnit = (time: LogColumn, lat: Float64Array, lon: Float64Array, given: string | null): string => {
  if (given && given !== 'arc min') return given
  if (time.kind !== 'number') return 's'
  for (const unit of ['s', 'ms', 'min']) {
    const speeds = groundSpeeds(scaled(time, 'time', unit), lat, lon).map((s) => s.mps)
    const usual = median(speeds)
    if (speeds.length > 5 && usual > 2 && usual < 110) return unit
  }
  return 's'
}

/** The columns that channels were found in. */
type FoundColumns = ReadonlyMap<Channel, { column: LogColumn; sure: number }>

/** The best column of each channel by name and numbers; a column serves one channel only. */
const findColumns = (columns: readonly LogColumn[]): FoundColumns => {
  const taken = new Set<LogColumn>()
  const found = new Map<Channel, { column: LogColumn; sure: number }>()
  const axes = swappedAxes(columns)
  for (const channel of channelNames) {
    const { is, not } = names[channel]
    const [best] = columns
      .filter((column) => {
        const name = axes?.get(column) ?? nameFor(channel, column)
        return !taken.has(column) && is.test(name) && !not?.test(name) && canBe(channel, column)
      })
      .map((column) => ({ column, sure: sureness(column, channel) }))
      .sort((a, b) => b.sure - a.sure)
    if (!best) continue
    taken.add(best.column)
    found.set(channel, best)
  }
  return found
}

/** The name by which a column may be a channel's: in the names of accelerations the unit says what they are. */
const nameFor = (channel: Channel, { name, label }: LogColumn): string =>
  plain(channel === 'accLong' || channel === 'accLat' ? name.replace(/[([{].*$/, '') : label)

/** Names of local coordinates where height is the second of three, as in many simulators: the one that varies more lies on the ground. */
const swappedAxes = (columns: readonly LogColumn[]): ReadonlyMap<LogColumn, string> | null => {
  const [second, third] = ['y', 'z'].map((axis) => {
    const word = new RegExp(`\\b${axis}\\b`)
    return columns.find(({ label }) => word.test(plain(label)) && names.y.is.test(plain(label).replace(word, 'y')))
  })
  const extent = ({ values }: LogColumn): number => quantile(some(values), 0.98) - quantile(some(values), 0.02)
  if (!second || !third || extent(third) <= extent(second)) return null
  return new Map([
    [second, 'height'],
    [third, 'y'],
  ])
}

/** Confidence (0 … 1) that a column whose name matches is the channel's. */
const sureness = (column: LogColumn, channel: Channel): number =>
  0.6 +
  (unitOf(column, channel) || hasOneUnit(channel) ? 0.2 : 0) +
  (/gps/i.test(column.name) ? 0.1 : 0) +
  (plain(column.label).length < 12 ? 0.1 : 0)

/** Places in degrees and the unit of time beside them, as far as their columns were found. */
type Track = {
  units: { time: string; lat: string; lon: string }
  time: LogColumn | null
  places: { lat: Float64Array; lon: Float64Array } | null
}

const trackOf = (found: FoundColumns): Track => {
  const [time, lat, lon] = (['time', 'lat', 'lon'] as const).map((channel) => found.get(channel)?.column)
  const latUnit = lat ? placeUnit(lat, unitOf(lat, 'lat')) : 'deg'
  const lonUnit = lon ? placeUnit(lon, unitOf(lon, 'lon')) : 'deg'
  const places = lat && lon ? { lat: scaled(lat, 'lat', latUnit), lon: scaled(lon, 'lon', lonUnit) } : null
  const named = time ? unitOf(time, 'time') : null
  const timeInUnit = time && places ? timeUnit(time, places.lat, places.lon, named) : (named ?? 's')
  return { units: { time: timeInUnit, lat: latUnit, lon: lonUnit }, time: time ?? null, places }
}

/** The unit of speeds: the header's, or else the one that matches the distance covered; `speaksFor` says where the two differ. */
const speedUnit = (speed: LogColumn, { units, time, places }: Track): { unit: string; speaksFor: string | null } => {
  const named = unitOf(speed, 'speed')
  const unchecked = { unit: named ?? 'km/h', speaksFor: null }
  if (!time || !places) return unchecked
  const ground = groundSpeeds(scaled(time, 'time', units.time), places.lat, places.lon).filter((s) => s.mps > 5)
  const ratio = median(ground.filter((s) => speed.values[s.at] > 0).map((s) => speed.values[s.at] / s.mps))
  // Far off any unit it is the places that are odd, not the speeds.
  if (!(ratio > 0.2 && ratio < 8)) return unchecked
  const fits = Object.entries(unitsOf('speed')).find(([, factor]) => Math.abs(ratio * factor - 1) < FITS)?.[0] ?? null
  if (named === null) return { unit: fits ?? 'km/h', speaksFor: fits ? null : `${ratio.toFixed(2)} ×` }
  return { unit: named, speaksFor: named === fits ? null : (fits ?? `${(ratio * unitsOf('speed')[named]).toFixed(2)} ×`) }
}

/** The unit of a pedal, a wheel or a height by the size of its numbers, where its header names none. */
const unitBySize = (channel: Channel, column: LogColumn): string => {
  const max = Math.max(...some(column.values).map(Math.abs))
  if (channel === 'ele') return 'm'
  if (channel === 'throttle') return max <= 1.2 ? 'share' : '%'
  if (channel === 'brake') return max <= 1.2 ? 'share' : max > 200 ? 'psi' : 'bar'
  if (channel === 'steer') return max < 10 ? 'rad' : 'deg'
  if (channel === 'clutch') return max <= 1.2 ? 'share' : '%'
  // Road cars and karts keep under 4 g; an acceleration in m/s² passes 4 in any corner.
  if (channel === 'accLong' || channel === 'accLat') return quantile(some(column.values).map(Math.abs), 0.98) < 3.5 ? 'g' : 'm/s²'
  if (channel === 'yawRate') return max < 4 ? 'rad/s' : 'deg/s'
  if (channel === 'heading') return max < 7 ? 'rad' : 'deg'
  if (channel.startsWith('wheel')) return max > 100 ? 'km/h' : 'm/s'
  return Object.keys(unitsOf(channel))[0]
}

/**
 * Guesses which column is which, by name, unit and numbers. Speeds are compared with the distance covered between places: where a
 * header's unit does not match and another one does, the guess says so (`speaksFor`) and leaves the decision to a person.
 */
export const guessMapping = (table: LogTable): GuessedChannel[] => {
  const found = findColumns(table.columns)
  const track = trackOf(found)
  const unitFor = (channel: Channel, column: LogColumn): { unit: string; speaksFor: string | null } => {
    if (channel === 'speed') return speedUnit(column, track)
    if (channel === 'time' || channel === 'lat' || channel === 'lon') return { unit: track.units[channel], speaksFor: null }
    return { unit: (hasOneUnit(channel) ? null : unitOf(column, channel)) ?? unitBySize(channel, column), speaksFor: null }
  }
  return GUESS_ORDER.flatMap((channel) => {
    const match = found.get(channel)
    if (!match) return []
    const { unit, speaksFor } = unitFor(channel, match.column)
    return [{ channel, column: match.column.name, unit, sure: speaksFor ? 0.3 : match.sure, speaksFor }]
  })
}

/** The order in which channels are shown. */
const GUESS_ORDER: readonly Channel[] = channelNames

/** A guess as a mapping. */
export const mappingOf = (guessed: readonly GuessedChannel[]): LogMapping =>
  Object.fromEntries(guessed.map(({ channel, column, unit }) => [channel, { column, unit }]))
