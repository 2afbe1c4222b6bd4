<script setup lang="ts">
/** The reports made so far: when, by whom, whether the project moved on since, whose name stands under them. */
import type { Schemas } from '@/api/client'
import { day } from '@/shared/dates'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { underWay, type Report } from './useDossier'

defineProps<{ reports: readonly Report[] }>()
const emit = defineEmits<{
  cancel: [report: Report]
  remove: [report: Report]
  sign: [report: Report]
  takeBack: [signature: Schemas['SignatureOut']]
}>()
const size = (bytes: number): string =>
  bytes < 1e6 ? `${Math.round(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(1)} MB`
const units = (r: Report): string =>
  `${r.sheet === 'a4' ? 'A4' : 'letter'}, ${r.system === 'inch' ? 'inches, R' : 'mm, U'}`
function stands(r: Report): string {
  if (r.state === 'made') return r.current ? 'current' : 'out of date'
  if (r.state === 'lost') return 'its file is gone; make it again'
  return r.state === 'failed' ? `failed: ${r.error}` : r.state
}
const columns: Column<Report>[] = [
  { name: 'title', head: 'Report' },
  { name: 'made', head: 'Made', text: (r) => (r.made_at ? day(r.made_at.slice(0, 10)) : '–') },
  { name: 'by', head: 'By', text: (r) => r.asked_by },
  { name: 'units', head: 'Sheet, units', text: units },
  { name: 'pages', head: 'Pages', figure: true, text: (r) => (r.pages ? `${r.pages}, ${size(r.size)}` : '–') },
  { name: 'state', head: 'State' },
  { name: 'names', head: 'Names under it' },
  { name: 'act', figure: true },
]
</script>

<template>
  <RuledTable :rows="reports" :columns="columns" label="Reports made so far" :key-of="(r) => String(r.id)">
    <template #title="{ row }">
      <a v-if="row.state === 'made'" :href="`/api/reports/${row.id}/file`" target="_blank">{{ row.title }}</a>
      <template v-else>{{ row.title }}</template>
    </template>
    <template #state="{ row }">
      <span :data-report="row.kind" :data-state="row.state">
        <template v-if="underWay(row)">
          {{ row.doing || row.state }}
          <progress :value="row.progress" max="1" :aria-label="`${row.title}: ${row.doing}`" />
        </template>
        <template v-else>{{ stands(row) }}</template>
      </span>
    </template>
    <template #names="{ row }">
      <div v-for="s in row.signatures" :key="s.id">
        {{ s.name }}, {{ s.role }}, {{ day(s.on) }}<b v-if="!s.holds"> (the file changed since)</b>
        <ElButton link :aria-label="`Take back ${s.name}`" @click="emit('takeBack', s)">take back</ElButton>
      </div>
      <ElButton v-if="row.state === 'made'" link @click="emit('sign', row)">put a name under it</ElButton>
    </template>
    <template #act="{ row }">
      <ElButton v-if="underWay(row)" link @click="emit('cancel', row)">cancel</ElButton>
      <ElButton
        v-else-if="!row.signatures.length"
        link
        :aria-label="`Remove ${row.title}`"
        @click="emit('remove', row)"
      >
        remove
      </ElButton>
    </template>
  </RuledTable>
</template>

<style scoped>
progress {
  width: 90px;
  height: 4px;
  vertical-align: middle;
  accent-color: var(--ink);
}
</style>
