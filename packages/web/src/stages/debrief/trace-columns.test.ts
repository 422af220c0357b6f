import { writeLayingCsv } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { differencePoints, speedPoints } from './trace-columns.ts'

const lap = (time_s: number[]) => ({ time_s: Float64Array.from(time_s), speed_mps: Float64Array.from([10, 20, 30]) })

describe('columns for charts', () => {
  it('are speeds in km/h and differences in seconds, thinned by the stride', () => {
    expect(speedPoints([0, 10, 20], lap([0, 1, 2]), 2)).toEqual([
      [0, 36],
      [20, 108],
    ])
    expect(differencePoints([0, 10, 20], lap([0, 1.5, 2.25]), lap([0, 1, 2]), 1)).toEqual([
      [0, 0],
      [10, 0.5],
      [20, 0.25],
    ])
  })
})

describe('the laying sheet as a file', () => {
  it('has a row a cone with metres to the decimetre', () => {
    const text = writeLayingCsv([
      {
        number: 1,
        cone: {
          id: 'c',
          groupId: 'c',
          cornerId: 'T1',
          kind: 'brake',
          colour: 'yellow',
          shape: 'tall',
          roadSide: 'left',
          station_m: 156.84,
          offset_m: 7.4,
          x_m: 0,
          y_m: 0,
          computed: { station_m: 156.84, offset_m: 7.4 },
          moved: [],
        },
        cornerName: 'Boathouse',
        beyondEdge_m: 0.4,
        fromLast_m: 156.84,
        fromApex_m: null,
        reference: { name: 'Seam', past_m: -3.14 },
        lat_deg: 47.1,
        lon_deg: null,
      },
    ])
    expect(text.split('\n')[1]).toBe('1,yellow,tall,Boathouse,brake,left,156.8,0.4,156.8,,47.1000000,,Seam,-3.1')
  })
})
