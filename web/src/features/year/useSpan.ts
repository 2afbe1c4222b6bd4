/** The hours that are shown and the hour pointed at: zoom, pan, wheel, pointer and arrow keys. */
import { onKeyStroke } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import { isTyping } from '@/shared/keys'

export type Span = [number, number]

/** The span made longer or shorter by a factor about an hour: at least two days, at most all there is. */
export function zoomed([from, to]: Span, hour: number, factor: number, most: number): Span {
  const length = Math.min(most, Math.max(48, Math.round((to - from) * factor)))
  const share = Math.min(1, Math.max(0, (hour - from) / (to - from)))
  const start = Math.max(0, Math.min(most - length, Math.round(hour - share * length)))
  return [start, start + length]
}
/** The span moved by a share of itself, within what there is. */
export function panned([from, to]: Span, share: number, most: number): Span {
  const start = Math.max(0, Math.min(most - (to - from), from + Math.round((to - from) * share)))
  return [start, start + to - from]
}

/**
 * most: hours there are; plot: width of the picture in px; left: px before it in the box.
 */
export function useSpan(most: Ref<number>, plot: Ref<number>, left: number) {
  const span = ref<Span>([0, 8760])
  const hour = ref(0)
  const pointerX = computed(() => ((hour.value - span.value[0]) / (span.value[1] - span.value[0])) * plot.value)
  const inside = computed(() => pointerX.value >= 0 && pointerX.value <= plot.value)
  const zoom = (factor: number): void => void (span.value = zoomed(span.value, hour.value, factor, most.value))
  const pan = (share: number): void => void (span.value = panned(span.value, share, most.value))
  const whole = (): void => void (span.value = [0, most.value])
  function point(event: MouseEvent): void {
    const rect = (event.currentTarget as HTMLElement).getBoundingClientRect()
    const share = (event.clientX - rect.left - left) / plot.value
    if (share < 0 || share > 1) return
    const [from, to] = span.value
    hour.value = Math.min(to - 1, Math.floor(from + share * (to - from)))
  }
  function wheel(event: WheelEvent): void {
    if (!event.ctrlKey && Math.abs(event.deltaX) > Math.abs(event.deltaY)) pan(event.deltaX / 600)
    else zoom(event.deltaY > 0 ? 1.25 : 0.8)
  }
  onKeyStroke(['ArrowLeft', 'ArrowRight', '+', '-', '='], (event) => {
    if (isTyping(event) || event.defaultPrevented) return
    event.preventDefault()
    if (event.key === '+' || event.key === '=') zoom(0.5)
    else if (event.key === '-') zoom(2)
    else {
      const by = (event.key === 'ArrowLeft' ? -1 : 1) * (event.shiftKey ? 24 : 1)
      hour.value = Math.max(0, Math.min(most.value - 1, hour.value + by))
      if (!inside.value) pan(event.key === 'ArrowLeft' ? -0.5 : 0.5)
    }
  })
  return { span, hour, pointerX, inside, zoom, pan, whole, point, wheel }
}
