/** Where strips and limit lines stand: one scale and one datum for all strips of an element. Pure. */
import type { Schemas } from '@/api/client'

export type Layer = Schemas['BuildUpLayer']

export interface Placed {
  layer: Layer
  index: number
  /** px from the left of the drawing; thin things get a drawn width that is not to scale */
  x: number
  width: number
  thin: boolean
}
export interface Strip {
  placed: Placed[]
  left: number
  right: number
}
export interface Scale {
  perMm: number
  datum: number
  strips: Strip[]
  roomLimit: number | null
  outsideLimit: number | null
  /** limits that have a name, beside the tightest ones */
  marks: { x: number; text: string }[]
}
export interface Bounds {
  room_mm?: number | null
  outside_mm?: number | null
  named?: Schemas['NamedLimit'][]
}
/** kinds of named limits that bind on the side of the room, and outside */
export const INSIDE = ['stair', 'door swing', 'radiator', 'headroom', 'fittings']
export const OUTSIDE = ['eaves', 'verge', 'sill', 'pipes', 'boundary']

const THIN_PX = 3

export function thickness(layers: Layer[]): number {
  return layers.reduce((sum, layer) => sum + (layer.thickness_mm ?? 0), 0)
}

/** mm from the strip's outer face to the datum; the as-found distance when the datum layer is gone. */
export function outsideOf(layers: Layer[], datumId: string): number | null {
  const at = layers.findIndex((layer) => layer.id === datumId)
  return at < 0 ? null : thickness(layers.slice(0, at + 1))
}

export function layOut(
  strips: Layer[][],
  datumId: string,
  limits: Bounds | undefined,
  from: number,
  to: number,
): Scale {
  const found = strips[0] ?? []
  const foundOut = outsideOf(found, datumId) ?? thickness(found)
  const foundIn = thickness(found) - foundOut
  const outs = strips.map((layers) => outsideOf(layers, datumId) ?? foundOut)
  const ins = strips.map((layers, i) => thickness(layers) - outs[i]!)
  const room = limits?.room_mm ?? null
  const outside = limits?.outside_mm ?? null
  const mostOut = Math.max(...outs, outside === null ? 0 : foundOut + outside, 1)
  const mostIn = Math.max(...ins, room === null ? 0 : foundIn + room, 1)
  const perMm = Math.min((to - from) / (mostOut + mostIn), 1.6)
  const datum = from + mostOut * perMm
  return {
    perMm,
    datum,
    roomLimit: room === null ? null : datum + (foundIn + room) * perMm,
    outsideLimit: outside === null ? null : datum - (foundOut + outside) * perMm,
    marks: (limits?.named ?? [])
      .filter((one) => INSIDE.includes(one.kind) || OUTSIDE.includes(one.kind))
      .map((one) =>
        INSIDE.includes(one.kind)
          ? { mm: foundIn + one.most, tightest: one.most === room, sign: 1, one }
          : { mm: foundOut + one.most, tightest: one.most === outside, sign: -1, one },
      )
      .filter(({ mm, sign, tightest }) => !tightest && mm <= (sign > 0 ? mostIn : mostOut))
      .map(({ mm, sign, one }) => ({ x: datum + sign * mm * perMm, text: one.kind })),
    strips: strips.map((layers, i) => place(layers, datum - outs[i]! * perMm, perMm)),
  }
}

function place(layers: Layer[], left: number, perMm: number): Strip {
  let x = left
  const placed = layers.map((layer, index) => {
    const real = (layer.thickness_mm ?? 0) * perMm
    const thin = real < THIN_PX
    const entry: Placed = { layer, index, x, width: thin ? THIN_PX : real, thin }
    x += real
    return entry
  })
  return { placed, left, right: x }
}

/** How many strokes stand for a drying ability: about three for each tenfold. */
export function strokes(grams: number): number {
  return grams <= 1 ? 0 : Math.min(9, Math.round(3 * Math.log10(grams)))
}

/** Labels above lines, in two rows where one would lie on another. */
export function inRows(labels: { text: string; x: number }[]): { text: string; x: number; row: number }[] {
  const sorted = [...labels].sort((a, b) => a.x - b.x)
  let row = 0
  return sorted.map((label, i) => {
    const before = sorted[i - 1]
    const close = before && label.x - before.x < (label.text.length + before.text.length) * 3.1 + 8
    row = close ? (row + 1) % 2 : 0
    return { ...label, row }
  })
}
