/** Several layers in hand; copy, cut, paste, split; a whole option carried to another element or project. */
import { sentence } from '@/api/client'
import { asNew, copied, halves, range } from './clipboard'
import { makeOption } from './optionCalls'
import type { Desk } from './useDrawn'
import type { Edits } from './useEdits'
import { clone, drawn } from './work'

export function useClipboard(desk: Desk, { apply }: Edits) {
  const { sheet, at, work, complaint } = desk
  const inHand = () => (work.value ? range(work.value.layers, at.layer, at.to) : [])
  /** The layers in hand; with none in hand the whole option. Says what it did. */
  function copyIt(): string {
    const w = work.value
    if (!w) return ''
    const layers = inHand()
    if (layers.length) {
      copied.value = { kind: 'layers', layers: clone(layers) }
      return layers.length === 1 ? 'One layer copied.' : `${layers.length} layers copied.`
    }
    copied.value = { kind: 'option', name: w.name, build_up: drawn(w) }
    return `“${w.name}” copied, with its leaks.`
  }
  async function cutIt(): Promise<string> {
    const w = work.value
    const layers = inHand()
    if (!w || !layers.length) return ''
    const words = copyIt()
    await removeInHand()
    return words
  }
  /** All layers in hand go; the last one with thickness stays. */
  async function removeInHand(): Promise<void> {
    const w = work.value
    if (!w) return
    const gone = new Set(inHand().map((l) => l.id))
    const rest = w.layers.filter((l) => !gone.has(l.id))
    if (!rest.some((l) => l.thickness_mm)) {
      w.complaint = 'The last layer with thickness stays; a build-up needs one.'
      return
    }
    const index = w.layers.findIndex((l) => gone.has(l.id))
    at.to = null
    at.layer = rest[Math.min(index, rest.length - 1)]?.id ?? null
    await apply(rest)
  }
  async function pasteIt(): Promise<string> {
    const w = work.value
    const what = copied.value
    if (!w || !what) return 'Nothing was copied yet.'
    if (what.kind === 'option') return pasteOption(what.name, what.build_up)
    const fresh = asNew(
      what.layers.map((l) => ({ ...l, existing: w.role === 'as_found' })),
      w.layers,
    )
    const place = at.layer === null ? w.layers.length : w.layers.findIndex((l) => l.id === (at.to ?? at.layer)) + 1
    await apply([...w.layers.slice(0, place), ...fresh, ...w.layers.slice(place)])
    at.layer = fresh[0]?.id ?? null
    at.to = fresh.length > 1 ? fresh.at(-1)!.id : null
    return fresh.length === 1 ? 'One layer pasted.' : `${fresh.length} layers pasted.`
  }
  async function pasteOption(name: string, build_up: ReturnType<typeof drawn>): Promise<string> {
    if (!sheet.value) return ''
    try {
      const layers = build_up.layers.map((l) => ({ ...l, photo: '' }))
      await makeOption(desk, { name, school: '', build_up: { ...build_up, layers } })
      return `“${name}” is an option here now.`
    } catch (error) {
      complaint.value = sentence(error)
      return ''
    }
  }
  async function split(): Promise<void> {
    const layers = work.value && halves(work.value.layers, at.layer)
    if (layers) await apply(layers)
  }
  /** Shift and an arrow: one layer more in hand, or one less. */
  function reach(by: 1 | -1): void {
    const w = work.value
    if (!w || at.layer === null) return
    const from = w.layers.findIndex((l) => l.id === (at.to ?? at.layer))
    const next = w.layers[from + by]
    if (next) at.to = next.id === at.layer ? null : next.id
  }
  /** Only the first of several stays in hand. */
  const alone = (): void => void (at.to = null)
  return { inHand, alone, copyIt, cutIt, pasteIt, removeInHand, split, reach }
}
