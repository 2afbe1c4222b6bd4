/**
 * The options sheet of one element: what is drawn, what is typed, what is committed, undo and redo, runs.
 * Figures follow every key; a draft is kept a second after the last one; Enter or leaving the field commits.
 */
import { useClipboard } from './useClipboard'
import { useDrawn } from './useDrawn'
import { useEdits } from './useEdits'
import { useLayers } from './useLayers'
import { useOptionRows } from './useOptionRows'
import { useYears } from './useYears'
import { isDraft, liveState } from './work'

export type { Figures, Leaks, RunState, Work } from './work'

export function useSheet() {
  const desk = useDrawn()
  const edits = useEdits(desk)
  return {
    ...desk,
    ...edits,
    ...useLayers(desk, edits),
    ...useOptionRows(desk, edits),
    ...useClipboard(desk, edits),
    ...useYears(desk, edits),
    liveState,
    isDraft,
  }
}
export type SheetState = ReturnType<typeof useSheet>
