<script setup lang="ts">
/** One figure as found, in outline, over the same after the works, solid; as long as their share of the most. signed: what is above nothing is a gain. */
const props = defineProps<{ before: number | null; after: number | null; most: number; signed?: boolean }>()
const px = (value: number | null): string => `${(Math.abs(value ?? 0) / props.most) * 100}%`
const gain = (value: number | null): boolean => !!props.signed && (value ?? 0) > 0
</script>

<template>
  <span class="bar" :class="{ gain: gain(before ?? after) }" :style="{ width: px(before) }" aria-hidden="true" />
  <span class="bar solid" :class="{ gain: gain(after) }" :style="{ width: px(after) }" aria-hidden="true" />
</template>

<style scoped>
.bar {
  display: block;
  height: 6px;
  border: 1px solid var(--heat);
  margin-top: 2px;
}
.solid {
  background: var(--heat);
}
.gain {
  border-color: var(--ink);
}
.solid.gain {
  background: var(--ink);
}
</style>
