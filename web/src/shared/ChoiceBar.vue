<script setup lang="ts" generic="T extends string | number">
/** One of a few, side by side. */
defineProps<{ label: string; options: readonly (readonly [T, string])[]; disabled?: boolean }>()
const model = defineModel<T | undefined>({ required: true })
</script>

<template>
  <ElRadioGroup v-model="model" :aria-label="label" :disabled="disabled" class="choicebar">
    <ElRadioButton v-for="[value, words] in options" :key="value" :value="value">{{ words }}</ElRadioButton>
  </ElRadioGroup>
</template>
