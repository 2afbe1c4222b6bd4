<script setup lang="ts">
/** Somebody answers for covering it before it is ready; reason and name go with the element from then on. */
import { reactive } from 'vue'
import { useForm } from '@/shared/form'
import TextField from '@/shared/TextField.vue'
import { useWater, type Row } from './useWater'

const props = defineProps<{ row: Row }>()
const emit = defineEmits<{ done: [] }>()
const { tell } = useWater()
const whenRight = useForm()
const override = reactive({ reason: '', name: '' })
async function keep(): Promise<void> {
  if (await tell(props.row.element_id, 'override', override, `Override of ${props.row.name}`)) emit('done')
}
</script>

<template>
  <ElForm ref="form" class="line" :model="{}" hide-required-asterisk @submit.prevent="whenRight(keep)">
    <TextField
      label="Why it may be covered all the same"
      type="textarea"
      v-model="override.reason"
      name="override-reason"
      :rows="2"
      must="A reason is needed."
      maxlength="2000"
    />
    <TextField
      label="Who decides"
      v-model="override.name"
      name="override-name"
      must="Somebody decides it: who?"
      maxlength="150"
    />
    <p class="marginal">Reason and name are printed in every document of this element.</p>
    <ElButton type="primary" native-type="submit"> Ready by override </ElButton>
    <ElButton @click="emit('done')">Leave it</ElButton>
  </ElForm>
</template>

<style scoped>
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
p {
  flex-basis: 100%;
  margin: 0;
}
</style>
