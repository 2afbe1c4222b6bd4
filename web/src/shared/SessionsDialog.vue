<script setup lang="ts">
/** Where this person is signed in; any other sign-in can be ended. */
import { api, take } from '@/api/client'
import { moment } from './dates'
import { useAct, useAnswer } from './query'

const open = defineModel<boolean>({ required: true })
const {
  data: rows,
  complaint: unread,
  put,
} = useAnswer(
  () => ['sessions'],
  () => take(api.GET('/api/sessions')),
  { when: () => open.value, fresh: true },
)
const { complaint, act } = useAct()
const end = (key: string): Promise<boolean> =>
  act(async () => put(await take(api.DELETE('/api/sessions/{key}', { params: { path: { key } } }))))
</script>

<template>
  <ElDialog v-model="open" title="Where you are signed in" width="640" align-center>
    <p v-if="complaint || unread" class="complaint" role="alert">{{ complaint || unread }}</p>
    <ElTable :data="rows" row-key="key" size="small" empty-text="Nowhere.">
      <ElTableColumn label="Device" prop="device" min-width="220" />
      <ElTableColumn label="Address" prop="address" width="110" />
      <ElTableColumn label="Last seen" width="140">
        <template #default="{ row }">{{ moment(row.seen) }}</template>
      </ElTableColumn>
      <ElTableColumn label="" width="110">
        <template #default="{ row }">
          <span v-if="row.here">this one</span>
          <ElButton v-else link @click="end(row.key)">End it</ElButton>
        </template>
      </ElTableColumn>
    </ElTable>
  </ElDialog>
</template>
