<script setup lang="ts">
/** Pins on a drawing: open while no cause is confirmed, filled after; a dash while they wait to be sent. */
import type { DrawnPin, Frame } from './frame'

defineProps<{ pins: DrawnPin[]; frame: Frame; selected: string | null }>()
const emit = defineEmits<{ pick: [uid: string] }>()
</script>

<template>
  <g
    v-for="p in pins"
    :key="p.uid"
    class="pin"
    :class="{ here: p.uid === selected, explained: p.explained, waiting: p.waiting }"
    role="button"
    tabindex="0"
    :data-pin="p.uid"
    :aria-label="`Pin ${p.number}: ${p.label}, ${p.inside ? 'inside' : 'outside'}, ${p.explained ? 'cause confirmed' : 'no cause yet'}`"
    @click.stop="emit('pick', p.uid)"
    @keydown.enter.stop="emit('pick', p.uid)"
  >
    <circle class="reach" :cx="frame.x(p.at[0])" :cy="frame.y(p.at[1])" r="20" />
    <path
      :d="`M${frame.x(p.at[0])} ${frame.y(p.at[1])}l-8-13a9.5 9.5 0 1 1 16 0z`"
      :transform="
        p.uid === selected
          ? `translate(${frame.x(p.at[0])} ${frame.y(p.at[1])}) scale(1.35) translate(${-frame.x(p.at[0])} ${-frame.y(p.at[1])})`
          : ''
      "
    />
    <text :x="frame.x(p.at[0])" :y="frame.y(p.at[1]) - (p.uid === selected ? 20 : 14)">{{ p.number }}</text>
  </g>
</template>

<style scoped>
.pin {
  cursor: pointer;
}
.reach {
  fill: transparent;
}
path {
  fill: var(--sheet);
  stroke: var(--over);
  stroke-width: 1.6;
}
.explained path {
  fill: var(--water);
  stroke: var(--water);
}
.waiting path {
  stroke-dasharray: 3 2;
}
.here path {
  stroke: var(--ink);
  stroke-width: 2;
}
text {
  font-size: 11px;
  font-weight: 600;
  text-anchor: middle;
  fill: var(--ink);
}
.explained text {
  fill: var(--sheet);
}
</style>
