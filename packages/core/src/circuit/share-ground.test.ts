import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { readCircuit } from '../formats/read-circuit.ts'
import { buildCircuit } from './build-circuit.ts'
import type { GroundItem } from './ground.ts'
import { followGround, sharedItem } from './share-ground.ts'
import { nearestStation, placeAt, signedDistance } from './station.ts'
import { beginningAt, reverseSurvey } from './survey.ts'

const text = readFileSync(new URL('../../../../demo/ostrel-mere.geojson', import.meta.url), 'utf8')
const survey = readCircuit(text, 'Long')
const long = buildCircuit(survey)
const turned = buildCircuit(reverseSurvey(survey))
const start = placeAt(long, 900, 0)
const later = buildCircuit(beginningAt(survey, start.x_m, start.y_m))
const item = (change: Partial<GroundItem> = {}): GroundItem => ({
  id: 'bump',
  kind: 'bump',
  name: 'Bump',
  side: 'left',
  from_m: 1500,
  to_m: 1560,
  ...change,
})
const ground = (circuit: typeof long, s_m: number): [number, number] => {
  const { x_m, y_m } = placeAt(circuit, s_m, 0)
  return [x_m, y_m]
}

describe('an item on another layout', () => {
  it('lies at the same place, whatever the start line', () => {
    const there = sharedItem(item(), long, later)
    expect(there?.side).toBe('left')
    for (const [own, carried] of [
      [1500, there?.from_m ?? 0],
      [1560, there?.to_m ?? 0],
    ]) {
      const [x, y] = ground(long, own)
      const [px, py] = ground(later, carried)
      expect(Math.hypot(x - px, y - py)).toBeLessThan(0.5)
    }
  })

  it('changes its side and its ends where the layout is driven the other way round', () => {
    const there = sharedItem(item(), long, turned)
    expect(there?.side).toBe('right')
    const [x, y] = ground(long, 1560)
    expect(Math.abs(signedDistance(there?.from_m ?? 0, nearestStation(turned, x, y), turned.length_m))).toBeLessThan(1)
    expect(sharedItem(there as GroundItem, turned, long)?.side).toBe('left')
  })

  it('is not there where the road is another one', () => {
    const away = buildCircuit({ ...survey, x_m: survey.x_m.map((x) => x + 40) })
    expect(sharedItem(item(), long, away)).toBeNull()
  })
})

describe('the ground of a venue', () => {
  const own = [item({ id: 'own', name: 'Own', from_m: 100, to_m: 100 })]
  it('follows what is added, changed and taken away on another layout, and keeps its own', () => {
    const added = followGround(own, [], [item()], long, later)
    expect(added.map((i) => i.id)).toEqual(['own', 'bump'])
    const renamed = followGround(added, [item()], [item({ name: 'Big bump' })], long, later)
    expect(renamed.find((i) => i.id === 'bump')?.name).toBe('Big bump')
    expect(followGround(renamed, [item({ name: 'Big bump' })], [], long, later)).toEqual(own)
    expect(followGround(own, [item()], [item()], long, later)).toEqual(own)
  })

  it('loses an item that moved to where the road is not shared', () => {
    const away = buildCircuit({ ...survey, x_m: survey.x_m.map((x, i) => x + 30 * Math.exp(-(((i - 80) / 30) ** 2))) })
    const shared = [item({ from_m: 2500, to_m: 2500 })]
    const with1 = followGround([], [], shared, long, away)
    expect(with1).toHaveLength(1)
    expect(followGround(with1, shared, [item({ from_m: 400, to_m: 400 })], long, away)).toEqual([])
  })
})
