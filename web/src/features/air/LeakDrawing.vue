<script setup lang="ts">
/** Every leak at its height: outside air drawn in to the left, room air going out to the right; outline as found, solid after. */
import { computed } from 'vue'
import { show } from '@/shared/units'
import type { Air, LeakRow } from './useAir'

const props = defineProps<{ air: Air; rows: readonly LeakRow[]; picked: string | null }>()
const emit = defineEmits<{ pick: [key: string] }>()
const WIDE = 860
const HIGH = 330
const LEFT = 60
const MIDDLE = 470
const TOP = 26
const FOOT = 34

const heights = computed(() => props.rows.map((r) => r.height_m))
const low = computed(() => Math.min(0, ...heights.value) - 0.4)
const high = computed(() => Math.max(3, ...heights.value) + 0.6)
const y = (z: number): number => HIGH - FOOT - ((z - low.value) / (high.value - low.value)) * (HIGH - FOOT - TOP)
const most = computed(() =>
  Math.max(1, ...props.rows.map((r) => Math.max(r.in_before, r.out_before, r.in_after, r.out_after))),
)
const wide = (flow: number): number => (flow / most.value) * (MIDDLE - LEFT - 150)
/** Leaks of one height lie under each other, so that each is seen. */
const bars = computed(() => {
  const at = new Set<number>()
  return [...props.rows]
    .sort((a, b) => b.out_before + b.in_before - a.out_before - a.in_before)
    .slice(0, 14)
    .map((row) => {
      const level = Math.round(y(row.height_m) / 13)
      // the free place nearest to its height
      const last = Math.floor((HIGH - FOOT) / 13)
      const place = [...Array(40).keys()]
        .flatMap((d) => [level + d, level - d])
        .find((p) => p <= last && p >= 2 && !at.has(p))!
      at.add(place)
      return { row, y: place * 13 }
    })
})
const neutral = (z: number | null | undefined): number | null =>
  z === null || z === undefined || z < low.value || z > high.value ? null : y(z)
const words = computed(
  () =>
    `Leaks by height. ${bars.value
      .map(
        ({ row }) =>
          `${row.name}, ${show(row.height_m, 'length', 1)} up: in ${show(row.in_before, 'flow', 0)} to ${show(row.in_after, 'flow', 0)}, out ${show(row.out_before, 'flow', 0)} to ${show(row.out_after, 'flow', 0)}`,
      )
      .join('; ')}`,
)
</script>

<template>
  <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" class="leaks" role="img" :aria-label="words">
    <line :x1="MIDDLE" :x2="MIDDLE" :y1="TOP - 8" :y2="HIGH - FOOT + 6" class="axis" />
    <text :x="MIDDLE - 12" :y="14" text-anchor="end" class="soft">outside air drawn in</text>
    <text :x="MIDDLE + 12" :y="14" class="soft">room air going out</text>
    <g v-for="z in [0, 2.5, 5, 7.5, 10, 15, 20].filter((v) => v >= low && v <= high)" :key="z">
      <line :x1="LEFT" :x2="WIDE - 20" :y1="y(z)" :y2="y(z)" class="level" />
      <text :x="LEFT - 6" :y="y(z) + 4" text-anchor="end" class="soft">{{ show(z, 'length', 1) }}</text>
    </g>
    <g v-if="neutral(air.before.neutral_m) !== null" class="neutral">
      <line :x1="LEFT" :x2="WIDE - 20" :y1="neutral(air.before.neutral_m)!" :y2="neutral(air.before.neutral_m)!" />
    </g>
    <g
      v-for="b in bars"
      :key="b.row.key"
      class="bar"
      :class="{ here: b.row.key === picked }"
      @click="emit('pick', b.row.key)"
    >
      <rect :x="MIDDLE - wide(b.row.in_before)" :y="b.y - 5" :width="wide(b.row.in_before)" height="10" class="in" />
      <rect
        :x="MIDDLE - wide(b.row.in_after)"
        :y="b.y - 5"
        :width="wide(b.row.in_after)"
        height="10"
        class="in solid"
      />
      <rect :x="MIDDLE" :y="b.y - 5" :width="wide(b.row.out_before)" height="10" class="out" />
      <rect :x="MIDDLE" :y="b.y - 5" :width="wide(b.row.out_after)" height="10" class="out solid" />
      <text
        v-if="b.row.out_before >= b.row.in_before"
        :x="MIDDLE + wide(b.row.out_before) + 6"
        :y="b.y + 4"
        class="name"
      >
        {{ b.row.name }}
      </text>
      <text v-else :x="MIDDLE - wide(b.row.in_before) - 6" :y="b.y + 4" text-anchor="end" class="name">
        {{ b.row.name }}
      </text>
    </g>
    <text :x="LEFT" :y="HIGH - 6" class="soft">
      Dashed: no air passes at this height in the middle of cold hours. The longest bar is
      {{ show(most, 'flow', 0) }} as a mean of the year.
    </text>
  </svg>
</template>

<style scoped>
.leaks {
  width: 100%;
  max-width: 980px;
  display: block;
}
text {
  fill: var(--ink);
  font-size: 12px;
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 4px;
}
.soft {
  fill: var(--soft);
}
.axis {
  stroke: var(--ink);
  stroke-width: 1.4;
}
.level {
  stroke: var(--rule);
}
.in {
  fill: none;
  stroke: var(--water);
}
.in.solid {
  fill: var(--water);
}
.out {
  fill: none;
  stroke: var(--heat);
}
.out.solid {
  fill: var(--heat);
}
.bar {
  cursor: pointer;
}
.bar.here .name {
  font-weight: 700;
}
.neutral line {
  stroke: var(--ink);
  stroke-dasharray: 7 5;
  stroke-width: 1.4;
}
</style>
