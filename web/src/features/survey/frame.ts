/** Metres of a survey drawing to its pixels and back; y upward. */
import { computed, type ComputedRef } from 'vue'

export type Point = [number, number]
export interface Frame {
  wide: number
  high: number
  scale: number
  x: (metres: number) => number
  y: (metres: number) => number
  /** where in metres a pointer event happened on its svg */
  where: (event: MouseEvent) => Point
}

export function useFrame(
  extent: () => [number, number, number, number],
  wide: number,
  high: number,
  margin = 34,
): ComputedRef<Frame> {
  return computed(() => {
    const [x0, y0, x1, y1] = extent()
    const scale = Math.min((wide - 2 * margin) / Math.max(x1 - x0, 0.5), (high - 2 * margin) / Math.max(y1 - y0, 0.5))
    const left = (wide - (x1 - x0) * scale) / 2
    const base = (high + (y1 - y0) * scale) / 2
    return {
      wide,
      high,
      scale,
      x: (metres) => left + (metres - x0) * scale,
      y: (metres) => base - (metres - y0) * scale,
      where: (event) => {
        const svg = event.currentTarget as SVGSVGElement
        const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM()!.inverse())
        return [x0 + (point.x - left) / scale, y0 + (base - point.y) / scale]
      },
    }
  })
}
export const joined = (points: Point[]): string => points.map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ')

/** A pin to be drawn: where in the drawing's metres, and how it stands. */
export interface DrawnPin {
  uid: string
  at: Point
  number: number
  label: string
  explained: boolean
  inside: boolean
  waiting: boolean
}
