<script setup lang="ts">
/** A number with its unit, typed either way; commits on Enter or on leaving, complains in words. */
import { computed, ref, useId, watch } from 'vue'
import { bare as figure, read, unitOf, type Quantity } from './units'

const props = defineProps<{
  modelValue: number | null | undefined
  label: string
  quantity: Quantity
  least?: number
  most?: number
  digits?: number
  optional?: boolean
  /** the label is for screen readers only */
  bare?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number | null] }>()
const model = computed<number | null>({
  get: () => props.modelValue ?? null,
  set: (value) => emit('update:modelValue', value),
})
const shown = (): string =>
  model.value === null || model.value === undefined ? '' : figure(model.value, props.quantity, props.digits)
const text = ref(shown())
const complaint = ref('')
const unit = computed(() => unitOf(props.quantity).unit)
watch([model, unit], () => {
  if (!complaint.value) text.value = shown()
})
function commit(): void {
  complaint.value = ''
  if (text.value === shown()) return
  if (!text.value.trim() && props.optional) {
    model.value = null
    return
  }
  const value = read(text.value, props.quantity)
  if (value === null) complaint.value = `“${text.value}” is no number${unit.value ? ` in ${unit.value}` : ''}`
  else if ((props.least !== undefined && value < props.least) || (props.most !== undefined && value > props.most))
    complaint.value = `must lie in ${figure(props.least ?? 0, props.quantity)} to ${figure(props.most ?? 1e7, props.quantity)}`
  else model.value = value
}
/** A form is not sent while a figure in it is not understood. */
const id = useId()
const rules = {
  trigger: 'submit',
  validator: (_rule: unknown, _value: unknown, done: (error?: Error) => void) =>
    done(complaint.value ? new Error(complaint.value) : undefined),
}
</script>

<template>
  <ElFormItem class="field" label-position="top" :prop="id" :rules="rules" :error="complaint">
    <template #label
      ><span :class="{ hidden: bare }">{{ label }}{{ unit ? `, ${unit}` : '' }}</span></template
    >
    <ElInput v-model="text" inputmode="decimal" :aria-invalid="!!complaint" @change="commit" @keydown.enter="commit" />
    <template #error="{ error }"
      ><small class="complaint" role="alert">{{ error }}</small></template
    >
  </ElFormItem>
</template>
