<script setup lang="ts">
import { RouterLink } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import SheetPage from '@/shared/SheetPage.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { useAct, useAnswer } from '@/shared/query'

const {
  data: runs,
  complaint: refused,
  load,
} = useAnswer(
  () => ['runs'],
  () => take(api.GET('/api/runs')),
  { every: () => 1500 },
)
const { complaint, act } = useAct()
const cancel = (id: number): Promise<boolean> =>
  act(async () => {
    await take(api.POST('/api/runs/{run_id}/cancel', { params: { path: { run_id: id } } }))
    await load()
  })
const COLUMNS: Column<Schemas['RunOut']>[] = [
  { name: 'element', head: 'Element and option', text: (run) => `${run.element_name}: ${run.option_name}` },
  { name: 'project', head: 'Project', text: (run) => run.project_name },
  { name: 'state', head: 'State' },
  { name: 'act' },
]
</script>

<template>
  <SheetPage title="Runs" written>
    <div class="page">
      <h1>Runs</h1>
      <p class="soft">Hourly years that were asked for, newest first.</p>
      <p v-if="complaint || refused" class="complaint" role="alert">{{ complaint || refused }}</p>
      <p v-if="runs?.length === 0">Nothing was run yet.</p>
      <RuledTable v-if="runs?.length" :rows="runs" :columns="COLUMNS">
        <template #state="{ row }">
          {{ row.status
          }}<template v-if="row.status === 'running'"
            >, {{ row.doing }}, {{ Math.round(row.progress * 100) }} %</template
          >
          <span v-if="row.error" class="complaint"> {{ row.error }}</span>
        </template>
        <template #act="{ row }">
          <ElButton v-if="row.status === 'running' || row.status === 'waiting'" link @click="cancel(row.id)">
            cancel
          </ElButton>
          <a v-else-if="row.status === 'done'" :href="`/api/runs/${row.id}/hourly.csv`" download>hourly CSV</a>
        </template>
      </RuledTable>
      <p><RouterLink to="/projects">My projects</RouterLink></p>
    </div>
  </SheetPage>
</template>
