<script setup lang="ts">
/** One sheet within the frame: its title, and its margin notes where it has some. */
import { watch } from 'vue'
import { MARGIN, title as shown, written as words } from './frame'

const props = defineProps<{ title: string; written?: boolean }>()
defineSlots<{ default: () => unknown; margin?: () => unknown }>()
watch(
  () => props.title,
  (now) => {
    shown.value = now
    words.value = props.written
  },
  { immediate: true },
)
</script>

<template>
  <slot />
  <Teleport v-if="$slots.margin" defer :to="`#${MARGIN}`"><slot name="margin" /></Teleport>
</template>
