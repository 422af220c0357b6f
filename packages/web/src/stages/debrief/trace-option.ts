import type { Palette } from '@mui/material'
import { say } from '../../language/say.ts'
import { metres, speedUnit } from '../../language/staff-units.ts'
import { type } from '../../look/scale.ts'
import { type ChartLap, differencePoints, points, speedPoints } from './trace-columns.ts'

/** Panels of the chart on one station axis, from top to bottom. */
export const panels = ['speed', 'difference', 'pedals', 'wheel', 'offset', 'grip', 'gear'] as const
export type Panel = (typeof panels)[number]

/** Contents of a chart. */
export type TraceChartContent = {
  station_m: ArrayLike<number>
  length_m: number
  lap: ChartLap
  reference: ChartLap
  /** More laps, thin, in the panel of speeds. */
  more: readonly ChartLap[]
  height: number
  shown: readonly Panel[]
  /** The stretch of the lap that is drawn (m); null for the whole lap. */
  range: { from_m: number; to_m: number } | null
}

/** Side margins of all charts (px). */
export const MARGIN = { left: 52, right: 24 }
const TOP = 28
const GAP = 26
const BOTTOM = 22
/** Share of the height that each panel takes. */
const shares: Record<Panel, number> = { speed: 3, difference: 1.4, pedals: 2, wheel: 1.6, offset: 1.4, grip: 1.4, gear: 0.9 }
/** The whole lap is drawn thinned; a corner in full. */
const STRIDE = 2

type Row = [number, number][]

/** Name of a panel's axis with its unit. */
const axisName = (panel: Panel, reference: ChartLap): string =>
  ({
    speed: say`Speed, ${speedUnit}`,
    difference: say`Against ${reference.name}, s: behind ↑, ahead ↓`,
    pedals: say`Throttle ↑, % of the pedal; brake ↓, % of 1 g`,
    wheel: say`Steering, 1/km: left ↑, right ↓`,
    offset: say`Road position, m: left ↑, right ↓`,
    grip: say`Grip used, % of dry`,
    gear: say`Gear`,
  })[panel]

/** The lines of one panel: columns of the lap and of its reference. */
const linesOf = (panel: Panel, station_m: ArrayLike<number>, lap: ChartLap, over: ChartLap, stride: number) => {
  const column = (values: ArrayLike<number>, scale: number): Row =>
    values.length === 0 ? [] : points(station_m, (i) => Math.round(values[i] * scale * 100) / 100, stride)
  switch (panel) {
    case 'speed':
      return { own: [speedPoints(station_m, lap, stride)], other: [speedPoints(station_m, over, stride)] }
    case 'difference':
      return { own: [differencePoints(station_m, lap, over, stride)], other: [] as Row[] }
    case 'pedals':
      return {
        own: [column(lap.throttle, 100), column(lap.brake, -100)],
        other: [column(over.throttle, 100), column(over.brake, -100)],
      }
    case 'wheel':
      return { own: [column(lap.wheel_1pm, 1000)], other: [column(over.wheel_1pm, 1000)] }
    case 'offset':
      return { own: [column(lap.offset_m, 1)], other: [column(over.offset_m, 1)] }
    case 'grip':
      return { own: [column(lap.grip, 100)], other: [column(over.grip, 100)] }
    case 'gear':
      return { own: [column(lap.gear, 1)], other: [column(over.gear, 1)] }
  }
}

/** Tops and heights of the panels (px). */
const layoutOf = (height: number, shown: readonly Panel[]): { tops: number[]; heights: number[] } => {
  const room = height - TOP - BOTTOM - GAP * (shown.length - 1)
  const total = shown.reduce((sum, panel) => sum + shares[panel], 0)
  const heights = shown.map((panel) => (room * shares[panel]) / total)
  return { heights, tops: heights.map((_, i) => TOP + heights.slice(0, i).reduce((a, b) => a + b, 0) + GAP * i) }
}

/** The lines of all panels: other laps, the reference, and the lap on top. */
const seriesOf = ({ station_m, lap, reference, more, shown, range }: TraceChartContent, palette: Palette) => {
  const stride = range ? 1 : STRIDE
  const drivenColour = palette.text.primary
  const referenceColour = palette.primary.main
  const line = (name: string, i: number, data: Row, own: boolean) => ({
    type: 'line',
    name,
    xAxisIndex: i,
    yAxisIndex: i,
    data,
    showSymbol: false,
    symbol: 'none',
    silent: true,
    animation: false,
    step: shown[i] === 'gear' ? 'end' : false,
    lineStyle: own ? { width: 1.8, color: drivenColour } : { width: 1.5, color: referenceColour, type: [6, 4] },
    itemStyle: { color: own ? drivenColour : referenceColour },
  })
  return shown.flatMap((panel, i) => {
    const lines = linesOf(panel, station_m, lap, reference, stride)
    return [
      ...(panel === 'speed' ? more : []).map((other) => ({
        ...line(say`other laps`, i, speedPoints(station_m, other, STRIDE), true),
        lineStyle: { width: 1, color: palette.text.secondary, type: [2, 3] },
      })),
      ...lines.other.map((data) => line(reference.name, i, data, false)),
      ...lines.own.map((data) => line(lap.name, i, data, true)),
    ]
  })
}

/** The chart's whole description, for the chart library. */
export const traceOption = (content: TraceChartContent, palette: Palette) => {
  const { length_m, lap, reference, height, shown, range } = content
  const quiet = palette.text.secondary
  const { tops, heights } = layoutOf(height, shown)
  return {
    animation: false,
    textStyle: { fontFamily: "'Archivo Variable', sans-serif" },
    legend: {
      top: 0,
      right: 10,
      itemWidth: 26,
      itemHeight: 8,
      // Drawn as the line is drawn, without a mark that no line has.
      itemStyle: { opacity: 0 },
      textStyle: { color: palette.text.primary, fontSize: type.desk.note[0] },
      data: [lap.name, reference.name],
    },
    dataZoom: [
      {
        type: 'inside',
        xAxisIndex: shown.map((_, i) => i),
        filterMode: 'filter',
        zoomOnMouseWheel: 'shift',
        moveOnMouseMove: true,
        minValueSpan: 60,
        startValue: Math.floor(range?.from_m ?? 0),
        endValue: Math.ceil(range?.to_m ?? length_m),
      },
    ],
    grid: shown.map((_, i) => ({ ...MARGIN, outerBoundsMode: 'none' as const, top: tops[i], height: heights[i] })),
    xAxis: shown.map((_, i) => ({
      gridIndex: i,
      type: 'value',
      min: 0,
      max: Math.ceil(length_m),
      axisLabel: {
        show: i === shown.length - 1,
        color: quiet,
        fontSize: type.desk.note[0],
        formatter: metres,
      },
      splitLine: { show: false },
      axisLine: { lineStyle: { color: quiet } },
    })),
    yAxis: shown.map((panel, i) => ({
      gridIndex: i,
      type: 'value',
      name: axisName(panel, reference),
      nameLocation: 'end',
      nameGap: 7,
      nameTextStyle: { align: 'left', color: quiet, fontSize: type.desk.note[0], padding: [0, 0, 0, -44] },
      splitNumber: 2,
      scale: true,
      axisLabel: { color: quiet, fontSize: type.desk.note[0], hideOverlap: true },
      splitLine: { lineStyle: { color: palette.divider } },
    })),
    series: seriesOf(content, palette),
  }
}
