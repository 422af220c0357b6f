import { describe, expect, it } from 'vitest'
import { withPin } from './pins-here.tsx'

describe('dragging a mark', () => {
  const pins = [
    { station_m: 100, offset_m: 3 },
    { station_m: 995, offset_m: -2 },
  ]

  it('adds its place, rounded to what a hand can do', () => {
    expect(withPin(pins, 400, { station_m: 412.345, offset_m: 1.2345 }, 1000)).toEqual([...pins, { station_m: 412.3, offset_m: 1.23 }])
  })

  it('moves a place that was dragged before, also over the line', () => {
    expect(withPin(pins, 104, { station_m: 130, offset_m: 2 }, 1000)).toEqual([pins[1], { station_m: 130, offset_m: 2 }])
    expect(withPin(pins, 500, { station_m: 3, offset_m: 0 }, 1000)).toEqual([pins[0], { station_m: 3, offset_m: 0 }])
  })
})
