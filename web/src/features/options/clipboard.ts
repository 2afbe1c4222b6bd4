/** What was copied of a sheet, kept for this window across elements and projects: layers, or a whole option. Pure beside the store. */
import { useSessionStorage } from '@vueuse/core'
import type { Schemas } from '@/api/client'
import type { Layer } from '@/drawing/scale'
import { copy } from '@/shared/copy'

export type Copied =
  { kind: 'layers'; layers: Layer[] } | { kind: 'option'; name: string; build_up: Schemas['BuildUp'] }

export const copied = useSessionStorage<Copied | null>('wendrick copied', null, {
  serializer: {
    read: (text) => (text ? JSON.parse(text) : null) as Copied | null,
    write: (value) => JSON.stringify(value),
  },
})

/** Layers under ids that are free among those there. */
export function asNew(layers: readonly Layer[], there: readonly Layer[]): Layer[] {
  const taken = new Set(there.map((l) => l.id))
  return layers.map((layer) => {
    let id = layer.id
    for (let n = 2; taken.has(id); n++) id = `${layer.id.slice(0, 36)}-${n}`
    taken.add(id)
    return { ...(copy(layer) as Layer), id, photo: '' }
  })
}
/** The layers from one to another, in the order they lie; the one alone where the other is not there. */
export function range(layers: readonly Layer[], from: string | null, to: string | null): Layer[] {
  const a = layers.findIndex((l) => l.id === from)
  const b = layers.findIndex((l) => l.id === to)
  if (a < 0) return []
  if (b < 0) return [layers[a]!]
  return layers.slice(Math.min(a, b), Math.max(a, b) + 1)
}
/** A layer as two of half its thickness; null where it has none. */
export function halves(layers: readonly Layer[], id: string | null): Layer[] | null {
  const at = layers.findIndex((l) => l.id === id)
  const layer = layers[at]
  if (!layer?.thickness_mm) return null
  const half = Math.round((layer.thickness_mm / 2) * 1000) / 1000
  const outer: Layer = { ...layer, thickness_mm: Math.round((layer.thickness_mm - half) * 1000) / 1000 }
  const [inner] = asNew([{ ...layer, thickness_mm: half, metal: null, fixings: null }], layers)
  return [...layers.slice(0, at), outer, inner!, ...layers.slice(at + 1)]
}
