import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { tangentPlane } from '../circuit/geodesy.ts'
import { analyseLog } from '../findings/analyse.ts'
import { writeLogCsv } from '../formats/log-csv.ts'
import { readLog } from '../formats/log-file.ts'
import { simulateDrive } from '../simulate/drive.ts'
import type { Log } from './log.ts'

const plan = demoPlan({ pace: 0.7 })
const habits = [
  { cornerId: 'T1', code: 'brake-early' as const, probability: 1, size: 45 },
  { cornerId: 'T6', code: 'exit-wide' as const, probability: 1, size: 2.2 },
]
const { log, lapTimes_s } = simulateDrive(plan, { laps: 3, seed: 6, noise_m: 0.05, habits })
const n = log.time_s.length
const nowhere = new Float64Array(n).fill(Number.NaN)
const plane = tangentPlane(plan.circuit.origin ?? { lat_deg: 0, lon_deg: 0 })
const places = Array.from(log.lat_deg, (lat, i) => plane.toPlane(lat, log.lon_deg[i], log.ele_m[i]))
const found = (of: Log) => {
  const { findings, laps, undecidableCodes } = analyseLog(plan.circuit, plan.corners, of, { kind: 'plan', plan })
  return { laps, undecidableCodes, roots: findings.filter((f) => f.root).map((f) => `${f.lap} ${f.cornerId} ${f.code}`) }
}
const own = found(log)
const expectLaps = (laps: readonly { time_s: number }[], within_s: number): void => {
  expect(laps).toHaveLength(3)
  for (let k = 0; k < 3; k++) expect(Math.abs(laps[k].time_s - lapTimes_s[k])).toBeLessThan(within_s)
}

describe('a log in local metres', () => {
  const local = (turn_rad: number, mirror: 1 | -1, shift_m: number): Log => ({
    ...log,
    lat_deg: nowhere,
    lon_deg: nowhere,
    x_m: Float64Array.from(places, (p) => Math.cos(turn_rad) * p.x_m - Math.sin(turn_rad) * mirror * p.y_m + shift_m),
    y_m: Float64Array.from(places, (p) => Math.sin(turn_rad) * p.x_m + Math.cos(turn_rad) * mirror * p.y_m - shift_m),
  })

  it.each([
    ['the circuit’s own', 0, 1, 0],
    ['the circuit’s own, the other hand', 0, -1, 0],
  ] as const)('%s: as with positions', (_, turn, mirror, shift) => {
    const { laps, roots } = found(local(turn, mirror, shift))
    expectLaps(laps, 0.01)
    expect(roots).toEqual(own.roots)
  })

  it.each([
    ['turned and shifted', 1.1, 1, 900],
    ['turned, shifted and in the other hand', -2.3, -1, -4000],
  ] as const)('%s: laid on the circuit by its shape', (_, turn, mirror, shift) => {
    const { laps, roots } = found(local(turn, mirror, shift))
    expectLaps(laps, 0.05)
    for (const lap of [1, 2, 3]) expect(roots).toContain(`${lap} T1 brake-early`)
  })

  it('reads what simulators write: the height second, in a table', () => {
    const header = 'time_s,x_m,y_m,z_m,speed_mps,brake_bar,throttle_pct,steer_deg,gear'
    const rows = Array.from({ length: n }, (_, i) =>
      [
        log.time_s[i],
        places[i].x_m,
        log.ele_m[i],
        -places[i].y_m,
        log.speed_mps?.[i],
        log.brake_bar?.[i],
        log.throttle_pct?.[i],
        log.steer_deg?.[i],
        log.gear?.[i],
      ]
        .map((v) => Number(v).toFixed(4))
        .join(','),
    )
    const { laps, roots } = found(readLog(`${header}\n${rows.join('\n')}\n`))
    expectLaps(laps, 0.01)
    expect(roots).toEqual(own.roots)
  })

  it('is refused where it fits no part of the circuit', () => {
    const square = Float64Array.from({ length: n }, (_, i) => (i % 4000 < 2000 ? i % 2000 : 2000))
    expect(() =>
      found({ ...log, lat_deg: nowhere, lon_deg: nowhere, x_m: square, y_m: Float64Array.from({ length: n }, (_, i) => i) }),
    ).toThrow(expect.objectContaining({ code: 'log-elsewhere' }))
  })
})

describe('a log without any positions', () => {
  /** Distance along the driven path, from the line on, and the number of the lap. */
  const driven = new Float64Array(n)
  for (let i = 1; i < n; i++) driven[i] = driven[i - 1] + Math.hypot(places[i].x_m - places[i - 1].x_m, places[i].y_m - places[i - 1].y_m)
  const { laps: known } = own
  const at = (time_s: number): number => {
    const i = log.time_s.findIndex((t) => t >= time_s)
    const share = (time_s - log.time_s[i - 1]) / (log.time_s[i] - log.time_s[i - 1])
    return driven[i - 1] + share * (driven[i] - driven[i - 1])
  }
  const ends = [...known.map((l) => l.start_s), known[2].start_s + known[2].time_s]
  const lap = log.time_s.map((t) => ends.filter((end) => end <= t).length)
  const lapDistance = driven.map((d, i) => (lap[i] === 0 ? d : d - at(ends[lap[i] - 1])))
  const bare: Log = { ...log, lat_deg: nowhere, lon_deg: nowhere }

  it.each([
    ['the distance in the lap', { ...bare, distance_m: lapDistance }],
    ['distance driven and the number of the lap', { ...bare, distance_m: driven, lap }],
    ['speed and the number of the lap', { ...bare, lap }],
  ] as [string, Log][])('is laid on the circuit by %s', (_, of) => {
    const { laps, roots, undecidableCodes } = found(of)
    expectLaps(laps, 0.06)
    for (const number of [1, 2, 3]) expect(roots).toContain(`${number} T1 brake-early`)
    // Where the car was across the road it cannot tell, and says so.
    expect(roots.some((root) => root.endsWith('exit-wide'))).toBe(false)
    expect(undecidableCodes).toEqual(expect.arrayContaining(['exit-wide', 'apex-missed', 'setup-narrow']))
  })

  it('survives being written and read again', () => {
    expect(found(readLog(writeLogCsv({ ...bare, distance_m: lapDistance }))).roots.filter((r) => r.includes('T1'))).toContain(
      '1 T1 brake-early',
    )
  })

  it('is refused where nothing tells its laps apart', () => {
    expect(() => found({ ...bare, distance_m: driven })).toThrow(expect.objectContaining({ code: 'log-no-lap' }))
  })
})

describe('accelerations where pedals are missing', () => {
  const { lat_deg, lon_deg, ele_m, time_s, speed_mps, brake_bar, throttle_pct } = log
  const bare = { time_s, lat_deg, lon_deg, ele_m, speed_mps } as Log
  const along = Float64Array.from({ length: n }, (_, i) => {
    const [a, b] = [Math.max(0, i - 1), Math.min(n - 1, i + 1)]
    const rise = (ele_m[b] - ele_m[a]) / Math.max(1, (speed_mps?.[i] ?? 1) * (time_s[b] - time_s[a]))
    return ((speed_mps?.[b] ?? 0) - (speed_mps?.[a] ?? 0)) / (time_s[b] - time_s[a]) + 9.80665 * Math.sin(Math.atan(rise))
  })

  it('give demands whatever their unit, sign, angle and offset, and are told', () => {
    const across = Float64Array.from({ length: n }, (_, i) => 6 * Math.sin(i / 40))
    // Mounted backwards, turned by 20°, showing 0.4 m/s² at rest.
    const [cos, sin] = [Math.cos(0.35), Math.sin(0.35)]
    const ax_mps2 = along.map((a, i) => -(cos * a + sin * across[i]) + 0.4)
    const ay_mps2 = along.map((a, i) => -(cos * across[i] - sin * a))
    const analysis = analyseLog(plan.circuit, plan.corners, { ...bare, ax_mps2, ay_mps2 }, { kind: 'plan', plan })
    const { demands } = analysis.quality
    expect(demands.source).toBe('accelerations')
    expect(Math.abs(Math.abs(demands.mounting?.turned_deg ?? 0) - 160)).toBeLessThan(4)
    expect(demands.mounting?.scale).toBeCloseTo(1, 1)
    const roots = analysis.findings.filter((f) => f.root).map((f) => `${f.lap} ${f.cornerId} ${f.code}`)
    for (const number of [1, 2, 3]) expect(roots).toContain(`${number} T1 brake-early`)
  })

  it('are left alone where they follow nothing that the car did, and where pedals are there', () => {
    const noise = Float64Array.from({ length: n }, (_, i) => 3 * Math.sin(1.7 * i))
    expect(analyseLog(plan.circuit, plan.corners, { ...bare, ax_mps2: noise }, { kind: 'plan', plan }).quality.demands.source).toBe('speed')
    const full = { ...bare, brake_bar, throttle_pct, ax_mps2: along } as Log
    expect(analyseLog(plan.circuit, plan.corners, full, { kind: 'plan', plan }).quality.demands.source).toBe('pedals')
  })
})
