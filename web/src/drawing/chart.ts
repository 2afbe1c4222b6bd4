/** The ECharts that are used, and the look of the charts. */
import { LineChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent, TitleComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { CanvasRenderer } from 'echarts/renderers'

use([LineChart, GridComponent, MarkLineComponent, TitleComponent, CanvasRenderer])

export const INK = '#1D2B36'
export const SOFT = '#5B6770'
export const RULE = '#CFC7B6'
export const OVER = '#8A2A2A'
export const WATER = '#1F6A70'
export const FONT = "'Source Sans 3 Variable', Arial, sans-serif"

/** Wetness from paper through grey-green and teal to near-black, for RH 40 to 100 %. */
const STOPS: [number, [number, number, number]][] = [
  [0.4, [245, 240, 226]],
  [0.6, [226, 226, 205]],
  [0.75, [186, 205, 190]],
  [0.85, [120, 172, 168]],
  [0.93, [49, 117, 122]],
  [0.98, [20, 66, 78]],
  [1.0, [15, 26, 36]],
]
export function wetness(rh: number): [number, number, number] {
  if (rh <= STOPS[0]![0]) return STOPS[0]![1]
  for (let i = 1; i < STOPS.length; i++) {
    const [x1, c1] = STOPS[i]!
    if (rh <= x1) {
      const [x0, c0] = STOPS[i - 1]!
      const t = (rh - x0) / (x1 - x0)
      return [0, 1, 2].map((k) => Math.round(c0[k]! + t * (c1[k]! - c0[k]!))) as [number, number, number]
    }
  }
  return STOPS[STOPS.length - 1]![1]
}

/** Labels pushed apart by a least distance and kept above `most`, in their order. */
export function spread<T extends { y: number }>(labels: T[], least: number, most: number): T[] {
  for (let i = 1; i < labels.length; i++) labels[i]!.y = Math.max(labels[i]!.y, labels[i - 1]!.y + least)
  for (let i = labels.length - 1; i >= 0; i--)
    labels[i]!.y = Math.min(labels[i]!.y, i === labels.length - 1 ? most : labels[i + 1]!.y - least)
  return labels
}
