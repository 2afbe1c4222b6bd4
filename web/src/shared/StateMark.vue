<script setup lang="ts">
/** A state by shape and word: ring, half disc, cross, square for what is only said. */
import { computed } from 'vue'

const props = defineProps<{ state: string; words?: string }>()
const SHAPES: Record<string, 'ring' | 'half' | 'cross'> = {
  'within limits': 'ring',
  marginal: 'half',
  'over a limit': 'cross',
}
const shape = computed(() => SHAPES[props.state] ?? 'square')
const tone = computed(() => ({ ring: 'within', half: 'marginal', cross: 'over', square: 'soft' })[shape.value])
</script>

<template>
  <span class="mark" :class="tone">
    <svg width="13" height="13" viewBox="0 0 13 13" aria-hidden="true">
      <circle v-if="shape === 'ring'" cx="6.5" cy="6.5" r="4.8" fill="none" stroke="currentColor" stroke-width="2.2" />
      <path v-else-if="shape === 'half'" d="M1 8.5a5.5 5.5 0 0 1 11 0Z" fill="currentColor" />
      <path v-else-if="shape === 'cross'" d="M2 2l9 9M11 2l-9 9" stroke="currentColor" stroke-width="2.6" />
      <rect v-else x="1.5" y="1.5" width="10" height="10" fill="none" stroke="currentColor" stroke-width="1.6" />
    </svg>
    <span>{{ words ?? state }}</span>
  </span>
</template>

<style scoped>
.mark {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  font-weight: 600;
}
.mark svg {
  flex: none;
}
</style>
