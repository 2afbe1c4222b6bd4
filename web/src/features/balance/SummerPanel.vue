<script setup lang="ts">
/** Summer after the works: hours too warm as it is, and with one measure each. Each row is an hourly year, so it is asked for. */
import { ref } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { useAct } from '@/shared/query'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { bare, capital, said, show, unitOf } from '@/shared/units'

const props = defineProps<{ projectId: number; warmC: number }>()
type Row = Schemas['Summer']
const rows = ref<Row[]>([])
const { complaint, busy, act } = useAct()
const ask = (): Promise<boolean> =>
  act(async () => {
    rows.value = await takeAs<Row[]>(
      api.GET('/api/projects/{project_id}/balance/summer', { params: { path: { project_id: props.projectId } } }),
    )
  })
const first = (): Row => rows.value[0]!
const columns: Column<Row>[] = [
  { name: 'what', head: 'With', text: (r) => capital(said(r.what)) },
  {
    name: 'hours',
    head: `hours over ${show(props.warmC, 'temperature', 0)}`,
    figure: true,
    mark: 'strong',
    text: (r) => `${Math.round(r.warm_h)}`,
  },
  { name: 'most', head: 'warmest hour', figure: true, text: (r) => show(r.warmest_c, 'temperature', 1) },
  {
    name: 'cooling',
    head: `cooling, ${unitOf('energy').unit}`,
    figure: true,
    text: (r) => (r.cooling_kwh < 0.5 ? '–' : bare(r.cooling_kwh, 'energy')),
  },
  {
    name: 'peak',
    head: `its peak, ${unitOf('power').unit}`,
    figure: true,
    text: (r) => (r.cooling_peak_w < 1 ? '–' : bare(r.cooling_peak_w, 'power')),
  },
  {
    name: 'heat',
    head: `heat, against as it is, ${unitOf('energy').unit}`,
    figure: true,
    text: (r) => (r === rows.value[0] ? '' : bare(r.heating_kwh - first().heating_kwh, 'energy')),
  },
]
</script>

<template>
  <details class="summer">
    <summary>Summer: what keeps the rooms cooler</summary>
    <p class="soft">
      The building after the works, each measure alone. Too warm is said under Air, “Too warm above”; what is cooled
      there shows as cooling.
    </p>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <ElButton :disabled="busy" @click="ask">{{ busy ? 'Running …' : 'Run them' }}</ElButton>
    <RuledTable v-if="rows.length" data-summer label="Summer, one measure each" :rows="rows" :columns="columns" />
  </details>
</template>

<style scoped>
.summer {
  margin-top: 10px;
}
.summer :deep(.strong) {
  font-weight: 600;
}
</style>
