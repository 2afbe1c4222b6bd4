<script setup lang="ts">
/** A small number beside its words: so many a square metre, so many percent. */
withDefaults(
  defineProps<{ modelValue: number; label: string; spoken: string; most: number; step?: number; width?: number }>(),
  { step: 1, width: 80 },
)
const emit = defineEmits<{ 'update:modelValue': [value: number] }>()
</script>

<template>
  <span
    ><span class="soft">{{ label }}</span>
    <ElInputNumber
      :model-value="modelValue"
      size="small"
      :min="0"
      :max="most"
      :step="step"
      controls-position="right"
      :aria-label="spoken"
      :style="{ width: `${width}px` }"
      @change="(value: number | undefined) => emit('update:modelValue', value ?? 0)"
  /></span>
</template>

<style scoped>
.soft {
  margin-right: 6px;
}
</style>
