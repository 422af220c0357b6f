import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { signedDistance } from '../circuit/station.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { seededRandom } from '../units/random.ts'
import { splitLaps } from './laps.ts'
import type { Log } from './log.ts'
import { matchLog } from './match.ts'
import { fastNoise, quadraticWeights, smoothRound } from './smooth.ts'

const plan = demoPlan()
const { circuit } = plan
const drive = simulateDrive(plan, { laps: 3, seed: 4 })
const pick = (log: Log, keep: (i: number) => boolean): Log => {
  const index = Array.from(log.time_s.keys()).filter(keep)
  return Object.fromEntries(Object.entries(log).map(([name, column]) => [name, Float64Array.from(index, (i) => column[i])])) as Log
}

describe('matching a log', () => {
  it('places fixes where the car was, counting on over laps', () => {
    const matched = matchLog(circuit, drive.log)
    expect(matched.onCircuit.every((on) => on === 1)).toBe(true)
    for (let i = 1; i < matched.travel_m.length; i++) expect(matched.travel_m[i]).toBeGreaterThan(matched.travel_m[i - 1])
    const laps = (matched.travel_m.at(-1) ?? 0) / circuit.length_m
    expect(laps).toBeGreaterThan(4)
  })

  it('never jumps to a neighbouring stretch', () => {
    const matched = matchLog(circuit, simulateDrive(plan, { laps: 2, seed: 9, noise_m: 0.8 }).log)
    for (let i = 1; i < matched.travel_m.length; i++) expect(Math.abs(matched.travel_m[i] - matched.travel_m[i - 1])).toBeLessThan(12)
  })

  it('finds the place of a circuit without one by the shape of the drive, within 1.5 m', () => {
    const { origin: _, ...local } = circuit
    const known = matchLog(circuit, drive.log)
    const fitted = matchLog(local, drive.log)
    for (let i = 0; i < known.travel_m.length; i += 20) {
      expect(Math.abs(signedDistance(known.travel_m[i], fitted.travel_m[i], circuit.length_m))).toBeLessThan(2)
      expect(Math.abs(known.offset_m[i] - fitted.offset_m[i])).toBeLessThan(1.5)
    }
  })

  it('lies better where it is known on which line a drive is expected, and tells how much it may err', () => {
    const { origin: _, ...local } = circuit
    const known = matchLog(circuit, drive.log)
    const fitted = matchLog(local, drive.log, () => plan.line.offset_m)
    const apart: number[] = []
    for (let i = 0; i < known.travel_m.length; i += 20) apart.push(Math.abs(known.offset_m[i] - fitted.offset_m[i]))
    expect(Math.max(...apart)).toBeLessThan(0.25)
    expect(known.positionUncertainty_m).toBe(0)
    expect(fitted.positionUncertainty_m).toBeLessThan(0.1)
    // Held against the middle of the road the same drive tells less.
    expect(matchLog(local, drive.log).positionUncertainty_m).toBeGreaterThan(4 * fitted.positionUncertainty_m)
  })

  it('refuses a log of another place', () => {
    const away = { ...drive.log, lat_deg: drive.log.lat_deg.map((v) => v + 0.1) }
    expect(() => matchLog(circuit, away)).toThrow(expect.objectContaining({ code: 'log-elsewhere' }))
  })
})

describe('laps of a log', () => {
  it.each([1, 2, 3, 4, 5])('are timed within 0.02 s at 10 Hz on a clean log (seed %i)', (seed) => {
    const one = simulateDrive(plan, { laps: 3, seed })
    const { laps } = splitLaps(circuit, one.log, matchLog(circuit, one.log))
    expect(laps.map((l) => l.lap)).toEqual([1, 2, 3])
    laps.forEach((lap, k) => {
      expect(Math.abs(lap.time_s - one.lapTimes_s[k])).toBeLessThan(0.02)
    })
    expect(Math.abs(laps[0].start_s - one.firstLine_s)).toBeLessThan(0.02)
  })

  it('begin and end within one fix of the line where the log does', () => {
    const first = drive.log.time_s.findIndex((t) => t > drive.firstLine_s)
    const last = drive.log.time_s.findLastIndex((t) => t < drive.firstLine_s + drive.lapTimes_s[0] + drive.lapTimes_s[1])
    const cut = pick(drive.log, (i) => i >= first && i <= last)
    const { laps } = splitLaps(circuit, cut, matchLog(circuit, cut))
    expect(laps).toHaveLength(2)
    expect(Math.abs(laps[0].time_s - drive.lapTimes_s[0])).toBeLessThan(0.02)
  })

  it('touched by a gap are kept, with the gap told', () => {
    const middle = drive.firstLine_s + drive.lapTimes_s[0] + 30
    const cut = pick(drive.log, (i) => drive.log.time_s[i] < middle || drive.log.time_s[i] > middle + 7)
    const { laps, skipped } = splitLaps(circuit, cut, matchLog(circuit, cut))
    expect(skipped).toEqual([])
    expect(laps.map((lap) => lap.gap_s > 6.9)).toEqual([false, true, false])
    expect(laps[0].gap_s).toBe(0)
    expect(Math.abs(laps[1].time_s - drive.lapTimes_s[1])).toBeLessThan(0.02)
  })

  it('that are mostly silence are left out, and the others keep their numbers', () => {
    const middle = drive.firstLine_s + drive.lapTimes_s[0] + 10
    const cut = pick(drive.log, (i) => drive.log.time_s[i] < middle || drive.log.time_s[i] > middle + 60)
    const { laps, skipped } = splitLaps(circuit, cut, matchLog(circuit, cut))
    expect(laps.map((l) => l.lap)).toEqual([1, 3])
    expect(skipped).toHaveLength(1)
    expect(skipped[0]).toMatchObject({ lap: 2, reason: 'silent' })
    expect(skipped[0].gap_s).toBeGreaterThan(59.9)
    expect(Math.abs(skipped[0].after_s - middle)).toBeLessThan(0.11)
  })

  it('with a stop are not compared', () => {
    const at = drive.firstLine_s + drive.lapTimes_s[0] + 40
    const stood = drive.log.time_s.findIndex((t) => t > at)
    // Ten seconds at one place, told ten times a second.
    const index = [
      ...Array.from({ length: stood }, (_, i) => i),
      ...new Array<number>(100).fill(stood),
      ...Array.from({ length: drive.log.time_s.length - stood }, (_, i) => stood + i),
    ]
    const time_s = Float64Array.from(index, (i, j) => drive.log.time_s[i] + (j < stood ? 0 : j < stood + 100 ? (j - stood) / 10 : 10))
    const log = Object.fromEntries(
      Object.entries(drive.log).map(([name, column]) => [name, Float64Array.from(index, (i) => column[i])]),
    ) as Log
    const { laps, skipped } = splitLaps(circuit, { ...log, time_s }, matchLog(circuit, { ...log, time_s }))
    expect(laps.map((l) => l.lap)).toEqual([1, 3])
    expect(skipped.map((s) => s.reason)).toEqual(['stop'])
  })

  it('on another layout are not compared, and one place that is wrong makes no other layout', () => {
    const { log, firstLine_s, lapTimes_s } = drive
    const { travel_m } = matchLog(circuit, log)
    const begin = firstLine_s + lapTimes_s[0]
    const at = (share: number): number =>
      travel_m.findIndex((m, i) => log.time_s[i] > begin && m % circuit.length_m > share * circuit.length_m)
    // Straight over the grass at 20 m/s, leaving out a fifth of the lap.
    const [from, to] = [at(0.4), at(0.6)]
    const across_m =
      111_195 *
      Math.hypot(log.lat_deg[to] - log.lat_deg[from], (log.lon_deg[to] - log.lon_deg[from]) * Math.cos(log.lat_deg[to] * (Math.PI / 180)))
    const steps = Math.round(across_m / 2)
    const mixed = (column: Float64Array): number[] =>
      Array.from({ length: steps }, (_, k) => column[from] + ((k + 1) / (steps + 1)) * (column[to] - column[from]))
    const cut = Object.fromEntries(
      Object.entries(log).map(([name, column]) => {
        if (name !== 'time_s') return [name, Float64Array.from([...column.slice(0, from + 1), ...mixed(column), ...column.slice(to)])]
        const shift = log.time_s[from] + (steps + 1) / 10 - log.time_s[to]
        const inside = Array.from({ length: steps }, (_, k) => log.time_s[from] + (k + 1) / 10)
        return [name, Float64Array.from([...column.slice(0, from + 1), ...inside, ...column.slice(to).map((t) => t + shift)])]
      }),
    ) as Log
    const short = splitLaps(circuit, cut, matchLog(circuit, cut))
    expect(short.skipped.map((s) => [s.lap, s.reason])).toEqual([[2, 'elsewhere']])
    expect(short.laps.map((lap) => lap.lap)).toEqual([1, 3])
    const wrong = { ...log, lat_deg: log.lat_deg.map((v, i) => (i === from ? v + 0.01 : v)) }
    const silent = pick(wrong, (i) => i <= from || log.time_s[i] > log.time_s[from] + 6)
    expect(splitLaps(circuit, silent, matchLog(circuit, silent)).laps).toHaveLength(3)
  })

  it('missing altogether is an error with the number of crossings, or the gap that spoils them', () => {
    const half = pick(drive.log, (i) => drive.log.time_s[i] < 70)
    expect(() => splitLaps(circuit, half, matchLog(circuit, half))).toThrow(expect.objectContaining({ code: 'log-no-lap' }))
    const end = drive.firstLine_s + drive.lapTimes_s[0] + 5
    const holed = pick(drive.log, (i) => drive.log.time_s[i] < end && (drive.log.time_s[i] < 30 || drive.log.time_s[i] > 100))
    expect(() => splitLaps(circuit, holed, matchLog(circuit, holed))).toThrow(expect.objectContaining({ code: 'log-gap' }))
  })
})

describe('smoothing', () => {
  it('keeps any parabola and sums its weights to one', () => {
    for (const half of [1, 2, 5]) {
      const w = quadraticWeights(half)
      const moment = (power: number): number => w.reduce((sum, v, k) => sum + v * (k - half) ** power, 0)
      expect(moment(0)).toBeCloseTo(1, 12)
      expect(moment(1)).toBeCloseTo(0, 12)
      expect(moment(2)).toBeCloseTo(0, 10)
    }
  })

  it('works round the lap and measures white noise', () => {
    const wave = Float64Array.from({ length: 200 }, (_, i) => Math.sin((2 * Math.PI * i) / 200))
    const smooth = smoothRound(wave, 3)
    for (let i = 0; i < 200; i++) expect(Math.abs(smooth[i] - wave[i])).toBeLessThan(1e-4)
    const random = seededRandom(17)
    const long = Float64Array.from({ length: 4000 }, (_, i) => Math.sin((2 * Math.PI * i) / 400))
    const noisy = long.map((v) => v + 0.1 * random.normal())
    expect(fastNoise(noisy)).toBeGreaterThan(0.09)
    expect(fastNoise(noisy)).toBeLessThan(0.11)
  })
})
