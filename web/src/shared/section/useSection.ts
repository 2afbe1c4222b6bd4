/** The section in the pixels of its drawing: metres to the right and upward become x and y. */
import { computed, type Ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { House } from '@/shared/house'
import { bare, show, said } from '@/shared/units'

export type Band = Schemas['HouseBand']
export type Lens = 'heat' | 'damp' | 'line' | 'layers' | 'air'
export type Point = [number, number]

export const WIDE = 860
export const HIGH = 560

export interface Drawn {
  band: Band
  points: Point[]
  centre: Point
  /** outward, in pixels */
  normal: Point
  length: number
}

export function useSection(house: Ref<House | null>) {
  const frame = computed(() => {
    const [x0, z0, x1, z1] = house.value?.extent ?? [0, 0, 1, 1]
    const side = 150
    const scale = Math.min((WIDE - 2 * side) / Math.max(x1 - x0, 0.1), (HIGH - 180) / Math.max(z1 - z0, 0.1))
    const left = (WIDE - (x1 - x0) * scale) / 2 - x0 * scale
    return { scale, left, base: HIGH - 86 + z0 * scale, x0, x1, z0, z1 }
  })
  const at = (p: readonly number[]): Point => [
    frame.value.left + p[0]! * frame.value.scale,
    frame.value.base - p[1]! * frame.value.scale,
  ]
  const bands = computed<Drawn[]>(() =>
    (house.value?.bands ?? []).map((band) => {
      const [a, b] = band.outer.map(at) as [Point, Point]
      return {
        band,
        points: band.polygon.map(at),
        centre: [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2],
        normal: [band.normal[0], -band.normal[1]],
        length: Math.hypot(b[0] - a[0], b[1] - a[1]),
      }
    }),
  )
  /** One band for each element, its longest, for the arrow and the label. */
  const leading = computed(() => {
    const longest = new Map<number, Drawn>()
    for (const drawn of bands.value) {
      const id = drawn.band.element_id
      if (id !== null && drawn.length > (longest.get(id)?.length ?? 0)) longest.set(id, drawn)
    }
    return [...longest.values()]
  })
  return { frame, at, bands, leading }
}

export const path = (points: Point[]): string => points.map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ')

/** An arrow along a direction from a point, as wide as asked. */
function arrow(from: Point, normal: Point, width: number, length: number): Point[] {
  const [nx, ny] = normal
  const [tx, ty] = [-ny, nx]
  const head = Math.min(length * 0.45, width * 0.45 + 9)
  const half = width / 2
  const wide = half + 6
  const on = (along: number, across: number): Point => [
    from[0] + nx * along + tx * across,
    from[1] + ny * along + ty * across,
  ]
  return [
    on(3, -half),
    on(length - head, -half),
    on(length - head, -wide),
    on(length, 0),
    on(length - head, wide),
    on(length - head, half),
    on(3, half),
  ]
}

/** Loss as found and after, drawn to one scale: the outline is as found, the solid part what stays. */
export function arrowsOf(leading: Drawn[]) {
  const largest = Math.max(...leading.map((d) => d.band.before_w_k ?? 0), 1)
  const wide = (w_k: number): number => Math.max((w_k / largest) * 46, 1.5)
  return leading
    .filter((d) => d.band.before_w_k)
    .map((d) => {
      const before = d.band.before_w_k!
      const after = d.band.after_w_k ?? before
      const length = 46 + wide(before) * 0.5
      return {
        d,
        before,
        after,
        outline: arrow(d.centre, d.normal, wide(before), length),
        solid: after > 0 ? arrow(d.centre, d.normal, wide(after), length - (before - after > 0.5 ? 9 : 0)) : [],
        tip: [d.centre[0] + d.normal[0] * (length + 3), d.centre[1] + d.normal[1] * (length + 3)] as Point,
      }
    })
}

/** What passes through an element as means of the year [m³/h]: outside air in, room air out, as found and after. */
export interface Flow {
  element_id: number | null
  in_before: number
  in_after: number
  out_before: number
  out_after: number
}

/** Air through each band to one scale: inward beside outward, the outline as found, the solid part after. What hardly leaks has none. */
export function airArrows(leading: Drawn[], flows: readonly Flow[]) {
  const largest = Math.max(...flows.flatMap((f) => [f.in_before, f.out_before, f.in_after, f.out_after]), 1)
  const wide = (flow: number): number => Math.max((flow / largest) * 46, 1.5)
  return leading.flatMap((d) => {
    const flow = flows.find((f) => f.element_id === d.band.element_id)
    if (!flow) return []
    return (['in', 'out'] as const).flatMap((way) => {
      const before = flow[`${way}_before`]
      const after = flow[`${way}_after`]
      if (Math.max(before, after) < largest / 100) return []
      const both = Math.min(flow.in_before + flow.in_after, flow.out_before + flow.out_after) > largest / 50
      const length = 46 + wide(Math.max(before, after)) * 0.5
      const [nx, ny] = d.normal
      const aside = both ? (way === 'in' ? -1 : 1) * Math.min(d.length / 4, 26) : 0
      const on = (along: number): Point => [
        d.centre[0] + nx * along - ny * aside,
        d.centre[1] + ny * along + nx * aside,
      ]
      const begin = way === 'in' ? on(length + 6) : on(0)
      const normal: Point = way === 'in' ? [-nx, -ny] : [nx, ny]
      return [
        {
          d,
          way,
          outline: before > 0 ? arrow(begin, normal, wide(before), length) : [],
          solid: after > 0 ? arrow(begin, normal, wide(after), length) : [],
          tip: on(length + 9),
        },
      ]
    })
  })
}

/** “72 → 16 W/K”, or one figure where nothing changes; what is in one of the lines only says so. */
export function change(before: number, after: number): string {
  const figure = (w: number): string => show(w, 'coefficient')
  if (!before && after) return `new, ${figure(after)}`
  if (before && !after) return `${figure(before)}, then not in the line`
  return Math.abs(before - after) < 0.5 ? figure(before) : `${bare(before, 'coefficient')} → ${figure(after)}`
}

export interface Gap {
  number: number
  joint: string
  at: Point
  lines: [line: string, words: string][]
}
/** The breaks of the control layers, one for each joint, in metres of the section. */
export function gapsOf(house: House | null): Gap[] {
  const found = new Map<number, Gap>()
  for (const b of house?.breaks ?? []) {
    const known = found.get(b.number) ?? { number: b.number, joint: b.joint, at: b.at as Point, lines: [] }
    known.lines.push([b.line, said(b.words)])
    found.set(b.number, known)
  }
  return [...found.values()]
}
