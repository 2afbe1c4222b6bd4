<script setup lang="ts">
/** How far a batch is, in words, with cancel and resume. */
import { computed } from 'vue'
import type { Batch, Batches } from './useBatches'

const props = defineProps<{ batch: Batch; state: Batches }>()
const active = computed(() => props.batch.status === 'waiting' || props.batch.status === 'running')
const share = computed(() => {
  const part = props.batch.runs.reduce(
    (sum, r) => sum + (r.status === 'done' ? 1 : r.status === 'running' ? r.progress : 0),
    0,
  )
  return part / Math.max(props.batch.total, 1)
})
const errors = computed(() => [...new Set(props.batch.runs.map((r) => r.error).filter(Boolean))])
</script>

<template>
  <p class="state" data-batch :data-status="batch.status" aria-live="polite">
    <template v-if="active">
      {{ batch.done }} of {{ batch.total }} {{ batch.total === 1 ? 'run' : 'runs' }} done
      <progress :value="share" max="1" :aria-label="`${batch.done} of ${batch.total} runs`" />
      <ElButton link @click="state.cancel(batch)">cancel</ElButton>
    </template>
    <template v-else-if="batch.status === 'cancelled' || batch.failed">
      {{ batch.status === 'cancelled' ? 'cancelled' : `${batch.failed} failed` }}, {{ batch.done }} of
      {{ batch.total }} runs are kept
      <ElButton link @click="state.resume(batch)">resume</ElButton>
    </template>
    <template v-else>{{ batch.total }} runs done</template>
    <span v-if="batch.out_of_date" class="over">out of date: the option changed since</span>
  </p>
  <p v-for="error in errors" :key="error" class="complaint">{{ error }}</p>
</template>

<style scoped>
.state {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 6px 0;
}
progress {
  width: 220px;
  height: 6px;
  accent-color: var(--ink);
}
</style>
