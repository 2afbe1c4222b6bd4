<script setup lang="ts">
/** Said once above the options: rain drowns every difference. How much less would do, and the levers to try. */
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'
import { said } from '@/shared/units'
import type { SheetState } from './useSheet'

const props = defineProps<{ drowned: Schemas['Drowned']; state: SheetState }>()
const complaint = ref('')
const asked = ref(false)

async function act(call: () => Promise<unknown>): Promise<void> {
  complaint.value = ''
  try {
    await call()
    if (props.state.sheet.value) await props.state.load(props.state.sheet.value.element.id)
  } catch (error) {
    complaint.value = sentence(error)
  }
}
const found = () => props.state.works.value[0]!
const lessRain = (): Promise<void> =>
  act(async () => {
    await take(
      api.POST('/api/elements/{element_id}/batches', {
        params: { path: { element_id: props.state.sheet.value!.element.id } },
        body: { kind: 'less rain', option_id: found().id },
      }),
    )
    asked.value = true
  })
const lever = (key: Schemas['Lever']['key']): Promise<void> =>
  act(() =>
    take(api.POST('/api/options/{option_id}/lever', { params: { path: { option_id: found().id } }, body: { key } })),
  )
</script>

<template>
  <div class="drowned" role="note" data-drowned>
    <p>{{ said(drowned.words) }}</p>
    <p class="acts">
      <ElButton v-if="drowned.enough === null && !drowned.asked && !asked" size="small" @click="lessRain">
        Find by runs how much less would do
      </ElButton>
      <span v-else-if="drowned.enough === null" class="soft">
        The runs that find how much less would do are under way, or none of them was enough.
      </span>
      <span class="soft">Try:</span>
      <ElButton v-for="l in drowned.levers" :key="l.key" size="small" :data-lever="l.key" @click="lever(l.key)">
        {{ l.words }}
      </ElButton>
    </p>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
  </div>
</template>

<style scoped>
.drowned {
  border: 1.4px solid var(--ink);
  padding: 5px 10px;
  margin-bottom: 8px;
}
.drowned p {
  margin: 2px 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
}
</style>
