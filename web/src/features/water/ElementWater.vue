<script setup lang="ts">
/** What is known of one element before it is covered: looked at, its pins, an override by name, an item of one's own. */
import { ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { day, today } from '@/shared/dates'
import ReadinessMark from '@/shared/ReadinessMark.vue'
import { mayBeCovered } from '@/shared/readiness'
import TextField from '@/shared/TextField.vue'
import NewItemForm from './NewItemForm.vue'
import OverrideForm from './OverrideForm.vue'
import { useWater, type Row } from './useWater'

const props = defineProps<{ row: Row }>()
const { id, tell } = useWater()
const note = ref(props.row.looked_at_note)
const overriding = ref(false)
const adding = ref(false)
watch(
  () => props.row.element_id,
  () => {
    note.value = props.row.looked_at_note
    overriding.value = adding.value = false
  },
)
const lookedAt = (looked_at: boolean): Promise<boolean> =>
  tell(props.row.element_id, 'looked-at', { looked_at, on: today(), note: note.value }, `Looked at ${props.row.name}`)
</script>

<template>
  <section class="own" :aria-label="row.name">
    <h2>{{ row.name }}: <ReadinessMark :state="row.state" words /></h2>
    <p v-if="row.state === 'not looked at'">{{ row.reasons[0] }}.</p>
    <p v-if="row.override_reason">
      Ready by override of <b>{{ row.override_by }}</b>, {{ day(row.override_at) }}: {{ row.override_reason }}
      <ElButton link @click="tell(row.element_id, 'override', { reason: '', name: '' }, 'Taking back the override')">
        take it back
      </ElButton>
    </p>
    <p v-if="row.looked_at_by" class="soft">
      Looked at by {{ row.looked_at_by }}, {{ day(row.looked_at_on)
      }}{{ row.looked_at_note ? `: ${row.looked_at_note}` : '' }}
      <ElButton link @click="lookedAt(false)">take it back</ElButton>
    </p>
    <div v-else class="line">
      <TextField label="What the look showed" v-model="note" name="look-note" maxlength="2000" />
      <ElButton type="primary" @click="lookedAt(true)">Looked at it</ElButton>
    </div>
    <p class="ways">
      <RouterLink :to="{ name: 'survey', params: { project: id, view: 'evidence' } }"
        >{{ row.pins }} pin{{ row.pins === 1 ? '' : 's' }}</RouterLink
      >
      <ElButton link @click="adding = true"> add a water item </ElButton>
      <ElButton link v-if="!mayBeCovered(row.state)" @click="overriding = true"> override </ElButton>
    </p>
    <OverrideForm v-if="overriding" :row="row" @done="overriding = false" />
    <NewItemForm v-if="adding" :element="row.element_id" @done="adding = false" />
  </section>
</template>

<style scoped>
.own {
  border: 1px solid var(--ink);
  padding: 10px 14px;
  margin-bottom: 14px;
}
.own h2 {
  margin-bottom: 6px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-bottom: 4px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: end;
  margin: 6px 0;
}
.line .field {
  flex: 1 1 180px;
}
@media (max-width: 900px), (pointer: coarse) {
  .el-button {
    min-height: 46px;
  }
}
</style>
