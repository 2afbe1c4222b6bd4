<script setup lang="ts">
/** A water item that follows from no confirmed cause. */
import { reactive } from 'vue'
import { useForm } from '@/shared/form'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'
import { useWater } from './useWater'

const props = defineProps<{ element: number }>()
const emit = defineEmits<{ done: [] }>()
const { page, add } = useWater()
const whenRight = useForm()
const fresh = reactive({ title: '', stage: page.value!.stages[0]!.id as string, shown_by: '', who: '' })
async function keep(): Promise<void> {
  if (await add(props.element, fresh)) emit('done')
}
</script>

<template>
  <ElForm ref="form" class="line" :model="{}" hide-required-asterisk @submit.prevent="whenRight(keep)">
    <TextField
      label="What is to be done"
      v-model="fresh.title"
      name="item-title"
      must="Say what is to be done."
      maxlength="300"
    />
    <SelectField label="Stage" v-model="fresh.stage">
      <ElOption v-for="s in page?.stages" :key="s.id" :value="s.id" :label="s.name" />
    </SelectField>
    <TextField label="What must be shown" v-model="fresh.shown_by" name="item-shown" maxlength="400" />
    <TextField label="Who" v-model="fresh.who" maxlength="120" />
    <ElButton type="primary" native-type="submit">Add it</ElButton>
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
</style>
