<script setup lang="ts">
/** What was chosen, rejected and removed, by whom and when, with what was before; put back by a press. */
import { api, take } from '@/api/client'
import { moment } from '@/shared/dates'
import { useAct, useAnswer } from '@/shared/query'

const props = defineProps<{ elementId: number; stamp: unknown }>()
const emit = defineEmits<{ changed: [] }>()
const answer = useAnswer(
  () => ['decisions', props.elementId, props.stamp],
  () => take(api.GET('/api/elements/{element_id}/decisions', { params: { path: { element_id: props.elementId } } })),
  { fresh: true },
)
const { complaint, busy, act } = useAct()
const putBack = (entry_id: number): Promise<boolean> =>
  act(async () => {
    answer.put(
      await take(
        api.POST('/api/elements/{element_id}/decisions/{entry_id}/back', {
          params: { path: { element_id: props.elementId, entry_id } },
        }),
      ),
    )
    emit('changed')
  })
</script>

<template>
  <section v-if="answer.data.value?.length" class="decided" aria-label="What was decided">
    <h2>What was decided</h2>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <ElTimeline>
      <ElTimelineItem
        v-for="d in answer.data.value"
        :key="d.id"
        :timestamp="`${moment(d.at)}, ${d.person}`"
        placement="top"
        data-decision
      >
        <template v-if="d.scheme">in “{{ d.scheme }}”: </template><span class="soft">{{ d.was }}</span> → {{ d.now }}
        <ElButton v-if="d.back" link :disabled="busy" @click="putBack(d.id)">{{ d.back }}</ElButton>
      </ElTimelineItem>
    </ElTimeline>
  </section>
</template>

<style scoped>
.decided :deep(.el-timeline) {
  padding-left: 4px;
}
.decided {
  margin-top: 18px;
  max-width: 760px;
}
</style>
