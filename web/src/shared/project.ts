/** The project that is open, its elements, and the library. */
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import { lastKnown } from './outbox'

export type Element = Schemas['ElementOut']
export type Material = Schemas['MaterialOut']

/** Where an element stands in the scheme that is shown, beside its name; nothing where it is in both lines. */
export const LINE_WORDS: Record<string, string> = {
  before: 'not in the heated line after the works',
  after: 'new in the heated line',
  both: '',
}

export const useProject = defineStore('project', () => {
  const page = ref<Schemas['ProjectPage'] | null>(null)
  const library = ref<Schemas['LibraryOut'] | null>(null)
  const materials = computed(() => new Map((library.value?.materials ?? []).map((m) => [m.id, m])))
  const elements = computed(() => page.value?.elements ?? [])
  const layered = computed(() => elements.value.filter((e) => e.kind !== 'window' && e.kind !== 'door'))

  /** again: it was changed. */
  /** counted up when another scheme is shown: sheets ask again */
  const scheme = ref(0)
  async function loadLibrary(again = false): Promise<void> {
    if (again || !library.value) library.value = await take(api.GET('/api/library'))
  }
  async function open(id: number): Promise<void> {
    if (page.value?.project.id !== id) page.value = null
    page.value = await lastKnown(`project ${id}`, () =>
      take(api.GET('/api/projects/{project_id}', { params: { path: { project_id: id } } })),
    )
  }
  /** Another scheme is shown from now on; the page of the project follows. */
  async function showScheme(scheme_id: number): Promise<void> {
    const id = page.value?.project.id
    if (id === undefined) return
    await take(
      api.PUT('/api/projects/{project_id}/shown-scheme', { params: { path: { project_id: id } }, body: { scheme_id } }),
    )
    await open(id)
    scheme.value++
  }
  function materialName(id: string): string {
    return materials.value.get(id)?.name ?? id
  }
  return { showScheme, scheme, page, library, materials, elements, layered, loadLibrary, open, materialName }
})
