<script setup lang="ts">
/** A day under its label, typed or picked; kept as YYYY-MM-DD, nothing where there is none. */
defineProps<{ label: string; name?: string }>()
const model = defineModel<string | null | undefined>({ required: true })
</script>

<template>
  <ElFormItem class="field" :label="label" label-position="top">
    <ElDatePicker
      v-model="model"
      type="date"
      format="D MMM YYYY"
      value-format="YYYY-MM-DD"
      placeholder="no date"
      :aria-label="label"
      :name="name"
    />
  </ElFormItem>
</template>
