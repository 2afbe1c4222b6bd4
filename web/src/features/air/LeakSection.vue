<script setup lang="ts">
/** Leaks on the house section: what is drawn in and what goes out, as found and after; beside it what is no band of the cut. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, takeAs } from '@/api/client'
import HatchDefs from '@/drawing/HatchDefs.vue'
import type { House } from '@/shared/house'
import { useAnswer } from '@/shared/query'
import SectionDrawing from '@/shared/section/SectionDrawing.vue'
import { bare, unitOf } from '@/shared/units'
import type { LeakRow } from './useAir'

const props = defineProps<{ projectId: number; rows: readonly LeakRow[]; picked: string | null }>()
const emit = defineEmits<{ pick: [key: string] }>()
const router = useRouter()
const { data: house, complaint } = useAnswer(
  () => ['house', props.projectId, null, false],
  () =>
    takeAs<House>(
      api.GET('/api/projects/{project_id}/house', {
        params: { path: { project_id: props.projectId }, query: { after: false } },
      }),
    ),
)
const drawn = computed(() => new Set((house.value?.bands ?? []).map((b) => b.element_id)))
const beside = computed(() =>
  props.rows
    .filter((r) => r.element_id === null || !drawn.value.has(r.element_id))
    .sort((a, b) => b.in_before + b.out_before - a.in_before - a.out_before)
    .slice(0, 12),
)
const selected = computed(() => props.rows.find((r) => r.key === props.picked)?.element_id ?? null)
function open(element: number): void {
  const row = props.rows.find((r) => r.element_id === element)
  if (row) emit('pick', row.key)
  else void router.push({ name: 'options', params: { project: props.projectId, element } })
}
const way = (r: LeakRow): string =>
  r.in_before + r.in_after >= r.out_before + r.out_after
    ? `in ${bare(r.in_before, 'flow')} → ${bare(r.in_after, 'flow')}`
    : `out ${bare(r.out_before, 'flow')} → ${bare(r.out_after, 'flow')}`
</script>

<template>
  <div class="cut">
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <template v-if="house?.bands.length">
      <HatchDefs />
      <SectionDrawing :house="house" lens="air" :selected="selected" :mark="null" :flows="rows" @open="open" />
      <div class="beside">
        <h3>Not a band of this section, {{ unitOf('flow').unit }}</h3>
        <ul>
          <li v-for="r in beside" :key="r.key">
            <ElButton link @click="emit('pick', r.key)">{{ r.name }}</ElButton>
            <span class="soft"> {{ way(r) }}</span>
          </li>
        </ul>
      </div>
    </template>
  </div>
</template>

<style scoped>
.beside ul {
  columns: 3 220px;
  padding-left: 0;
  list-style: none;
  margin: 2px 0 8px;
}
</style>
