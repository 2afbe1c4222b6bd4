<script setup lang="ts">
/** The limits of the criteria: in force, as they are by default, and why. Edited ones hold for the project, without a run. */
import { ElButton, ElDialog, ElInputNumber, ElTable, ElTableColumn } from 'element-plus'
import { ref, watch } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import { useAct, useAnswer } from '@/shared/query'
import { copy } from '@/shared/copy'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ projectId: number }>()
const emit = defineEmits<{ changed: [] }>()
type Limit = Schemas['LimitOut']
const limits = ref<Limit[]>([])
const criteria = ref<Schemas['CriterionOut'][]>([])
const path = () => ({ params: { path: { project_id: props.projectId } } })

const {
  data: found,
  complaint: refused,
  put,
} = useAnswer(
  () => ['limits', props.projectId],
  () => take(api.GET('/api/projects/{project_id}/limits', path())),
  { when: () => open.value, fresh: true },
)
watch(
  found,
  (now) => {
    limits.value = copy(now?.limits ?? [])
    criteria.value = copy(now?.criteria ?? [])
  },
  { immediate: true },
)
const { complaint, act } = useAct()
const keep = (): Promise<boolean> =>
  act(async () => {
    const edited = limits.value.filter((l) => l.value !== l.default).map((l) => ({ key: l.key, value: l.value }))
    put(await take(api.PUT('/api/projects/{project_id}/limits', { ...path(), body: { limits: edited } })))
    open.value = false
    emit('changed')
  })
function reset(): void {
  limits.value = limits.value.map((l) => ({ ...l, value: l.default }))
}
const name = (row: Limit): string => row.name + (row.unit ? `, ${row.unit}` : '')
</script>

<template>
  <ElDialog v-model="open" title="The limits and why" width="860px" append-to-body>
    <p class="soft">
      They hold for this project. Verdicts follow at once; nothing is run again. What a limit is not shown for is
      reported only.
    </p>
    <ElTable :data="limits" size="small" :row-key="(row: Limit) => row.key" max-height="380">
      <ElTableColumn label="limit" :formatter="(row: Limit) => name(row)" min-width="230" />
      <ElTableColumn label="in force" width="130">
        <template #default="{ row }">
          <ElInputNumber
            v-model="row.value"
            :min="row.least"
            :max="row.most"
            :controls="false"
            size="small"
            :aria-label="row.name"
            style="width: 92px"
          />
        </template>
      </ElTableColumn>
      <ElTableColumn label="default" prop="default" width="80" />
      <ElTableColumn label="because" prop="why" min-width="240" />
    </ElTable>
    <p v-for="c in criteria" :key="c.key" class="soft small">
      <b>{{ c.key }}</b>: {{ c.covers_not }}
    </p>
    <p v-if="complaint || refused" class="complaint" role="alert">{{ complaint || refused }}</p>
    <template #footer>
      <ElButton @click="reset">Defaults</ElButton>
      <ElButton type="primary" data-keep-limits @click="keep">Keep the limits</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.small {
  font-size: 12.5px;
  margin: 4px 0;
}
</style>
