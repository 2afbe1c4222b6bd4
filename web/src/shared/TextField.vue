<script setup lang="ts">
/** A text under its label. What a form cannot do without is said at the field, in the words of `must`. first: the cursor stands in it. */
import { computed, onMounted, ref, useAttrs, useId } from 'vue'

defineOptions({ inheritAttrs: false })
const props = defineProps<{ label: string; must?: string; first?: boolean }>()
const [model, modifiers] = defineModel<string>()
const id = useId()
const field = ref<{ focus: () => void }>()
onMounted(() => props.first && field.value?.focus())
const attrs = useAttrs()
const rest = computed(() => ({ ...attrs, class: undefined }))
const rules = computed(() =>
  props.must === undefined
    ? undefined
    : {
        trigger: 'change',
        validator: (_rule: unknown, _value: unknown, done: (error?: Error) => void) =>
          done(model.value?.trim() ? undefined : new Error(props.must)),
      },
)
</script>

<template>
  <ElFormItem class="field" :class="attrs.class" :label="label" label-position="top" :prop="id" :rules="rules">
    <ElInput ref="field" v-model="model" :model-modifiers="modifiers" v-bind="rest" />
  </ElFormItem>
</template>
