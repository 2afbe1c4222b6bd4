/** The choice of an element: what is picked and why, kept against what one saw; undone and done again. */
import { computed, ref, watch, type Ref } from 'vue'
import { onKeyStroke } from '@vueuse/core'
import { api, Problem, take, type Schemas } from '@/api/client'
import { isTyping } from '@/shared/keys'
import { useAct } from '@/shared/query'
import { useProject } from '@/shared/project'

type Choice = Pick<Schemas['ChoiceSeen'], 'option_id' | 'reason'>

export function useChoice(sheet: Ref<Schemas['Sheet'] | undefined>, reload: () => Promise<unknown>) {
  const project = useProject()
  const { complaint, busy, act } = useAct()
  const picked = ref<number | null>(null)
  const reason = ref('')
  const kept = ref('')
  const seen = ref<Schemas['ChoiceSeen']>({ scheme: null, option_id: null, reason: '' })
  const undoing = ref<Choice[]>([])
  const redoing = ref<Choice[]>([])
  /** What is typed is not taken away by what somebody else did. */
  let conflict = false

  watch(
    sheet,
    (now, before) => {
      const element = now?.element
      const scheme = project.page?.shown_scheme ?? null
      if (element?.id !== before?.element.id || scheme !== seen.value.scheme) {
        undoing.value = []
        redoing.value = []
      }
      seen.value = { scheme, option_id: element?.chosen_id ?? null, reason: element?.chosen_reason ?? '' }
      if (conflict) return void (conflict = false)
      picked.value = seen.value.option_id
      reason.value = seen.value.reason
    },
    { immediate: true },
  )

  async function write(choice: Choice): Promise<boolean> {
    kept.value = ''
    return act(async () => {
      try {
        await take(
          api.PUT('/api/elements/{element_id}/choice', {
            params: { path: { element_id: sheet.value!.element.id } },
            body: { ...choice, seen: seen.value },
          }),
        )
      } catch (error) {
        if (error instanceof Problem && error.status === 409) {
          conflict = true
          await reload()
        }
        throw error
      }
      await reload()
    })
  }
  async function keep(choice: Choice = { option_id: picked.value, reason: reason.value }): Promise<void> {
    const { option_id, reason: why } = seen.value
    if (!(await write(choice))) return
    undoing.value.push({ option_id, reason: why })
    redoing.value = []
    kept.value = choice.option_id === null ? 'No option is chosen now.' : 'The choice and its reason are kept.'
  }
  async function replay(from: Choice[], to: Choice[], words: string): Promise<void> {
    const choice = from.at(-1)
    if (!choice || busy.value) return
    const { option_id, reason: why } = seen.value
    if (!(await write(choice))) return
    from.pop()
    to.push({ option_id, reason: why })
    kept.value = words
  }
  const undo = (): Promise<void> => replay(undoing.value, redoing.value, 'The choice is as it was before.')
  const redo = (): Promise<void> => replay(redoing.value, undoing.value, 'The choice is made again.')
  onKeyStroke(['z', 'Z'], (event) => {
    if (!(event.ctrlKey || event.metaKey) || isTyping(event)) return
    event.preventDefault()
    void (event.shiftKey ? redo() : undo())
  })

  return {
    picked,
    reason,
    kept,
    complaint,
    keep,
    takeBack: () => keep({ option_id: null, reason: '' }),
    undo,
    redo,
    canUndo: computed(() => undoing.value.length > 0),
    canRedo: computed(() => redoing.value.length > 0),
  }
}
