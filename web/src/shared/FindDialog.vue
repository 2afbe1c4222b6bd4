<script setup lang="ts">
/** Find anything: elements of this project, steps, projects. */
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter, type RouteLocationRaw } from 'vue-router'
import { api, take } from '@/api/client'
import { useProject } from './project'

const props = defineProps<{ projectId?: number }>()
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const project = useProject()
const text = ref('')
const at = ref(0)
const projects = ref<{ id: number; name: string }[]>([])
const field = ref<HTMLInputElement>()

interface Hit {
  label: string
  kind: string
  to: RouteLocationRaw
}
const everything = computed<Hit[]>(() => {
  const id = props.projectId
  const hits: Hit[] = []
  if (id) {
    for (const e of project.layered) {
      const params = { project: id, element: e.id }
      hits.push({ label: e.name, kind: 'options', to: { name: 'options', params } })
      hits.push({ label: e.name, kind: 'year in the wall', to: { name: 'year', params } })
      hits.push({ label: e.name, kind: 'compare', to: { name: 'compare', params } })
    }
    hits.push({ label: 'Survey', kind: 'step', to: { name: 'survey', params: { project: id } } })
    hits.push({ label: 'Heat', kind: 'step', to: { name: 'heat', params: { project: id } } })
  }
  for (const p of projects.value)
    hits.push({ label: p.name, kind: 'project', to: { name: 'survey', params: { project: p.id } } })
  hits.push(
    { label: 'Library and climates', kind: 'page', to: '/library' },
    { label: 'Runs', kind: 'page', to: '/runs' },
  )
  for (const m of project.materials.values())
    hits.push({ label: m.name, kind: m.group, to: { name: 'library', hash: `#${m.id}` } })
  return hits
})
const hits = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return everything.value
    .filter((h) => words.every((w) => `${h.label} ${h.kind}`.toLowerCase().includes(w)))
    .slice(0, 10)
})
watch(open, async (now) => {
  if (!now) return
  text.value = ''
  at.value = 0
  await nextTick()
  setTimeout(() => field.value?.focus(), 60)
  projects.value = await take(api.GET('/api/projects'))
})
watch(text, () => (at.value = 0))
function go(hit: Hit | undefined): void {
  if (!hit) return
  open.value = false
  router.push(hit.to)
}
</script>

<template>
  <ElDialog v-model="open" title="Find" width="520" align-center>
    <input
      ref="field"
      v-model="text"
      class="query"
      aria-label="Find an element, step, project or material"
      placeholder="an element, a step, a project, a material"
      @keydown.down.prevent="at = Math.min(at + 1, hits.length - 1)"
      @keydown.up.prevent="at = Math.max(at - 1, 0)"
      @keydown.enter.prevent="go(hits[at])"
    />
    <ul>
      <li v-for="(hit, i) in hits" :key="hit.kind + hit.label + i">
        <button type="button" :class="{ at: i === at }" @click="go(hit)">
          {{ hit.label }} <span class="soft">{{ hit.kind }}</span>
        </button>
      </li>
    </ul>
    <p v-if="!hits.length" class="soft">Nothing is called that.</p>
  </ElDialog>
</template>

<style scoped>
.query {
  width: 100%;
  padding: 6px 9px;
  border: 1px solid var(--ink);
  background: #fff;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
li button {
  display: flex;
  justify-content: space-between;
  width: 100%;
  background: none;
  border: 0;
  padding: 5px 8px;
  cursor: pointer;
  text-align: left;
}
li button.at,
li button:hover {
  background: #eee8da;
}
</style>
