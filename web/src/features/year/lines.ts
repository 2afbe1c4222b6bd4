/** What the lines under the pictures show, and how the chart draws them. Pure. */
import type { Schemas } from '@/api/client'
import { FONT, INK, OVER, RULE, SOFT } from '@/drawing/chart'
import { show } from '@/shared/units'

export type Year = Schemas['Year']
export type Line = Schemas['Line']
export type Kind = 'rh' | 'mould' | 'wood' | 'water'
const KINDS: [Kind, string][] = [
  ['rh', 'Relative humidity'],
  ['mould', 'Mould index'],
  ['wood', 'Wood moisture'],
  ['water', 'Total water'],
]

/** The kinds of line that any of these years has. */
export function kindsOf(years: Year[]): [Kind, string][] {
  const have = new Set(years.flatMap((y) => y.lines.map((l) => l.kind)))
  return KINDS.filter(([k]) => have.has(k))
}
export const unitOfKind = (kind: Kind): string =>
  ({ rh: '%', mould: '', wood: 'mass-%', water: show(1, 'water').split(' ').slice(1).join(' ') })[kind]

/** The plane that stands for the watched one in another build-up: the same name, else the nearest inside. */
export function sharedPlane(years: Year[], year: Year, watched: string): string {
  if (watched in year.planes) return watched
  const depth = years[years.length - 1]?.planes[watched] ?? 0
  const inner = Object.keys(year.planes).filter((name) => !/^(outer|room) face of/.test(name))
  const gap = (name: string): number => Math.abs(year.planes[name]! - depth)
  return inner.reduce(
    (best, name) => (gap(name) < gap(best) ? name : best),
    inner[0] ?? Object.keys(year.planes)[0] ?? '',
  )
}

export interface Drawn {
  year: Year
  line: Line
}
/** The lines of a kind, at the watched plane where the kind has one. */
export function linesOf(years: Year[], kind: Kind, watched: string): Drawn[] {
  return years.flatMap((year) => {
    const key = kind === 'rh' || kind === 'mould' ? `${kind}:${sharedPlane(years, year, watched)}` : null
    return year.lines.filter((l) => (key ? l.key === key : l.kind === kind)).map((line) => ({ year, line }))
  })
}

function limit(line: Line) {
  if (line.limit === null || line.limit === undefined) return undefined
  return {
    symbol: 'none',
    silent: true,
    lineStyle: { color: OVER, type: 'dashed' },
    label: { formatter: `limit ${line.limit}`, position: 'insideStartTop', color: OVER },
    data: [{ yAxis: line.limit }],
  }
}

/** The chart of the lines over the hours of the span; left and right: px beside the plot. */
export function chartOf(drawn: Drawn[], kind: Kind, span: [number, number], left: number, right: number) {
  return {
    animation: false,
    textStyle: { fontFamily: FONT, color: INK },
    grid: { left, right, top: 10, bottom: 6 },
    xAxis: {
      type: 'value',
      min: span[0],
      max: span[1],
      axisLabel: { show: false },
      axisTick: { show: false },
      splitLine: { show: false },
      axisLine: { lineStyle: { color: INK } },
    },
    yAxis: {
      type: 'value',
      scale: true,
      min: kind === 'mould' ? 0 : undefined,
      max: kind === 'rh' ? 100 : undefined,
      axisLabel: {
        color: SOFT,
        formatter: (v: number) =>
          (kind === 'water' ? show(v, 'water', 1).split(' ')[0] : `${+v.toFixed(1)}`) + (kind === 'rh' ? ' %' : ''),
      },
      splitLine: { lineStyle: { color: RULE } },
    },
    series: drawn.map(({ year, line }, i) => ({
      type: 'line',
      showSymbol: false,
      sampling: 'lttb',
      lineStyle: {
        width: 1.8,
        type: year.role === 'as_found' ? 'dashed' : 'solid',
        color: year.role === 'as_found' ? SOFT : i > 1 ? '#8A5E08' : INK,
      },
      data: line.values.map((v, k) => [(k + 0.5) * year.every, v]),
      markLine: limit(line),
    })),
  }
}
