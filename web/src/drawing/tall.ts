import { useWindowSize } from '@vueuse/core'
import { computed, type ComputedRef } from 'vue'

/** How much higher than on a small laptop drawings may be: 1 at 800 pixels of window, 2.2 at most. */
export const heightShare = (window: number): number => Math.min(2.2, Math.max(1, (window - 160) / 640))
export function useTall(): ComputedRef<number> {
  const { height } = useWindowSize()
  return computed(() => heightShare(height.value))
}
