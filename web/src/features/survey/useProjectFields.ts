/** The building's own fields, kept as they are typed; only what differs is sent over another window's. */
import { ref, watch, type Ref } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'
import { copy } from '@/shared/copy'
import { useProject } from '@/shared/project'

export function useProjectFields(id: Readonly<Ref<number>>) {
  const project = useProject()
  const complaint = ref('')
  const saved = ref('')
  const fields = ref<Schemas['ProjectFields'] | null>(null)

  /** The project's fields as the server had them last: only what differs from them is sent over another window's. */
  let began: Schemas['ProjectFields'] | null = null
  let edits = 0
  let kept = 0
  let queue: Promise<void> = Promise.resolve()
  watch(
    () => project.page,
    (page) => {
      if (!page || page.project.id !== id.value) return
      if (fields.value && kept !== edits) return // something newer was typed: it is saved next, not overwritten
      const rest: Record<string, unknown> = { ...page.project }
      delete rest.id
      delete rest.changed_at
      delete rest.typed
      fields.value = rest as Schemas['ProjectFields']
      began = copy(fields.value)
    },
    { immediate: true },
  )
  watch(
    fields,
    async (now, before) => {
      if (!now || !before || now !== before) return
      edits++
      queue = queue.then(save)
      await queue
    },
    { deep: true },
  )
  async function save(): Promise<void> {
    if (!fields.value) return
    complaint.value = ''
    const mine = edits
    const sent = copy(fields.value)
    try {
      await take(
        api.PUT('/api/projects/{project_id}', {
          params: { path: { project_id: id.value } },
          body: { ...sent, began_from: began },
        }),
      )
      kept = mine
      began = sent
      if (mine === edits) await project.open(id.value)
      saved.value = 'kept'
      setTimeout(() => (saved.value = ''), 1500)
    } catch (error) {
      kept = mine
      complaint.value = sentence(error)
    }
  }
  return { fields, complaint, saved }
}
