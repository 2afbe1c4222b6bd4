<script setup lang="ts">
/** Find anything: elements of this project, steps, projects, materials. */
import { computed } from 'vue'
import { useRouter, type RouteLocationRaw } from 'vue-router'
import { api, take } from '@/api/client'
import PickDialog from './PickDialog.vue'
import { useProject } from './project'
import { STEPS, SURVEY_VIEWS } from './steps'
import { useAnswer } from './query'

const props = defineProps<{ projectId?: number }>()
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const project = useProject()
const { data: projects } = useAnswer(
  () => ['projects'],
  () => take(api.GET('/api/projects')),
  { when: () => open.value },
)

interface Hit {
  key: string
  label: string
  note: string
  to: RouteLocationRaw
}
const VIEWS = [
  ['options', 'options'],
  ['proposals', 'proposals'],
  ['tests', 'tests and studies'],
  ['year', 'year in the wall'],
  ['compare', 'compare'],
] as const
const items = computed<Hit[]>(() => {
  const id = props.projectId
  const hits: Hit[] = []
  const add = (label: string, note: string, to: RouteLocationRaw): void => {
    hits.push({ key: `${note} ${label} ${hits.length}`, label, note, to })
  }
  if (id) {
    for (const e of project.layered)
      for (const [name, note] of VIEWS) add(e.name, note, { name, params: { project: id, element: e.id } })
    for (const { name, label, found } of STEPS) add(found ?? label, 'step', { name, params: { project: id } })
    add('Schemes and phases', 'step', { name: 'schemes', params: { project: id } })
    for (const [view, label] of SURVEY_VIEWS) add(label, 'survey', { name: 'survey', params: { project: id, view } })
  }
  for (const p of projects.value ?? []) add(p.name, 'project', { name: 'house', params: { project: p.id } })
  add('Library and climates', 'page', '/library')
  add('Runs', 'page', '/runs')
  for (const m of project.materials.values()) add(m.name, m.group, { name: 'library', hash: `#${m.id}` })
  return hits
})
</script>

<template>
  <PickDialog
    v-model="open"
    title="Find"
    hint="an element, a step, a project, a material"
    :items="items"
    :most="10"
    nothing="Nothing is called that."
    @pick="(hit) => router.push(hit.to)"
  />
</template>
