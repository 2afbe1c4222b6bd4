<script setup lang="ts">
/** Where this person is signed in; any other sign-in can be ended. */
import { ref, watch } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'
import { moment } from './dates'

const open = defineModel<boolean>({ required: true })
const rows = ref<Schemas['SignedIn'][]>([])
const complaint = ref('')
async function show(call: Promise<Schemas['SignedIn'][]>): Promise<void> {
  complaint.value = ''
  try {
    rows.value = await call
  } catch (error) {
    complaint.value = sentence(error)
  }
}
const end = (key: string): Promise<void> => show(take(api.DELETE('/api/sessions/{key}', { params: { path: { key } } })))
watch(open, (now) => now && show(take(api.GET('/api/sessions'))), { immediate: true })
</script>

<template>
  <ElDialog v-model="open" title="Where you are signed in" width="640" align-center>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
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
