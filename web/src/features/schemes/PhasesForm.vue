<script setup lang="ts">
/** Phases in their order: a name, a day, how long the state after it lasts. Kept all at once. */
import { computed, reactive, ref } from 'vue'
import DateField from '@/shared/DateField.vue'
import TextField from '@/shared/TextField.vue'
import { copy } from '@/shared/copy'
import type { Phase, Scheme } from './useSchemes'

const props = defineProps<{ scheme: Scheme; busy: boolean }>()
const emit = defineEmits<{ keep: [phases: Phase[]] }>()
const plain = (): Phase[] =>
  props.scheme.phases.map(({ id, name, starts_on, years_after }) => ({ id, name, starts_on, years_after }))
const rows = reactive<Phase[]>(copy(plain()) as Phase[])
const changed = computed(() => JSON.stringify(rows) !== JSON.stringify(plain()))
const complaint = ref('')
function move(index: number, by: -1 | 1): void {
  const [row] = rows.splice(index, 1)
  rows.splice(index + by, 0, row!)
}
function keep(): void {
  const nameless = rows.findIndex((r) => !r.name.trim())
  complaint.value = nameless >= 0 ? `Phase ${nameless + 1} needs a name.` : ''
  if (!complaint.value)
    emit(
      'keep',
      rows.map((r) => ({ ...r, name: r.name.trim() })),
    )
}
</script>

<template>
  <div v-for="(row, i) in rows" :key="row.id ?? `new ${i}`" class="phase" role="group" :aria-label="`Phase ${i + 1}`">
    <b>{{ i + 1 }}</b>
    <TextField v-model="row.name" label="Name" maxlength="120" />
    <DateField v-model="row.starts_on" label="Begins" />
    <ElFormItem class="field" label="Years until the next" label-position="top">
      <ElInputNumber
        :model-value="row.years_after ?? undefined"
        :min="0"
        :max="100"
        controls-position="right"
        aria-label="Years until the next phase"
        @change="(n: number | undefined) => (row.years_after = n ?? null)"
      />
    </ElFormItem>
    <span class="acts">
      <ElButton link :disabled="!i" @click="move(i, -1)">earlier</ElButton>
      <ElButton link :disabled="i === rows.length - 1" @click="move(i, 1)">later</ElButton>
      <ElButton link @click="rows.splice(i, 1)">remove</ElButton>
    </span>
  </div>
  <p v-if="!rows.length" class="soft">No phases: all of it is done in one go.</p>
  <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
  <ElButton :disabled="rows.length > 11" @click="rows.push({ id: null, name: '', starts_on: null, years_after: null })">
    Add a phase
  </ElButton>
  <ElButton v-if="changed" type="primary" :disabled="busy" @click="keep">Keep the phases</ElButton>
</template>

<style scoped>
.phase {
  display: flex;
  gap: 12px;
  align-items: end;
  margin-bottom: 6px;
}
.phase > b {
  padding-bottom: 6px;
}
.phase :deep(.field) {
  width: 190px;
}
.acts {
  padding-bottom: 4px;
}
</style>
