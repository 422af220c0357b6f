import type { ReceivedFix, ReceiverLine } from '../log/received-fix.ts'

const KNOT_MPS = 0.514444
const DAY_S = 86_400

/** The checksum of a sentence's characters between $ and *: their exclusive or, as two hex digits. */
export const nmeaChecksum = (body: string): string => {
  let sum = 0
  for (let i = 0; i < body.length; i++) sum ^= body.charCodeAt(i)
  return sum.toString(16).toUpperCase().padStart(2, '0')
}

/** hhmmss.sss as seconds of the day; NaN where it is none. */
const timeOfDay = (text: string | undefined): number => {
  const match = /^(\d\d)(\d\d)(\d\d(?:\.\d+)?)$/.exec(text ?? '')
  return match ? Number(match[1]) * 3600 + Number(match[2]) * 60 + Number(match[3]) : Number.NaN
}

/** ddmmyy as the start of that day in UTC seconds since 1970; years 80 … 99 belong to the last century. */
const dayStart = (text: string | undefined): number => {
  const match = /^(\d\d)(\d\d)(\d\d)$/.exec(text ?? '')
  if (!match) return Number.NaN
  const year = Number(match[3])
  return Date.UTC(year + (year < 80 ? 2000 : 1900), Number(match[2]) - 1, Number(match[1])) / 1000
}

/** dddmm.mmm with its hemisphere as degrees; NaN where it is none. */
const angle = (text: string | undefined, side: string | undefined): number => {
  const match = /^(\d{1,3})(\d\d(?:\.\d+)?)$/.exec(text ?? '')
  if (!match || !side || !'NSEW'.includes(side)) return Number.NaN
  const value = Number(match[1]) + Number(match[2]) / 60
  return side === 'S' || side === 'W' ? -value : value
}

const numberOr = (text: string | undefined): number => (text ? Number(text) : Number.NaN)

/** Reads the sentences of one receiver, one after another. */
export type NmeaReader = (line: string, today_s: number) => ReceiverLine

/**
 * A reader of NMEA 0183 sentences RMC, GGA and VTG of any talker. A position goes out with RMC; a receiver that sends none
 * gives one with each VTG after a GGA, on the day of `today_s` (UTC since 1970). Heights come from GGA. Sentences without
 * a valid position are parts without a fix; those of other kinds are unknown; a wrong checksum is told apart from garbage.
 * Source: the public description of NMEA 0183 sentence fields and checksum.
 */
export const nmeaReader = (): NmeaReader => {
  let height: { time: number; ele_m: number | undefined; lat_deg: number; lon_deg: number } | null = null
  // A receiver is taken for one without RMC once a whole round of sentences came without it.
  let roundsWithoutRmc = 0
  return (line, today_s) => {
    const match = /^[$!]([^*]{3,90})\*([0-9A-Fa-f]{2})$/.exec(line.trim())
    if (!match) return { kind: 'garbage' }
    const [, body, sum] = match
    if (nmeaChecksum(body) !== sum.toUpperCase()) return { kind: 'checksum' }
    const fields = body.split(',')
    switch (fields[0].slice(2)) {
      case 'RMC': {
        roundsWithoutRmc = Number.NEGATIVE_INFINITY
        const time = timeOfDay(fields[1])
        const fix: ReceivedFix = {
          time_s: dayStart(fields[9]) + time,
          lat_deg: angle(fields[3], fields[4]),
          lon_deg: angle(fields[5], fields[6]),
          ele_m: height?.ele_m,
          speed_mps: fields[7] ? Number(fields[7]) * KNOT_MPS : undefined,
        }
        return fields[2] === 'A' ? asFix(fix) : { kind: 'part' }
      }
      case 'GGA': {
        const quality = Number(fields[6] || 0)
        const ele_m = numberOr(fields[9])
        height =
          quality === 0
            ? null
            : {
                time: timeOfDay(fields[1]),
                ele_m: Number.isFinite(ele_m) ? ele_m : undefined,
                lat_deg: angle(fields[2], fields[3]),
                lon_deg: angle(fields[4], fields[5]),
              }
        return { kind: 'part' }
      }
      case 'VTG': {
        if (!height || roundsWithoutRmc++ < 1) return { kind: 'part' }
        const { time, ...place } = height
        height = null
        const speed = numberOr(fields[5]) * KNOT_MPS
        // Near midnight a time of day may belong to the day before or after.
        const day = Math.round((today_s - time) / DAY_S) * DAY_S
        return asFix({ time_s: day + time, ...place, speed_mps: Number.isFinite(speed) ? speed : undefined })
      }
      default:
        return { kind: 'unknown' }
    }
  }
}

const asFix = (fix: ReceivedFix): ReceiverLine =>
  Number.isFinite(fix.time_s) && Math.abs(fix.lat_deg) <= 90 && Math.abs(fix.lon_deg) <= 180 ? { kind: 'fix', fix } : { kind: 'part' }

const sentence = (body: string): string => `$${body}*${nmeaChecksum(body)}`

const degreesAsText = (value: number, digits: number, [plus, minus]: [string, string]): string => {
  const size = Math.abs(value)
  const tenMillionths = Math.round(size * 60 * 1e7)
  const whole = Math.floor(tenMillionths / (60 * 1e7))
  const minutes = (tenMillionths - whole * 60 * 1e7) / 1e7
  return `${String(whole).padStart(digits, '0')}${minutes.toFixed(7).padStart(10, '0')},${value < 0 ? minus : plus}`
}

/** The sentences GGA, VTG and RMC of one position, as a receiver sends them (seven decimals of a minute: under a millimetre). */
export const writeNmea = (fix: ReceivedFix): string[] => {
  const date = new Date(Math.round(fix.time_s * 1000))
  const iso = date.toISOString()
  const time = `${iso.slice(11, 13)}${iso.slice(14, 16)}${iso.slice(17, 23)}`
  const day = `${iso.slice(8, 10)}${iso.slice(5, 7)}${iso.slice(2, 4)}`
  const lat = degreesAsText(fix.lat_deg, 2, ['N', 'S'])
  const lon = degreesAsText(fix.lon_deg, 3, ['E', 'W'])
  const knots = ((fix.speed_mps ?? 0) / KNOT_MPS).toFixed(3)
  return [
    sentence(`GPGGA,${time},${lat},${lon},4,14,0.7,${(fix.ele_m ?? 0).toFixed(2)},M,0.0,M,,`),
    sentence(`GPVTG,,T,,M,${knots},N,${((fix.speed_mps ?? 0) * 3.6).toFixed(3)},K,D`),
    sentence(`GPRMC,${time},A,${lat},${lon},${knots},,${day},,,D`),
  ]
}
