<script setup lang="ts">
/** The rooms once each phase is built, until the next one is: need, tightness, humidity, fresh air. Asked apart, since each is an hourly year. */
import { computed } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { useAnswer } from '@/shared/query'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { bare, show, unitOf } from '@/shared/units'

const props = defineProps<{ projectId: number; schemes: Schemas['SchemesOut'] }>()
type Stage = Schemas['StageOut']
/** Asked again with every answer of the schemes: whatever was edited may have changed it. */
const { data, complaint } = useAnswer(
  () => ['stages', props.projectId, JSON.stringify(props.schemes)],
  () =>
    takeAs<Schemas['StagesOut']>(
      api.GET('/api/projects/{project_id}/stages', { params: { path: { project_id: props.projectId } } }),
    ),
  { fresh: true },
)
const stages = computed(() => data.value?.stages ?? [])
const columns = computed<Column<Stage>[]>(() => [
  { name: 'name', head: 'Once built', text: (s) => s.name },
  {
    name: 'need',
    head: `heat needed, ${unitOf('energy').unit}`,
    figure: true,
    mark: 'strong',
    text: (s) => bare(s.heating_kwh, 'energy'),
  },
  { name: 'peak', head: `most, ${unitOf('power').unit}`, figure: true, text: (s) => bare(s.heating_peak_w, 'power') },
  { name: 'n50', head: 'n50, 1/h', figure: true },
  { name: 'rh', head: 'rooms', figure: true, text: (s) => `${Math.round(s.rh * 100)} % in ${s.month}` },
  { name: 'fresh', head: `fresh air, ${unitOf('flow').unit}`, figure: true },
  { name: 'pane', head: 'hours with a wet pane', figure: true, text: (s) => `${Math.round(s.pane_h)}` },
  {
    name: 'warm',
    head: `hours over ${show(stages.value.at(-1)?.warm_c ?? 26, 'temperature', 0)}`,
    figure: true,
    text: (s) => `${Math.round(s.warm_h)}`,
  },
])
</script>

<template>
  <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
  <p v-if="data?.refused" class="soft">{{ data.refused }}</p>
  <template v-if="stages.length">
    <h3>The rooms between the phases</h3>
    <RuledTable class="stages" label="Rooms between the phases" :rows="stages" :columns="columns">
      <template #n50="{ row }">
        {{ row.n50 === null ? '–' : row.n50.toFixed(1) }}
        <span v-if="row.measured_n50 !== null" class="soft"> measured {{ row.measured_n50.toFixed(1) }}</span>
      </template>
      <template #fresh="{ row }">
        <span :class="{ over: row.fresh_m3_h < 0.95 * row.needed_m3_h }">{{ bare(row.fresh_m3_h, 'flow') }}</span>
        <span class="soft"> of {{ bare(row.needed_m3_h, 'flow') }}</span>
      </template>
    </RuledTable>
  </template>
</template>

<style scoped>
.stages :deep(.strong) {
  font-weight: 600;
}
h3 {
  margin-top: 10px;
}
</style>
