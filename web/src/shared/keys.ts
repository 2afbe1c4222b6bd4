/** Single-key commands act only when nobody types and they are not switched off. */
import { onKeyStroke, useStorage } from '@vueuse/core'
import { nextTick } from 'vue'

export const singleKeys = useStorage('wendrick-single-keys', true)

export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null
  return !!target?.closest('input, textarea, select, [contenteditable], [role=dialog]')
}

/** Call `act` on a bare key press; modifiers, fields and dialogs are left alone. */
export function onSingleKey(key: string, act: () => void): void {
  onKeyStroke(key, (event) => {
    if (
      !singleKeys.value ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      isTyping(event) ||
      event.defaultPrevented
    )
      return
    event.preventDefault()
    act()
  })
}

/** After a choice the keys go back to the page: the select takes the focus once more after it has told of the choice. */
export function giveKeysBack(): void {
  void nextTick(() => (document.activeElement as HTMLElement | null)?.blur())
}
