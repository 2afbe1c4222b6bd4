/** What one does to layers, and how one gets from one to the next by keys. */
import type { Schemas } from '@/api/client'
import type { Layer } from '@/drawing/scale'
import { isImperial } from '@/shared/units'
import type { Desk } from './useDrawn'
import type { Edits } from './useEdits'
import { layerOf, moved, stepped, swapped, withLayer } from './work'

export function useLayers({ works, at, work, selected }: Desk, { apply }: Edits) {
  async function change(part: Partial<Layer>): Promise<void> {
    const w = work.value
    if (!w || !selected.value) return
    await apply(w.layers.map((l) => (l.id === at.layer ? { ...l, ...part } : l)))
  }
  async function step(sign: 1 | -1): Promise<void> {
    const now = selected.value?.thickness_mm
    const thickness_mm = now && stepped(now, sign, isImperial.value)
    if (thickness_mm) await change({ thickness_mm })
  }
  async function insert(material: Schemas['MaterialOut'], side: 'outside' | 'inside' = 'inside'): Promise<void> {
    const w = work.value
    if (!w) return
    const layer = layerOf(material, w.role === 'as_found')
    const kept = apply(withLayer(w.layers, at.layer, layer, side))
    at.layer = layer.id // in hand at once, not when the server has it: a key pressed meanwhile counts
    await kept
  }
  async function swap(material: Schemas['MaterialOut']): Promise<void> {
    if (selected.value) await change(swapped(selected.value, material))
  }
  async function remove(): Promise<void> {
    const w = work.value
    if (!w || !selected.value) return
    const index = w.layers.findIndex((l) => l.id === at.layer)
    const rest = w.layers.filter((l) => l.id !== at.layer)
    if (!rest.some((l) => l.thickness_mm)) {
      w.complaint = 'The last layer with thickness stays; a build-up needs one.'
      return
    }
    const kept = apply(rest)
    at.layer = rest[Math.min(index, rest.length - 1)]?.id ?? null
    await kept
  }
  async function move(by: 1 | -1): Promise<void> {
    const layers = work.value && moved(work.value.layers, at.layer, by)
    if (layers) await apply(layers)
  }
  function walk(by: 1 | -1): void {
    const w = work.value
    if (!w) return
    const index = w.layers.findIndex((l) => l.id === at.layer)
    at.to = null
    const next = index < 0 ? (by > 0 ? 0 : w.layers.length - 1) : Math.max(0, Math.min(w.layers.length - 1, index + by))
    at.layer = w.layers[next]?.id ?? null
  }
  function climb(by: 1 | -1): void {
    const next = at.strip + by
    const from = work.value?.layers.findIndex((l) => l.id === at.layer) ?? 0
    if (next < 0 || next >= works.value.length) return
    at.strip = next
    const layers = works.value[next]!.layers
    at.layer = at.layer === null ? null : (layers[Math.max(0, Math.min(from, layers.length - 1))]?.id ?? null)
  }

  return { change, step, insert, swap, remove, move, walk, climb }
}
