<script setup lang="ts">
/** The lists of a project, as on paper; each out as CSV, all of them as one workbook. */
import { computed } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import ChoiceBar from '@/shared/ChoiceBar.vue'
import { useAnswer } from '@/shared/query'
import RuledTable from '@/shared/RuledTable.vue'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import type { Column } from '@/shared/table'
import { isImperial, said } from '@/shared/units'

type Key = Schemas['ListOut']['key']
interface Row {
  cells: Schemas['Said'][]
  element: number | null
}
const LISTS: readonly (readonly [Key, string])[] = [
  ['water', 'Water items'],
  ['opening', 'Openings'],
  ['pins', 'Pins'],
  ['readings', 'Readings'],
  ['constructions', 'Constructions'],
  ['options', 'Options'],
  ['heat', 'Heat'],
  ['leaks', 'Leaks'],
  ['rooms', 'Rooms'],
  ['balance', 'Balance'],
]
const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.project))
const key = computed({
  get: () => (route.params.key as Key) || 'water',
  set: (now) => void router.replace({ name: 'lists', params: { project: id.value, key: now } }),
})
const {
  data: list,
  complaint,
  load,
} = useAnswer(
  () => ['lists', id.value, key.value],
  () =>
    take(
      api.GET('/api/projects/{project_id}/lists/{list_key}', {
        params: { path: { project_id: id.value, list_key: key.value } },
      }),
    ),
)
const rows = computed<Row[]>(() =>
  (list.value?.rows ?? []).map((cells, at) => ({ cells, element: list.value?.elements[at] ?? null })),
)
const columns = computed<Column<Row>[]>(() =>
  (list.value?.columns ?? []).map((column, at) => ({
    name: `c${at}`,
    head: said(column.head),
    figure: column.figure,
    text: (row: Row) => said(row.cells[at]),
  })),
)
const system = computed(() => (isImperial.value ? 'inch' : 'metric'))
const base = computed(() => `/api/projects/${id.value}`)
</script>

<template>
  <SheetPage title="Lists" written>
    <div class="head">
      <h1>{{ list?.name ?? 'Lists' }}</h1>
      <span class="ways">
        <a :href="`${base}/lists/${key}/csv?system=${system}`" download>CSV</a>
        <a :href="`${base}/workbook?system=${system}`" download>All lists, XLSX</a>
        <RouterLink :to="{ name: 'dossier', params: { project: id } }">Dossier</RouterLink>
      </span>
    </div>
    <ChoiceBar v-model="key" label="List" :options="LISTS" />
    <p v-if="complaint" class="complaint" role="alert">
      {{ complaint }} <ElButton link @click="load">Try again</ElButton>
    </p>
    <ReadingNote v-if="!list && !complaint" what="the list" />
    <template v-if="list">
      <p v-if="!rows.length" class="soft empty">{{ list.empty }}</p>
      <RuledTable v-else class="list" :rows="rows" :columns="columns" :sums="list.totals.length > 0" :label="list.name">
        <template v-for="(total, at) in list.totals" :key="at" #[`sum-c${at}`]>{{ said(total) }}</template>
      </RuledTable>
      <p v-if="list.note" class="soft">{{ list.note }}</p>
    </template>
    <template #margin>
      <h3>Out of here</h3>
      <p class="soft">
        CSV holds the list that is shown, XLSX all of them with totals as live formulas; both in the units that are
        shown, figures not rounded. What a spreadsheet would take as a formula is kept as text.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: end;
  margin-bottom: 8px;
}
.ways a {
  margin-left: 16px;
}
.list {
  margin-top: 10px;
}
.list :deep(th .cell) {
  white-space: normal;
  line-height: 1.2;
}
.list :deep(td:last-child) {
  min-width: 120px;
}
.empty {
  margin: 24px 0;
}
</style>
