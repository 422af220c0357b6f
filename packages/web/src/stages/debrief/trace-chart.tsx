import { Box, useTheme } from '@mui/material'
import { useEffect, useRef, useState } from 'react'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { createChart, type EChartsType } from './chart.ts'
import { type ChartLap, differencePoints, points, speedPoints } from './trace-columns.ts'

/** What stands under each other on one station axis, in the order of the charts. */
export const panels = ['speed', 'difference', 'pedals', 'wheel', 'offset', 'grip', 'gear'] as const
export type Panel = (typeof panels)[number]

type Props = {
  station_m: ArrayLike<number>
  length_m: number
  lap: ChartLap
  reference: ChartLap
  /** More laps, thin, in the panel of speeds. */
  more?: readonly ChartLap[]
  height: number
  shown: readonly Panel[]
  /** The stretch of the lap that is drawn (m); the whole lap where not given. */
  range?: { from_m: number; to_m: number } | null
}

/** Side margins of all charts (px). */
const MARGIN = { left: 52, right: 24 }
const TOP = 28
const GAP = 26
const BOTTOM = 22
/** Share of the height that each panel takes. */
const shares: Record<Panel, number> = { speed: 3, difference: 1.4, pedals: 2, wheel: 1.6, offset: 1.4, grip: 1.4, gear: 0.9 }
/** The whole lap is drawn thinned; a corner in full. */
const STRIDE = 2

type Row = [number, number][]
const none: readonly ChartLap[] = []

/** The lines of one panel: its axis, and columns of the lap and of what it is held against. */
const linesOf = (panel: Panel, station_m: ArrayLike<number>, lap: ChartLap, over: ChartLap, stride: number) => {
  const column = (values: ArrayLike<number>, scale: number): Row =>
    values.length === 0 ? [] : points(station_m, (i) => Math.round(values[i] * scale * 100) / 100, stride)
  switch (panel) {
    case 'speed':
      return { axis: 'Speed, km/h', own: [speedPoints(station_m, lap, stride)], other: [speedPoints(station_m, over, stride)] }
    case 'difference':
      return { axis: `Behind ${over.name}, s`, own: [differencePoints(station_m, lap, over, stride)], other: [] as Row[] }
    case 'pedals':
      return {
        axis: 'Throttle up, %; brake down, 0.01 g',
        own: [column(lap.throttle, 100), column(lap.brake, -100)],
        other: [column(over.throttle, 100), column(over.brake, -100)],
      }
    case 'wheel':
      return { axis: 'Wheel, 1/km, left up', own: [column(lap.wheel_1pm, 1000)], other: [column(over.wheel_1pm, 1000)] }
    case 'offset':
      return { axis: 'Offset, m, left up', own: [column(lap.offset_m, 1)], other: [column(over.offset_m, 1)] }
    case 'grip':
      return { axis: 'Grip used, % of dry', own: [column(lap.grip, 100)], other: [column(over.grip, 100)] }
    case 'gear':
      return { axis: 'Gear', own: [column(lap.gear, 1)], other: [column(over.gear, 1)] }
  }
}

/**
 * A lap over its reference in panels against station, with the shared cursor. Dragging moves along, ⇧ and the wheel zoom; a corner
 * can be looked at alone.
 */
export const TraceChart = ({ station_m, length_m, lap, reference, more = none, height, shown, range = null }: Props) => {
  const element = useRef<HTMLDivElement>(null)
  const chart = useRef<EChartsType | null>(null)
  const { palette } = useTheme()
  const { station_m: cursor, moveTo } = useLapSelection()
  const [seen, setSeen] = useState({ from_m: 0, to_m: length_m })
  const { from_m, to_m } = seen

  useEffect(() => {
    if (!element.current) return
    const created = createChart(element.current)
    chart.current = created
    created.getZr().on('mousemove', (event: { offsetX: number; offsetY: number }) => {
      const value = created.convertFromPixel({ xAxisIndex: 0 }, event.offsetX)
      if (typeof value === 'number' && value >= 0 && value <= length_m) moveTo(value)
    })
    created.on('datazoom', () => {
      const [zoom] = (created.getOption() as { dataZoom: { startValue: number; endValue: number }[] }).dataZoom
      setSeen({ from_m: zoom.startValue, to_m: zoom.endValue })
    })
    const observer = new ResizeObserver(() => created.resize())
    observer.observe(element.current)
    return () => {
      observer.disconnect()
      created.dispose()
      chart.current = null
    }
  }, [length_m, moveTo])

  useEffect(() => {
    const ink = palette.text.primary
    const quiet = palette.text.secondary
    const driven = palette.warning.main
    const planned = palette.primary.main
    const room = height - TOP - BOTTOM - GAP * (shown.length - 1)
    const total = shown.reduce((sum, panel) => sum + shares[panel], 0)
    const stride = range ? 1 : STRIDE
    const drawn = shown.map((panel) => linesOf(panel, station_m, lap, reference, stride))
    const heights = shown.map((panel) => (room * shares[panel]) / total)
    const tops = heights.map((_, i) => TOP + heights.slice(0, i).reduce((a, b) => a + b, 0) + GAP * i)
    const line = (name: string, i: number, data: Row, own: boolean) => ({
      type: 'line',
      name,
      xAxisIndex: i,
      yAxisIndex: i,
      data,
      showSymbol: false,
      silent: true,
      animation: false,
      step: shown[i] === 'gear' ? 'end' : false,
      lineStyle: own ? { width: 1.8, color: driven } : { width: 1.5, color: planned, type: [6, 4] },
      itemStyle: { color: own ? driven : planned },
    })
    chart.current?.setOption(
      {
        animation: false,
        textStyle: { fontFamily: "'Archivo Variable', sans-serif" },
        legend: {
          top: 0,
          right: 10,
          itemWidth: 18,
          itemHeight: 3,
          icon: 'rect',
          textStyle: { color: ink, fontSize: 12 },
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
          axisLabel: { show: i === shown.length - 1, color: quiet, fontSize: 11, formatter: (v: number) => `${Math.round(v)} m` },
          splitLine: { show: false },
          axisLine: { lineStyle: { color: quiet } },
        })),
        yAxis: shown.map((_, i) => ({
          gridIndex: i,
          type: 'value',
          name: drawn[i].axis,
          nameLocation: 'end',
          nameGap: 7,
          nameTextStyle: { align: 'left', color: quiet, fontSize: 12, padding: [0, 0, 0, -44] },
          splitNumber: 2,
          scale: true,
          axisLabel: { color: quiet, fontSize: 11, hideOverlap: true },
          splitLine: { lineStyle: { color: palette.divider } },
        })),
        series: shown.flatMap((_, i) => [
          ...(shown[i] === 'speed' ? more : []).map((one) => ({
            ...line('other laps', i, speedPoints(station_m, one, STRIDE), true),
            lineStyle: { width: 1, color: quiet, opacity: 0.45 },
          })),
          ...drawn[i].other.map((data) => line(reference.name, i, data, false)),
          ...drawn[i].own.map((data) => line(lap.name, i, data, true)),
        ]),
      },
      true,
    )
    setSeen({ from_m: range?.from_m ?? 0, to_m: range?.to_m ?? length_m })
  }, [station_m, length_m, lap, reference, more, height, palette, shown, range])

  const share = cursor === null || cursor < from_m || cursor > to_m ? null : (cursor - from_m) / (to_m - from_m)
  return (
    <Box
      sx={{ position: 'relative', height }}
      role="img"
      aria-label={`Speed, time difference and pedals of ${lap.name} over ${reference.name}`}
    >
      <Box ref={element} sx={{ position: 'absolute', inset: 0 }} />
      {share !== null && (
        <Box
          sx={{
            position: 'absolute',
            top: 24,
            bottom: 24,
            width: '1.2px',
            backgroundColor: 'text.primary',
            pointerEvents: 'none',
            left: `calc(${MARGIN.left}px + (100% - ${MARGIN.left + MARGIN.right}px) * ${share})`,
          }}
        />
      )}
    </Box>
  )
}
