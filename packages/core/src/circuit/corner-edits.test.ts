import { describe, expect, it } from 'vitest'
import { fixtureCircuit, fixtureText } from '../../fixtures/load.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { buildCircuit } from './build-circuit.ts'
import { carryEdits, carryStation, checkSamePlace, inPlaneOf } from './carry.ts'
import { type CornerEdit, editCorners, findGroups } from './corner-edits.ts'
import { findCorners } from './corners.ts'
import { tangentPlane } from './geodesy.ts'
import { findGround } from './ground.ts'
import { reverseSurvey } from './survey.ts'
import { makeVenue } from './venue.ts'

const circuit = fixtureCircuit('ostrel-mere.geojson')
const found = findCorners(circuit)
const edited = (...edits: CornerEdit[]) => editCorners(circuit, found, edits)
const ids = (corners: readonly { id: string }[]): string[] => corners.map((c) => c.id)

describe('corners edited by hand', () => {
  it('are those that were found without edits, in order of travel', () => {
    expect(edited()).toEqual(found)
  })

  it('split at a station, and share their turn', () => {
    const corners = edited({ kind: 'split', at_m: found[3].peak_m })
    expect(ids(corners).slice(2, 6)).toEqual(['T3', 'T4a', 'T4b', 'T5'])
    const [a, b] = corners.slice(3, 5)
    expect(a.turn_rad + b.turn_rad).toBeCloseTo(found[3].turn_rad, 1)
    expect(b.start_m).toBeCloseTo(found[3].peak_m, 0)
  })

  it('merge into the first of two', () => {
    const corners = edited({ kind: 'merge', at_m: found[7].peak_m, to_m: found[6].peak_m })
    expect(ids(corners)).toEqual(['T1', 'T2', 'T3', 'T4', 'T5', 'T6', 'T7', 'T9', 'T10', 'T11'])
    expect(corners[6].start_m).toBeCloseTo(found[6].start_m, 0)
    expect(corners[6].end_m).toBeCloseTo(found[7].end_m, 0)
  })

  it('move, go and come, and keep the ids of the rest', () => {
    const corners = edited(
      { kind: 'move', at_m: found[0].peak_m, start_m: found[0].start_m - 20, end_m: found[0].end_m },
      { kind: 'remove', at_m: found[9].peak_m },
      { kind: 'add', start_m: 60, end_m: 100 },
    )
    expect(ids(corners)).toEqual(['T12', 'T1', 'T2', 'T3', 'T4', 'T5', 'T6', 'T7', 'T8', 'T9', 'T11'])
    expect(corners[1].start_m).toBeCloseTo(found[0].start_m - 20, -0.5)
  })

  it('change nothing where their station lies in no corner', () => {
    expect(edited({ kind: 'remove', at_m: 3300 }, { kind: 'merge', at_m: found[0].peak_m, to_m: 3300 })).toEqual(found)
  })

  it('follow the ground when the survey is renewed, even with another start line', () => {
    const survey = readCircuit(fixtureText('ostrel-mere.csv'), 'again')
    const turned = (column: Float64Array, by = 100): Float64Array => Float64Array.from(column, (_, i) => column[(i + by) % column.length])
    const old = buildCircuit(survey)
    const renewed = buildCircuit({
      ...survey,
      x_m: turned(survey.x_m),
      y_m: turned(survey.y_m),
      z_m: turned(survey.z_m),
      widthLeft_m: turned(survey.widthLeft_m),
      widthRight_m: turned(survey.widthRight_m),
      bank_rad: turned(survey.bank_rad),
    })
    const at_m = findCorners(old)[3].peak_m
    const edits = carryEdits(old, renewed, [{ kind: 'split', at_m }])
    const shift = renewed.length_m - carryStation(old, renewed, 0)
    expect(edits[0]).toMatchObject({ kind: 'split', at_m: expect.closeTo(at_m - shift, -0.5) })
    expect(makeVenue(renewed, { cornerEdits: edits }).corners).toHaveLength(12)
  })
})

describe('a survey of the same place', () => {
  const survey = readCircuit(fixtureText('ostrel-mere.geojson'), 'mere')

  it('is told from its reverse and from another place', () => {
    expect(() => checkSamePlace(circuit, buildCircuit(survey))).not.toThrow()
    expect(() => checkSamePlace(circuit, buildCircuit(reverseSurvey(survey)))).toThrow(
      expect.objectContaining({ code: 'circuit-reversed' }),
    )
    expect(() => checkSamePlace(circuit, fixtureCircuit('lobes.csv'))).toThrow(expect.objectContaining({ code: 'circuit-elsewhere' }))
  })

  it('is laid on the older one from whatever point it was measured', () => {
    const { lat_deg, lon_deg } = tangentPlane(survey.origin ?? { lat_deg: 0, lon_deg: 0 }).toGeodetic(400, -300, 0)
    const moved = inPlaneOf(circuit, { lat_deg, lon_deg })
    expect(moved.x_m[0]).toBeCloseTo(-400, 0)
    const back = inPlaneOf(moved, survey.origin)
    for (let i = 0; i < circuit.count; i += 50)
      expect(Math.hypot(back.x_m[i] - circuit.x_m[i], back.y_m[i] - circuit.y_m[i])).toBeLessThan(1e-3)
  })
})

describe('groups of corners', () => {
  it('join what is driven as one', () => {
    const short = fixtureCircuit('ostrel-mere-short.csv')
    expect(findGroups(circuit, found)).toEqual([
      { kind: 'chicane', cornerIds: ['T7', 'T8'] },
      { kind: 'chicane', cornerIds: ['T10', 'T11'] },
    ])
    expect(findGroups(short, findCorners(short))).toEqual([{ kind: 'esses', cornerIds: ['T3', 'T4', 'T5'] }])
    const stadium = fixtureCircuit('stadium.csv')
    expect(findGroups(stadium, findCorners(stadium))).toEqual([])
  })

  it('see two apexes of one corner, also when they were split', () => {
    expect(found[3].shape).toBe('double-apex')
    const groups = findGroups(circuit, edited({ kind: 'split', at_m: (found[3].start_m + found[3].end_m) / 2 }))
    expect(groups).toContainEqual({ kind: 'double-apex', cornerIds: ['T4a', 'T4b'] })
  })
})

describe('ground that the survey shows', () => {
  it('has the crest, the dip and the off-camber corner of the demo, and nothing on flat ground', () => {
    const kinds = findGround(circuit).map((g) => g.kind)
    expect(kinds).toEqual(['crest', 'dip', 'off-camber'])
    expect(findGround(fixtureCircuit('stadium.csv'))).toEqual([])
  })
})
