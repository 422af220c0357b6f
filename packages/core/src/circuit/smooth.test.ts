import { describe, expect, it } from 'vitest'
import { fixtureText } from '../../fixtures/load.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { seededRandom } from '../units/random.ts'
import { buildCircuit } from './build-circuit.ts'
import { findCorners } from './corners.ts'
import { smoothSurvey, surveyNoise } from './smooth.ts'
import { isWithin } from './station.ts'
import type { Survey } from './survey.ts'

const RADIUS = 40
const STRAIGHT = 200
const AROUND = 2 * STRAIGHT + 2 * Math.PI * RADIUS

/** A point of two straights joined by half circles of 40 m radius. */
const pointAt = (s: number): [number, number] => {
  const half = STRAIGHT + Math.PI * RADIUS
  const second = s >= half
  const along = second ? s - half : s
  const turned = (x: number, y: number): [number, number] => (second ? [STRAIGHT - x, 2 * RADIUS - y] : [x, y])
  if (along < STRAIGHT) return turned(along, 0)
  const angle = (along - STRAIGHT) / RADIUS
  return turned(STRAIGHT + RADIUS * Math.sin(angle), RADIUS * (1 - Math.cos(angle)))
}

const sampled = (noise_m: number, seed = 1, spacing_m = 5): Survey => {
  const random = seededRandom(seed)
  const n = Math.round(AROUND / spacing_m)
  const points = Array.from({ length: n }, (_, i) => pointAt((i * AROUND) / n))
  return {
    name: 'two arcs',
    x_m: Float64Array.from(points, (p) => p[0] + noise_m * random.normal()),
    y_m: Float64Array.from(points, (p) => p[1] + noise_m * random.normal()),
    z_m: new Float64Array(n),
    widthLeft_m: new Float64Array(n).fill(5),
    widthRight_m: new Float64Array(n).fill(5),
    bank_rad: new Float64Array(n),
  }
}

/** Radii (m) along both arcs, 20 m and more from their ends. */
const radiiInside = (survey: Survey): number[] => {
  const circuit = buildCircuit(survey)
  const ends = [0, STRAIGHT].flatMap((x) => [0, 2 * RADIUS].map((y) => [x, y]))
  const inside = (i: number): boolean =>
    (circuit.x_m[i] < 0 || circuit.x_m[i] > STRAIGHT) &&
    ends.every(([x, y]) => Math.hypot(circuit.x_m[i] - x, circuit.y_m[i] - y) > 2 * RADIUS * Math.sin(20 / (2 * RADIUS)))
  return Array.from({ length: circuit.count }, (_, i) => i)
    .filter(inside)
    .map((i) => 1 / circuit.kappa_1pm[i])
}

describe('smoothing of surveys', () => {
  it('recovers a radius within 1 % without noise, and leaves the survey as it is', () => {
    const survey = sampled(0)
    expect(smoothSurvey(survey)).toBe(survey)
    for (const radius of radiiInside(survey)) expect(Math.abs(radius / RADIUS - 1)).toBeLessThan(0.01)
  })

  it.each([1, 2, 3, 4, 5, 6])('recovers it within 5 % under 0.3 m of noise (seed %i)', (seed) => {
    const radii = radiiInside(sampled(0.3, seed))
    expect(radii.length).toBeGreaterThan(60)
    for (const radius of radii) expect(Math.abs(radius / RADIUS - 1)).toBeLessThan(0.05)
  })

  it.each([0.05, 0.3, 0.8])('knows the noise: %f m', (noise_m) => {
    expect(surveyNoise(sampled(noise_m, 3, 3)) / noise_m).toBeGreaterThan(0.8)
    expect(surveyNoise(sampled(noise_m, 3, 3)) / noise_m).toBeLessThan(1.25)
  })

  it.each(['ostrel-mere.csv', 'lobes.csv'])('finds the corners of %s again under noise, where they were', (file) => {
    const clean = readCircuit(fixtureText(file), file)
    const random = seededRandom(11)
    const shaken = (column: Float64Array): Float64Array => column.map((v) => v + 0.3 * random.normal())
    const noisy = { ...clean, x_m: shaken(clean.x_m), y_m: shaken(clean.y_m), z_m: shaken(clean.z_m) }
    const [before, after] = [buildCircuit(clean), buildCircuit(noisy)]
    expect(Math.abs(after.length_m / before.length_m - 1)).toBeLessThan(0.002)
    const [own, found] = [findCorners(before), findCorners(after)]
    expect(found).toHaveLength(own.length)
    found.forEach((corner, k) => {
      expect(corner.side).toBe(own[k].side)
      expect(isWithin(corner.peak_m, own[k].start_m, own[k].end_m, before.length_m)).toBe(true)
      expect(Math.abs(corner.turn_rad - own[k].turn_rad)).toBeLessThan(0.15)
    })
    const rms = Math.sqrt(
      after.z_m.reduce((sum, z, i) => sum + (z - before.z_m[Math.round((i * before.count) / after.count) % before.count]) ** 2, 0) /
        after.count,
    )
    expect(rms).toBeLessThan(0.25)
  })
})
