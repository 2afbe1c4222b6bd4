<script setup lang="ts">
/** Heat saved against drying left: a mark for each run, its shape the membrane, full within limits and hollow over one. */
import { computed } from 'vue'
import { useElementSize } from '@vueuse/core'
import { ref } from 'vue'
import { bare, show, unitOf } from '@/shared/units'
import type { Run } from './useBatches'

const props = defineProps<{ runs: Run[]; found: number | null; target: number | null; picked: number | null }>()
const emit = defineEmits<{ pick: [run: Run] }>()
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const HIGH = 300
const LEFT = 54
const points = computed(() => props.runs.filter((r) => r.u_w_m2k !== null && r.drying_left !== null))
const saved = (u: number): number => (props.found ? 1 - u / props.found : 0)
const most = computed(() =>
  Math.max(0.05, ...points.value.map((r) => saved(r.u_w_m2k!)), props.target ? saved(props.target) : 0),
)
const least = computed(() =>
  Math.min(most.value - 0.02, ...points.value.map((r) => saved(r.u_w_m2k!)), props.target ? saved(props.target) : 1),
)
const highest = computed(() => Math.max(0.1, ...points.value.map((r) => r.drying_left!)))
const wide = computed(() => Math.max(320, width.value - 10))
const x = (share: number): number =>
  LEFT + 14 + ((share - least.value) / Math.max(most.value - least.value, 0.01)) * (wide.value - LEFT - 60)
const y = (left: number): number => 14 + (1 - left / highest.value) * (HIGH - 60)
const membranes = computed(() => [...new Set(props.runs.map((r) => r.membrane))])
/** circle, square, diamond, triangle, cross bar: told apart without colour */
const SHAPES = [
  'M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0',
  'M-4.6-4.6h9.2v9.2h-9.2z',
  'M0-6.2L6.2 0L0 6.2L-6.2 0z',
  'M0-6L5.6 4.4H-5.6z',
  'M0 6L5.6-4.4H-5.6z',
]
const shape = (run: Run): string => SHAPES[membranes.value.indexOf(run.membrane) % SHAPES.length]!
const state = (run: Run): string => (!run.brief ? 'waiting' : run.brief.state === 'over a limit' ? 'over' : 'within')
const words = (run: Run): string =>
  `${show(run.thickness_mm, 'thickness')}, ${run.membrane}: U ${show(run.u_w_m2k, 'transmittance')}, ${Math.round(run.drying_left! * 100)} % of the drying left, ${run.brief?.state ?? 'not run yet'}`
const ticks = computed(() => [0, 0.25, 0.5, 0.75, 1].map((part) => least.value + part * (most.value - least.value)))
</script>

<template>
  <div ref="box">
    <svg :width="wide" :height="HIGH" role="group" aria-label="Heat saved against drying left">
      <line :x1="LEFT" :x2="wide - 20" :y1="y(0)" :y2="y(0)" class="axis" />
      <line :x1="LEFT" :x2="LEFT" y1="8" :y2="y(0)" class="axis" />
      <text v-for="part in [0, 0.5, 1]" :key="part" :x="LEFT - 6" :y="y(part * highest) + 4" text-anchor="end">
        {{ Math.round(part * highest * 100) }} %
      </text>
      <text v-for="t in ticks" :key="t" :x="x(t)" :y="y(0) + 16" text-anchor="middle">{{ Math.round(t * 100) }} %</text>
      <text :x="(LEFT + wide) / 2" :y="y(0) + 34" text-anchor="middle">heat saved, of as found</text>
      <text x="2" y="10">drying left</text>
      <g v-if="target !== null && found">
        <line :x1="x(saved(target))" :x2="x(saved(target))" y1="8" :y2="y(0)" class="target" />
        <text :x="x(saved(target)) + 4" y="18">
          target {{ bare(target, 'transmittance') }} {{ unitOf('transmittance').unit }}
        </text>
      </g>
      <g
        v-for="run in points"
        :key="run.id"
        role="button"
        tabindex="0"
        :aria-label="words(run)"
        :aria-pressed="run.id === picked"
        :transform="`translate(${x(saved(run.u_w_m2k!))} ${y(run.drying_left!)})`"
        class="point"
        @click="emit('pick', run)"
        @keydown.enter.prevent="emit('pick', run)"
        @keydown.space.prevent="emit('pick', run)"
      >
        <title>{{ words(run) }}</title>
        <circle r="11" fill="transparent" />
        <circle v-if="run.id === picked" r="10" class="ring" />
        <path :d="shape(run)" :class="state(run)" />
        <text x="9" y="4">{{ bare(run.thickness_mm, 'thickness') }}</text>
      </g>
    </svg>
    <p class="key">
      <span v-for="(m, i) in membranes" :key="m"
        ><svg width="16" height="14" viewBox="-8 -7 16 14" aria-hidden="true">
          <path :d="SHAPES[i % SHAPES.length]" class="within" />
        </svg>
        {{ m }}</span
      >
      <span class="soft">hollow: over a limit · dotted: still to come · figure: {{ unitOf('thickness').unit }}</span>
    </p>
  </div>
</template>

<style scoped>
svg {
  overflow: visible;
}
.axis {
  stroke: var(--ink);
}
.target {
  stroke: var(--ink);
  stroke-dasharray: 6 4;
}
text {
  font-size: 12px;
  fill: var(--ink);
}
.point {
  cursor: pointer;
}
.point path {
  stroke: var(--ink);
  stroke-width: 1.5;
}
.within {
  fill: var(--water);
}
.over {
  fill: var(--sheet);
}
.waiting {
  fill: var(--sheet);
  stroke-dasharray: 1.5 2;
}
.ring {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.point:focus-visible {
  outline: 2px solid var(--ink);
}
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 2px 0;
}
</style>
