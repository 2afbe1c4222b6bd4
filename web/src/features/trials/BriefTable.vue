<script setup lang="ts">
/** Runs of a batch as rows: driven rain, worst month at the plane, mould, verdict. */
import { computed } from 'vue'
import StateMark from '@/shared/StateMark.vue'
import { said, show } from '@/shared/units'
import { briefOf, type Batch } from './useBatches'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'

const props = defineProps<{ batch: Batch; heading: string; worst?: number }>()
const rows = computed(() => props.batch.runs.map((run) => ({ run, result: briefOf(run) })))
const columns = computed<Column<(typeof rows.value)[number]>[]>(() => [
  { name: 'what', head: props.heading, text: (row) => row.run.label },
  { name: 'rain', head: 'driven rain', text: ({ result }) => (result ? show(result.driven_rain_mm, 'rain') : '') },
  {
    name: 'month',
    head: 'worst month at the plane',
    text: ({ result: r }) => (r ? `${Math.min(100, r.worst_month_rh * 100).toFixed(0)} % · ${r.worst_month}` : ''),
  },
  { name: 'mould', head: 'mould index', text: ({ result }) => result?.mould.toFixed(1) ?? '' },
  { name: 'verdict', head: 'verdict' },
])
</script>

<template>
  <RuledTable
    class="runs"
    :rows="rows"
    :columns="columns"
    :mark="(row) => (row.run.id === worst ? 'here' : '')"
    :across="(row) => (row.result ? null : row.run.error || row.run.status)"
  >
    <template #verdict="{ row: { result } }">
      <StateMark v-if="result" :state="result.state" :words="said(result.headline)" />
    </template>
  </RuledTable>
</template>

<style scoped>
@import './panel.css';
</style>
