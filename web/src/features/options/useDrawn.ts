/** The sheet of an element as it lies on the desk: its options as they are drawn, and where the hand is. */
import { computed, reactive, ref, watch } from 'vue'
import { sentence, type Schemas } from '@/api/client'
import type { Layer } from '@/drawing/scale'
import { askSheet } from '@/shared/sheet'
import { toWork, type Edit, type Work } from './work'

export function useDrawn() {
  const sheet = ref<Schemas['Sheet'] | null>(null)
  const works = ref<Work[]>([])
  const complaint = ref('')
  const loading = ref(false)
  /** to: the other end of several layers in hand */
  const at = reactive({ strip: 0, layer: null as string | null, to: null as string | null })
  watch(
    () => [at.strip, at.layer],
    ([strip, layer], [before]) => {
      if (layer === null || strip !== before) at.to = null
    },
  )
  const typed = ref<string | null>(null)
  const undoStack = ref<Edit[]>([])
  const redoStack = ref<Edit[]>([])
  /** the name of the option removed last, until it is brought back */
  const removed = ref<string | null>(null)
  const work = computed<Work | undefined>(() => works.value[at.strip])
  const selected = computed<Layer | undefined>(() => work.value?.layers.find((l) => l.id === at.layer))

  async function load(element: number): Promise<void> {
    if (sheet.value?.element.id !== element) {
      sheet.value = null
      works.value = []
      undoStack.value = []
      redoStack.value = []
      at.strip = 0
      at.layer = null
      removed.value = null
    }
    loading.value = true
    complaint.value = ''
    try {
      sheet.value = await askSheet(element)
      works.value = sheet.value.options.map(toWork)
      at.strip = Math.min(at.strip, works.value.length - 1)
    } catch (error) {
      complaint.value = sentence(error)
    } finally {
      loading.value = false
    }
  }

  return { sheet, works, complaint, loading, at, typed, undoStack, redoStack, removed, work, selected, load }
}
export type Desk = ReturnType<typeof useDrawn>
