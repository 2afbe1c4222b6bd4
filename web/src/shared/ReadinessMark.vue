<script setup lang="ts">
/** The readiness of an element by shape and word: ring ready, half disc by override, cross open, question not looked at. */
defineProps<{ state: string; words?: boolean }>()
const SIGNS: Record<string, string> = {
  ready: 'M8 2a6 6 0 1 0 .01 0z',
  'ready by override': 'M8 2a6 6 0 1 0 .01 0zM8 2v12a6 6 0 0 1 0-12z',
  open: 'M3 3l10 10M13 3L3 13',
  'not looked at': 'M5 5.5a3 3 0 1 1 4.4 2.7q-1.4.7-1.4 2.3M8 13v.6',
}
const TONES: Record<string, string> = {
  ready: 'within',
  'ready by override': 'marginal',
  open: 'over',
  'not looked at': 'soft',
}
</script>

<template>
  <span class="mark" :class="TONES[state]"
    ><svg width="16" height="16" role="img" :aria-label="words ? undefined : state" :aria-hidden="words">
      <path
        :d="SIGNS[state]"
        fill="none"
        stroke="currentColor"
        stroke-width="1.8"
        :style="state === 'ready by override' ? 'fill: currentColor; fill-rule: evenodd' : ''"
      />
    </svg>
    <template v-if="words">&nbsp;{{ state }}</template></span
  >
</template>

<style scoped>
.mark {
  white-space: nowrap;
}
svg {
  vertical-align: -3px;
}
</style>
