import { Box, useTheme } from '@mui/material'
import { useEffect, useRef, useState } from 'react'
import { say } from '../../language/say.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { measuredFrame } from '../../shared/use-size.ts'
import { createChart, type EChartsType } from './chart.ts'
import type { ChartLap } from './trace-columns.ts'
import { MARGIN, type TraceChartContent, traceOption } from './trace-option.ts'

type Props = Omit<TraceChartContent, 'more' | 'range'> & Partial<Pick<TraceChartContent, 'more' | 'range'>>

const none: readonly ChartLap[] = []

/** An empty chart in an element, with the cursor moved by the mouse; calls back with the stretch that is seen. */
const useChart = (length_m: number, onSeen: (seen: { from_m: number; to_m: number }) => void) => {
  const element = useRef<HTMLDivElement>(null)
  const chart = useRef<EChartsType | null>(null)
  const { moveTo } = useLapSelection()
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
      onSeen({ from_m: zoom.startValue, to_m: zoom.endValue })
    })
    const observer = new ResizeObserver(() => created.resize())
    observer.observe(element.current)
    return () => {
      observer.disconnect()
      created.dispose()
      chart.current = null
    }
  }, [length_m, moveTo, onSeen])
  return { element, chart }
}

/**
 * A lap over its reference in panels against station, with the shared cursor. Dragging moves along, ⇧ and the wheel zoom; a corner
 * can be looked at alone.
 */
export const TraceChart = ({ station_m, length_m, lap, reference, more = none, height, shown, range = null }: Props) => {
  const { palette } = useTheme()
  const { station_m: cursor } = useLapSelection()
  const [{ from_m, to_m }, setSeen] = useState({ from_m: 0, to_m: length_m })
  const { element, chart } = useChart(length_m, setSeen)

  useEffect(() => {
    chart.current?.setOption(traceOption({ station_m, length_m, lap, reference, more, height, shown, range }, palette), true)
    setSeen({ from_m: range?.from_m ?? 0, to_m: range?.to_m ?? length_m })
  }, [chart, station_m, length_m, lap, reference, more, height, palette, shown, range])

  const share = cursor === null || cursor < from_m || cursor > to_m ? null : (cursor - from_m) / (to_m - from_m)
  return (
    <Box
      sx={{ ...measuredFrame, position: 'relative', height }}
      role="img"
      aria-label={say`Speed, time difference and pedals of ${lap.name} over ${reference.name}`}
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
