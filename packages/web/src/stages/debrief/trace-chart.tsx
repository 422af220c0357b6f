import { Box, useTheme } from '@mui/material'
import { useEffect, useRef } from 'react'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { createChart, type EChartsType } from './chart.ts'
import { type ChartLap, differencePoints, points, speedPoints } from './trace-columns.ts'

type Props = { station_m: ArrayLike<number>; length_m: number; lap: ChartLap; reference: ChartLap; height: number }

/** Side margins of all charts (px). */
const MARGIN = { left: 52, right: 12 }
const STRIDE = 2

/** Speed, time difference and pedals of a lap over its reference, against station, with the shared cursor. */
export const TraceChart = ({ station_m, length_m, lap, reference, height }: Props) => {
  const element = useRef<HTMLDivElement>(null)
  const chart = useRef<EChartsType | null>(null)
  const { palette } = useTheme()
  const { station_m: cursor, moveTo } = useLapSelection()

  useEffect(() => {
    if (!element.current) return
    const created = createChart(element.current)
    chart.current = created
    created.getZr().on('mousemove', (event: { offsetX: number; offsetY: number }) => {
      const value = created.convertFromPixel({ xAxisIndex: 0 }, event.offsetX)
      if (typeof value === 'number' && value >= 0 && value <= length_m) moveTo(value)
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
    const grids = [
      { top: 28, height: height * 0.4 },
      { top: 28 + height * 0.4 + 30, height: height * 0.2 },
      { top: 28 + height * 0.6 + 60, height: height * 0.4 - 112 },
    ]
    const axis = (i: number, name: string, extra: object = {}) => ({
      gridIndex: i,
      type: 'value',
      name,
      nameLocation: 'end',
      nameGap: 8,
      nameTextStyle: { align: 'left', color: quiet, fontSize: 12, padding: [0, 0, 0, -44] },
      splitNumber: 3,
      axisLabel: { color: quiet, fontSize: 11 },
      splitLine: { lineStyle: { color: palette.divider } },
      ...extra,
    })
    const line = (name: string, i: number, data: [number, number][], color: string, extra: object = {}) => ({
      type: 'line',
      name,
      xAxisIndex: i,
      yAxisIndex: i,
      data,
      showSymbol: false,
      silent: true,
      animation: false,
      lineStyle: { width: 1.8, color },
      itemStyle: { color },
      ...extra,
    })
    const driven = palette.warning.main
    const planned = palette.primary.main
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
        grid: grids.map((g) => ({ ...MARGIN, ...g })),
        xAxis: grids.map((_, i) => ({
          gridIndex: i,
          type: 'value',
          min: 0,
          max: Math.ceil(length_m),
          axisLabel: { show: i === grids.length - 1, color: quiet, fontSize: 11, formatter: (v: number) => `${Math.round(v)} m` },
          splitLine: { show: false },
          axisLine: { lineStyle: { color: quiet } },
        })),
        yAxis: [
          axis(0, 'Speed, km/h'),
          axis(1, `Behind ${reference.name}, s`),
          axis(2, 'Throttle up, brake down, %', { min: -100, max: 100, interval: 100 }),
        ],
        series: [
          line(reference.name, 0, speedPoints(station_m, reference, STRIDE), planned, {
            lineStyle: { width: 1.6, color: planned, type: [6, 4] },
          }),
          line(lap.name, 0, speedPoints(station_m, lap, STRIDE), driven),
          line(lap.name, 1, differencePoints(station_m, lap, reference, STRIDE), driven),
          line(
            lap.name,
            2,
            points(station_m, (i) => Math.round(100 * lap.throttle[i]), STRIDE),
            driven,
          ),
          line(
            lap.name,
            2,
            points(station_m, (i) => -Math.round(100 * lap.brake[i]), STRIDE),
            driven,
          ),
        ],
      },
      true,
    )
  }, [station_m, length_m, lap, reference, height, palette])

  const share = cursor === null ? null : cursor / length_m
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
