import type { Corner, Mark } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { stepCorner, stepMark } from './stepping.ts'

const mark = (station_m: number, cornerId: string): Mark => ({
  kind: 'apex',
  cornerId,
  station_m,
  offset_m: 0,
  speed_mps: 1,
  gear: 1,
  time_s: 0,
})
const marks = [mark(300, 'T2'), mark(100, 'T1'), mark(200, 'T1')]
const corners = ['T1', 'T2', 'T3'].map((id, i) => ({ id, peak_m: 100 * i }) as Corner)

describe('stepping along the lap', () => {
  it('goes through marks in order of station and round the lap', () => {
    const walk = [null, 100, 200, 300].map((from) => stepMark(marks, from, 1)?.station_m)
    expect(walk).toEqual([100, 200, 300, 100])
    expect(stepMark(marks, 100, -1)?.station_m).toBe(300)
    expect(stepMark(marks, 250, -1)).toEqual({ station_m: 200, cornerId: 'T1' })
    expect(stepMark([], 5, 1)).toBeNull()
  })

  it('goes through corners, beginning at the first or the last', () => {
    expect(stepCorner(corners, null, 1)?.cornerId).toBe('T1')
    expect(stepCorner(corners, null, -1)?.cornerId).toBe('T3')
    expect(stepCorner(corners, 'T3', 1)?.cornerId).toBe('T1')
    expect(stepCorner([], null, 1)).toBeNull()
  })
})
