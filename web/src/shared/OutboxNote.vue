<script setup lang="ts">
/** Says what the server does not have yet, and lets a refused entry be sent again or given up. */
import { discard, flush, retry, useOutbox } from './outbox'

const props = defineProps<{ projectId: number }>()
const { waiting, refused, online } = useOutbox(() => props.projectId)
</script>

<template>
  <div v-if="waiting.length || refused.length || !online" class="outbox" role="status">
    <p v-if="!online && !waiting.length">
      No connection. What is shown was kept on this device; what is entered under Evidence and Water waits here.
    </p>
    <p v-if="waiting.length">
      <b>{{ waiting.length }} {{ waiting.length === 1 ? 'entry waits' : 'entries wait' }} on this device.</b>
      No connection; they are sent when it is back.
      <ElButton link @click="flush()">Try now</ElButton>
    </p>
    <p v-for="e in refused" :key="e.id" class="complaint">
      {{ e.label }} was not taken: {{ e.refused }}
      <ElButton link @click="retry(e)">Send it over theirs</ElButton>
      <ElButton link @click="discard(e)">Give it up</ElButton>
    </p>
  </div>
</template>

<style scoped>
.outbox {
  border-bottom: 1px solid var(--ink);
  background: #efe6cf;
  padding: 6px 20px;
  margin: -16px -20px 12px;
}
p {
  margin: 2px 0;
}
</style>
