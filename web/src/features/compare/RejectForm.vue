<script setup lang="ts">
/** An option turned down with its own reason, or taken back into the running. */
import { ref } from 'vue'
import { api, take } from '@/api/client'
import { useAct } from '@/shared/query'
import type { Option } from './rows'

const props = defineProps<{ option: Option; chosen: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const open = ref(false)
const reason = ref('')
const { complaint, busy, act } = useAct()
const send = (words: string): Promise<boolean> =>
  act(async () => {
    await take(
      api.PUT('/api/options/{option_id}/rejection', {
        params: { path: { option_id: props.option.id } },
        body: { reason: words },
      }),
    )
    open.value = false
    reason.value = ''
    emit('changed')
  })
</script>

<template>
  <template v-if="option.rejected_reason">
    <span>rejected: {{ option.rejected_reason }}</span>
    &ensp;<span class="soft">{{ option.rejected_by }}</span
    >&ensp;
    <ElButton link :disabled="busy" @click="send('')">take it back</ElButton>
  </template>
  <ElButton v-else-if="!open && !chosen" link @click="open = true">reject it</ElButton>
  <ElForm v-else-if="open" class="reject" @submit.prevent="send(reason)">
    <ElInput
      v-model="reason"
      size="small"
      maxlength="2000"
      :aria-label="`Why ${option.name} is rejected`"
      placeholder="why"
      @keydown.esc.stop="open = false"
    />
    <ElButton size="small" native-type="submit" :disabled="busy || !reason.trim()">Reject it</ElButton>
  </ElForm>
  <span v-if="complaint" class="complaint" role="alert">{{ complaint }}</span>
</template>

<style scoped>
.reject {
  display: flex;
  gap: 4px;
}
</style>
