import { LineChart } from 'echarts/charts'
import { DataZoomInsideComponent, GridComponent, LegendComponent } from 'echarts/components'
import { type EChartsType, init, use } from 'echarts/core'
import { CanvasRenderer } from 'echarts/renderers'

use([LineChart, GridComponent, LegendComponent, DataZoomInsideComponent, CanvasRenderer])

export type { EChartsType }

/** The one door to the charting library. */
export const createChart = (element: HTMLElement): EChartsType => init(element, null, { renderer: 'canvas' })
