/** What one does to layers, and how one gets from one to the next by keys. */
import type { Schemas } from '@/api/client'
import type { Layer } from '@/drawing/scale'
import { isImperial } from '@/shared/units'
import type { Desk } from './useDrawn'
import type { Edits } from './useEdits'
import { layerOf, moved, newId, stepped, swapped, withLayer } from './work'

export function useLayers({ works, at, work, selected, typed }: Desk, { apply, commitTyped }: Edits) {
  // what was typed comes first: a key pressed right after Enter does not wait for the server
  async function change(part: Partial<Layer>): Promise<void> {
    if (typed.value !== null) await commitTyped()
    const w = work.value
    if (!w || !selected.value) return
    await apply(w.layers.map((l) => (l.id === at.layer ? { ...l, ...part } : l)))
  }
  async function step(sign: 1 | -1): Promise<void> {
    if (typed.value !== null) await commitTyped()
    const now = selected.value?.thickness_mm
    const thickness_mm = now && stepped(now, sign, isImperial.value)
    if (thickness_mm) await change({ thickness_mm })
  }
  async function insert(material: Schemas['MaterialOut'], side: 'outside' | 'inside' = 'inside'): Promise<void> {
    const w = work.value
    if (!w) return
    await insertLayer(layerOf(material, w.role === 'as_found'), side)
  }
  /** A layer as it is given, such as battens with what lies between them; under an id of its own. */
  async function insertLayer(given: Layer, side: 'outside' | 'inside' = 'inside'): Promise<void> {
    const w = work.value
    if (!w) return
    const layer = { ...given, id: newId(), existing: w.role === 'as_found' }
    const beside = at.layer
    at.layer = layer.id // in hand at once, not when the server has it: a key pressed meanwhile is never another layer's
    if (typed.value !== null) await commitTyped()
    const kept = apply(withLayer(w.layers, beside, layer, side))
    await kept
  }
  async function swap(material: Schemas['MaterialOut']): Promise<void> {
    if (selected.value) await change(swapped(selected.value, material))
  }
  async function remove(): Promise<void> {
    if (typed.value !== null) await commitTyped()
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
    if (typed.value !== null) await commitTyped()
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

  return { change, step, insert, insertLayer, swap, remove, move, walk, climb }
}
