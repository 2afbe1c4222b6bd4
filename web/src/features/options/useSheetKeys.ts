/** The keys of the options sheet. In a field they belong to the field. */
import { onKeyStroke } from '@vueuse/core'
import { isTyping, onSingleKey } from '@/shared/keys'
import type { SheetState } from './useSheet'

interface Hands {
  /** does the sheet listen now? */
  on: () => boolean
  select: (strip: number, layer: string | null) => Promise<void>
  find: (mode: 'insert' | 'swap') => void
  /** type into the thickness of the layer in hand */
  type: () => void
  duplicate: () => void
  /** say what was copied or pasted */
  tell: (words: string) => void
  tests: () => void
}

export function useSheetKeys(state: SheetState, hands: Hands): void {
  const { at, works } = state
  /** Keys that mean the same whatever is in hand; null where it is none of them. */
  function anywhere(event: KeyboardEvent): (() => unknown) | null {
    const key = event.key
    if (event.ctrlKey || event.metaKey) {
      const chords: Record<string, () => unknown> = {
        z: () => (event.shiftKey ? state.redo() : state.undo()),
        c: () => hands.tell(state.copyIt()),
        x: async () => hands.tell(await state.cutIt()),
        v: async () => hands.tell(await state.pasteIt()),
      }
      return chords[key.toLowerCase()] ?? null
    }
    if (event.shiftKey && (key === 'ArrowLeft' || key === 'ArrowRight'))
      return () => state.reach(key === 'ArrowLeft' ? -1 : 1)
    if (event.altKey) {
      if (/^[1-9]$/.test(key)) return () => works.value[Number(key)] && hands.select(Number(key), null)
      if (key === 'ArrowLeft' || key === 'ArrowRight') return () => state.move(key === 'ArrowLeft' ? -1 : 1)
      return null
    }
    if (key === 'ArrowLeft' || key === 'ArrowRight') return () => state.walk(key === 'ArrowLeft' ? -1 : 1)
    if (key === 'ArrowUp' || key === 'ArrowDown') return () => state.climb(key === 'ArrowUp' ? -1 : 1)
    if (key === 'Insert') return () => hands.find('insert')
    return null
  }
  onKeyStroke(true, async (event) => {
    if (isTyping(event) || event.defaultPrevented || !hands.on()) return
    const key = event.key
    const act = anywhere(event)
    if (act) {
      event.preventDefault()
      await act()
    } else if (event.ctrlKey || event.metaKey || event.altKey) return
    else if (key === 'Escape') at.layer = null
    else if (at.layer === null) return
    else if (key === '+' || key === '-' || key === '=') {
      event.preventDefault()
      await state.step(key === '-' ? -1 : 1)
    } else if (key === 'Delete') {
      event.preventDefault()
      await (at.to === null ? state.remove() : state.removeInHand())
    } else if (key === 'Enter') {
      event.preventDefault()
      hands.type()
    } else if (/^[0-9a-zA-Z.,]$/.test(key)) hands.type() // the field takes the key itself
  })
  /** Letters act only while no layer is in hand: there they are typed. */
  const none = (act: () => unknown) => (): void => {
    if (at.layer === null) void act()
  }
  onSingleKey('d', none(hands.duplicate))
  onSingleKey('t', none(hands.tests))
  onSingleKey(
    'r',
    none(() => state.runYears()),
  )
}
