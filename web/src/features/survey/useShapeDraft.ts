/** The shape as it is drawn now: a draft on the device until it is kept, and what follows from it. */
import { useDebounceFn, useStorage } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { api, Problem, sentence, take, takeAs, type Schemas } from '@/api/client'
import { copy } from '@/shared/copy'
import { useProject } from '@/shared/project'
import type { Shape } from './shapes'
import { useShape } from './useShape'

export function useShapeDraft(id: Readonly<Ref<number>>, scheme: Readonly<Ref<number | null>>) {
  const project = useProject()
  const { data: server, complaint: unread, load, put } = useShape(id, true, scheme)
  const kept = ref<Schemas['ShapeOut'] | null>(null)
  const found = ref<Schemas['ShapeOut'] | null>(null)
  const shape = ref<Shape | null>(null)
  const complaint = ref('')
  const refused = ref(false)
  const clash = ref(false)
  const drafts = useStorage<Record<string, { revision: number; shape: Shape }>>('wendrick-shape-drafts', {})
  /** Drafts of a scheme's shape lie beside that of as found. */
  const slot = computed(() => (scheme.value ? `${id.value} ${scheme.value}` : String(id.value)))
  const changed = computed(
    () => !!shape.value && !!kept.value && JSON.stringify(shape.value) !== JSON.stringify(kept.value.shape),
  )

  /** As it is kept, or as the draft of this device left it. */
  function unfold(): void {
    if (!server.value) return
    kept.value = copy(server.value)
    found.value = kept.value
    const draft = drafts.value[slot.value]
    shape.value = copy(draft?.shape ?? kept.value.shape) as Shape
    complaint.value = ''
    refused.value = false
    clash.value = false
  }
  watch(server, unfold, { immediate: true })

  let asked = 0
  const preview = useDebounceFn(async () => {
    if (!shape.value) return
    const now = ++asked
    try {
      const body = { shape: copy(shape.value) }
      const answer = await takeAs<Schemas['ShapeOut']>(
        scheme.value
          ? api.POST('/api/schemes/{scheme_id}/shape/preview', { params: { path: { scheme_id: scheme.value } }, body })
          : api.POST('/api/projects/{project_id}/shape/preview', { params: { path: { project_id: id.value } }, body }),
      )
      if (now !== asked) return
      found.value = answer
      // a clash stays on the screen until it is settled
      if (!clash.value) complaint.value = answer.refused
      refused.value = !!answer.refused
    } catch (error) {
      if (now !== asked) return
      complaint.value = sentence(error)
      refused.value = true
    }
  }, 180)
  watch(
    shape,
    () => {
      if (!shape.value || !kept.value) return
      if (changed.value) drafts.value[slot.value] = { revision: kept.value.revision, shape: copy(shape.value) }
      else delete drafts.value[slot.value]
      void preview()
    },
    { deep: true },
  )
  async function keep(over = false): Promise<void> {
    if (!shape.value || !kept.value) return
    try {
      const revision = over ? null : (drafts.value[slot.value]?.revision ?? kept.value.revision)
      const body = { revision, shape: copy(shape.value) }
      const answer = await takeAs<Schemas['ShapeOut']>(
        scheme.value
          ? api.PUT('/api/schemes/{scheme_id}/shape', { params: { path: { scheme_id: scheme.value } }, body })
          : api.PUT('/api/projects/{project_id}/shape', { params: { path: { project_id: id.value } }, body }),
      )
      delete drafts.value[slot.value]
      put(answer)
      unfold()
      await project.open(id.value)
    } catch (error) {
      clash.value = error instanceof Problem && error.code === 'changed_meanwhile'
      complaint.value = sentence(error)
    }
  }
  function back(): void {
    delete drafts.value[slot.value]
    unfold()
    void load()
  }

  const changes = computed(() => {
    if (!found.value || !kept.value) return ''
    const before = new Set(kept.value.derived.map((d) => d.element.key))
    const after = new Set(found.value.derived.map((d) => d.element.key))
    const fresh = [...after].filter((k) => !before.has(k)).length
    const gone = [...before].filter((k) => !after.has(k)).length
    return [fresh && `${fresh} new`, gone && `${gone} no longer in it`].filter(Boolean).join(', ') || 'same elements'
  })
  /** What was typed for an element gives way to what the shape says. */
  async function follow(element: number, field: Schemas['Disagreement']['field']): Promise<void> {
    if (field === 'volume_m3' || field === 'floor_area_m2') return // of the building: typed empty under Elements
    await take(
      api.POST('/api/elements/{element_id}/follow/{field}', { params: { path: { element_id: element, field } } }),
    )
    await Promise.all([project.open(id.value), load()])
  }
  return { kept, found, shape, complaint, refused, clash, changed, changes, unread, keep, back, follow }
}
