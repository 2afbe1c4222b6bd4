<script setup lang="ts">
/** Names and words beside the bands, each where it lies on nothing; a line leads to it where it stands far off. */
import { computed } from 'vue'
import { around, placeLabels, widthOf, type Box, type Wish } from '@/drawing/place'
import { HIGH, path, WIDE, type Point } from './useSection'

export interface Label {
  id: number
  name: string
  words: string
  anchor: Point
  /** which way there is room */
  normal: Point
}
const props = defineProps<{ labels: Label[]; obstacles: Box[]; selected: number | null }>()
const short = (text: string, most = 36): string => (text.length > most ? `${text.slice(0, most - 1)}…` : text)
const boxes = computed(() => {
  const wishes: Wish[] = props.labels.map((l) => {
    const w = Math.max(widthOf(short(l.name), true), widthOf(short(l.words)))
    return {
      id: String(l.id),
      w,
      h: 33,
      anchor: l.anchor,
      at: around(l.anchor[0], l.anchor[1], w, 33, l.normal[0], l.normal[1]),
    }
  })
  return placeLabels(wishes, props.obstacles, { x: 4, y: 26, w: WIDE - 8, h: HIGH - 30 })
})
const placed = computed(() =>
  props.labels.flatMap((l) => {
    const box = boxes.value.get(String(l.id))
    if (!box) return []
    const end: Point = [
      Math.min(Math.max(l.anchor[0], box.x), box.x + box.w),
      Math.min(Math.max(l.anchor[1], box.y), box.y + box.h),
    ]
    const far = Math.hypot(l.anchor[0] - end[0], l.anchor[1] - end[1]) > 24
    return [{ ...l, box, leader: far ? path([l.anchor, end]) : '' }]
  }),
)
const crowded = computed(() => props.labels.length - placed.value.length)
</script>

<template>
  <g>
    <g v-for="l in placed" :key="l.id" class="label" :class="{ here: l.id === selected }">
      <polyline v-if="l.leader" :points="l.leader" class="leader" />
      <text :x="l.box.x + 3" :y="l.box.y + 13" class="name">{{ short(l.name) }}</text>
      <text :x="l.box.x + 3" :y="l.box.y + 28" class="words">{{ short(l.words) }}</text>
    </g>
    <text v-if="crowded" :x="WIDE - 8" :y="HIGH - 8" class="end" text-anchor="end">
      {{ crowded }} without room for a label: point at the band, or move the cut
    </text>
  </g>
</template>

<style scoped>
text {
  fill: var(--ink);
  font-size: 13px;
}
.label {
  pointer-events: none;
}
.name {
  font-weight: 600;
}
.words {
  fill: var(--soft);
}
.leader {
  fill: none;
  stroke: var(--soft);
  stroke-width: 0.8;
}
.end {
  letter-spacing: 0.08em;
  fill: var(--soft);
}
</style>
