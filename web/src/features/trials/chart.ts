/** Charts of the tests: lines over a year of days, or over thickness. */
import { FONT, INK, OVER, RULE, SOFT } from '@/drawing/chart'

export interface Curve {
  name: string
  values: [number, number][]
  color?: string
  dashed?: boolean
  width?: number
  opacity?: number
}
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const STARTS = [0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334]

/** “12 Mar” of a day counted from a day of the year (0 is 1 January). */
export function dayWord(day: number, from: number): string {
  const at = (((Math.floor(day) + from) % 365) + 365) % 365
  const month = STARTS.findLastIndex((s) => s <= at)
  return `${at - STARTS[month]! + 1} ${MONTHS[month]}`
}
export function dayOfYear(monthDay: string): number {
  const [month, day] = monthDay.split('-').map(Number)
  return (STARTS[(month ?? 1) - 1] ?? 0) + (day ?? 1) - 1
}

export function lines(
  curves: Curve[],
  x: { name: string; least: number; most: number; word: (v: number) => string },
  limits: { at: number; word: string }[] = [],
  y: { unit: string; most?: number } = { unit: '%', most: 100 },
) {
  return {
    animation: false,
    textStyle: { fontFamily: FONT, color: INK },
    grid: { left: 52, right: 16, top: 12, bottom: 34 },
    xAxis: {
      type: 'value',
      min: x.least,
      max: x.most,
      name: x.name,
      nameLocation: 'middle',
      nameGap: 20,
      axisLabel: { color: SOFT, formatter: x.word },
      axisLine: { lineStyle: { color: INK } },
      splitLine: { show: false },
    },
    yAxis: {
      type: 'value',
      scale: true,
      max: y.most,
      axisLabel: { color: SOFT, formatter: (v: number) => `${+v.toFixed(1)} ${y.unit}`.replace('-', '−') },
      splitLine: { lineStyle: { color: RULE } },
    },
    series: curves.map((curve, i) => ({
      name: curve.name,
      type: 'line',
      showSymbol: curve.values.length < 12,
      symbolSize: 6,
      lineStyle: {
        width: curve.width ?? 1.8,
        type: curve.dashed ? 'dashed' : 'solid',
        color: curve.color ?? INK,
        opacity: curve.opacity ?? 1,
      },
      itemStyle: { color: curve.color ?? INK },
      data: curve.values,
      markLine:
        i > 0 || !limits.length
          ? undefined
          : {
              symbol: 'none',
              silent: true,
              lineStyle: { color: OVER, type: 'dashed' },
              label: {
                formatter: (p: { dataIndex: number }) => limits[p.dataIndex]?.word ?? '',
                position: 'insideStartTop',
                color: OVER,
              },
              data: limits.map((l) => ({ yAxis: l.at })),
            },
    })),
  }
}
