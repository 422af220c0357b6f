import { createTheme } from '@mui/material/styles'
import { describe, expect, it } from 'vitest'
import type { ChartLap } from './trace-columns.ts'
import { type Panel, panels, traceOption } from './trace-option.ts'

const { palette } = createTheme()
const station_m = Float64Array.from({ length: 500 }, (_, i) => 2 * i)
const column = (value: number): Float64Array => new Float64Array(500).fill(value)
const lapOf = (name: string, speed_mps: number): ChartLap => ({
  name,
  lapTime_s: 1000 / speed_mps,
  time_s: station_m.map((s) => s / speed_mps),
  speed_mps: column(speed_mps),
  offset_m: column(0.5),
  brake: column(0.2),
  throttle: column(0.7),
  wheel_1pm: column(0.01),
  grip: column(0.6),
  gear: new Uint8Array(500).fill(3),
  kappa_1pm: column(0.01),
  known: new Uint8Array(500).fill(1),
})

const option = (shown: readonly Panel[], range: { from_m: number; to_m: number } | null = null, more: readonly ChartLap[] = []) =>
  traceOption(
    { station_m, length_m: 1000, lap: lapOf('lap 2', 40), reference: lapOf('the plan', 50), more, height: 400, shown, range },
    palette,
  )

describe('the chart of a lap over its reference', () => {
  it('stacks the panels that are shown from top to bottom within its height', () => {
    const { grid, yAxis } = option(panels)
    expect(yAxis.map((axis) => axis.name)).toEqual([
      'Speed, km/h',
      'Against the plan, s: behind ↑, ahead ↓',
      'Throttle ↑, % of the pedal; brake ↓, % of 1 g',
      'Steering, 1/km: left ↑, right ↓',
      'Road position, m: left ↑, right ↓',
      'Grip used, % of dry',
      'Gear',
    ])
    grid.forEach((panel, i) => {
      expect(panel.top).toBeGreaterThan(i === 0 ? 0 : grid[i - 1].top + grid[i - 1].height)
      expect(panel.top + panel.height).toBeLessThanOrEqual(400)
    })
  })

  it('draws the lap over the reference, with numbers in the units of the axes', () => {
    const { series } = option(['speed', 'pedals', 'difference'])
    const last = (name: string, axis: number) =>
      series.filter((s) => s.name === name && s.xAxisIndex === axis).map((s) => s.data.at(-1)?.[1])
    expect(last('lap 2', 0)[0]).toBeCloseTo(144, 0)
    expect(last('the plan', 0)[0]).toBeCloseTo(180, 0)
    expect(last('lap 2', 1)).toEqual([70, -20])
    // At the end of the lap 25 s against 20 s.
    expect(last('lap 2', 2)[0]).toBeCloseTo(998 / 40 - 998 / 50, 1)
    expect(last('the plan', 2)).toEqual([])
  })

  it('thins the whole lap, and shows a corner in full between its ends', () => {
    const whole = option(['speed']).series[0].data.length
    const corner = option(['speed'], { from_m: 100.4, to_m: 300.2 })
    expect(whole).toBeLessThan(300)
    expect(corner.series[0].data.length).toBeGreaterThan(1.9 * whole)
    expect(corner.dataZoom[0]).toMatchObject({ startValue: 100, endValue: 301 })
  })

  it('draws other laps thin, in the panel of speeds alone', () => {
    const { series } = option(['speed', 'gear'], null, [lapOf('lap 1', 41), lapOf('lap 3', 42)])
    const others = series.filter((s) => s.name === 'other laps')
    expect(others.map((s) => s.xAxisIndex)).toEqual([0, 0])
    expect(others[0].lineStyle).toMatchObject({ width: 1 })
    expect(series.find((s) => s.xAxisIndex === 1 && s.name === 'lap 2')?.step).toBe('end')
  })
})
