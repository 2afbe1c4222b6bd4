<script setup lang="ts">
/** The section as a plain sheet to put pins on. */
import { computed } from 'vue'
import type { House } from '@/shared/house'
import { joined, useFrame, type DrawnPin, type Point } from './frame'
import PinMarks from './PinMarks.vue'

const props = defineProps<{ house: House; pins: DrawnPin[]; selected: string | null; placing: Point | null }>()
const emit = defineEmits<{ press: [at: Point]; pick: [uid: string] }>()
const frame = useFrame(() => props.house.extent as [number, number, number, number], 620, 380, 20)
const polygons = computed(() =>
  props.house.bands.map((b) => ({
    id: b.id,
    points: joined(b.polygon.map(([x, z]) => [frame.value.x(x), frame.value.y(z)])),
  })),
)
const lines = computed(() =>
  props.house.lines.map((l) => ({
    kind: l.kind,
    points: joined(l.points.map(([x, z]) => [frame.value.x(x), frame.value.y(z)])),
  })),
)
</script>

<template>
  <svg
    :viewBox="`0 0 ${frame.wide} ${frame.high}`"
    role="group"
    aria-label="Section"
    @click="emit('press', frame.where($event))"
  >
    <polyline v-for="(l, i) in lines" :key="i" :points="l.points" :class="{ ground: l.kind === 'ground' }" />
    <polygon v-for="p in polygons" :key="p.id" :points="p.points" />
    <circle v-if="placing" class="placing" :cx="frame.x(placing[0])" :cy="frame.y(placing[1])" r="9" />
    <PinMarks :pins="pins" :frame="frame" :selected="selected" @pick="(uid) => emit('pick', uid)" />
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  display: block;
  cursor: crosshair;
}
polygon {
  fill: #efe8d8;
  stroke: var(--ink);
}
polyline {
  fill: none;
  stroke: var(--soft);
}
polyline.ground {
  stroke: var(--ink);
  stroke-width: 2;
}
.placing {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
