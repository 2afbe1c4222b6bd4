<script setup lang="ts" generic="T extends string | number | boolean | undefined">
/** A select under its label, as it stands in a form; its options are in the slot. */
defineProps<{ label: string; name?: string; disabled?: boolean }>()
defineEmits<{ change: [value: T] }>()
const model = defineModel<T>({ required: true })
</script>

<template>
  <ElFormItem class="field" :label="label" label-position="top">
    <ElSelect
      v-model="model"
      :aria-label="label"
      :name="name"
      :disabled="disabled"
      @change="(value: T) => $emit('change', value)"
    >
      <slot />
    </ElSelect>
  </ElFormItem>
</template>
