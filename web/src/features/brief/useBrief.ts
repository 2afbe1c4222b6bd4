/** The brief as it is typed: kept a moment after the last key and on leaving; two windows are told of each other. */
import { useDebounceFn } from '@vueuse/core'
import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { api, Problem, sentence, take, type Schemas } from '@/api/client'
import { copy } from '@/shared/copy'
import { useProject } from '@/shared/project'
import { useAnswer } from '@/shared/query'

export type Brief = Schemas['Brief']

export function useBrief(id: Readonly<Ref<number>>) {
  const project = useProject()
  const page = ref<Schemas['BriefOut'] | null>(null)
  const brief = ref<Brief | null>(null)
  const complaint = ref('')
  const theirs = ref(false)
  const saved = ref('')
  let revision = 0
  let known = ''

  const {
    data: server,
    complaint: unread,
    load: read,
  } = useAnswer(
    () => ['brief', id.value],
    () => take(api.GET('/api/projects/{project_id}/brief', { params: { path: { project_id: id.value } } })),
    { fresh: true },
  )
  function unfold(): void {
    if (!server.value) return
    accept(server.value)
    complaint.value = ''
    theirs.value = false
  }
  async function load(): Promise<void> {
    await read()
    unfold()
  }
  function accept(answer: Schemas['BriefOut'], keepTyping = false): void {
    page.value = answer
    revision = answer.revision
    known = JSON.stringify(answer.brief)
    if (!keepTyping) brief.value = copy(answer.brief)
  }
  async function keep(over = false): Promise<void> {
    if (!brief.value) return
    const typed = copy(brief.value)
    if (JSON.stringify(typed) === known) return
    saved.value = 'keeping …'
    try {
      const answer = await take(
        api.PUT('/api/projects/{project_id}/brief', {
          params: { path: { project_id: id.value } },
          body: { revision: over ? null : revision, brief: typed },
        }),
      )
      complaint.value = ''
      theirs.value = false
      accept(answer, true)
      saved.value = 'kept'
      void project.open(id.value)
    } catch (error) {
      saved.value = ''
      theirs.value = error instanceof Problem && error.code === 'changed_meanwhile'
      complaint.value = sentence(error)
    }
  }
  const soon = useDebounceFn(() => keep(), 900)
  watch(brief, () => void soon(), { deep: true })
  watch(server, unfold, { immediate: true })
  onBeforeUnmount(() => void keep())
  return { page, brief, complaint, theirs, saved, unread, load, keep }
}
