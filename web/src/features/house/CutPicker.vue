<script setup lang="ts">
/** The plan in small with the line of the cut: a click puts it there, the arrow keys move it. */
import { computed } from 'vue'
import { show } from '@/shared/units'
import type { House } from '@/shared/house'

const props = defineProps<{ house: House }>()
const emit = defineEmits<{ cut: [axis: 'x' | 'y', at: number] }>()
const frame = computed(() => {
  const points = props.house.outlines.flatMap(([, outline]) => outline)
  const xs = points.map((p) => p[0])
  const ys = points.map((p) => p[1])
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]
  const scale = Math.min(118 / Math.max(x1 - x0, 0.1), 74 / Math.max(y1 - y0, 0.1))
  return { x0, x1, y0, y1, scale, left: 8 + (118 - (x1 - x0) * scale) / 2, top: 6 + (74 - (y1 - y0) * scale) / 2 }
})
const x = (v: number): number => frame.value.left + (v - frame.value.x0) * frame.value.scale
const y = (v: number): number => frame.value.top + (frame.value.y1 - v) * frame.value.scale
function press(event: MouseEvent): void {
  const box = (event.currentTarget as SVGElement).getBoundingClientRect()
  const f = frame.value
  const along =
    props.house.axis === 'x'
      ? f.y1 - (((event.clientY - box.top) / box.height) * 86 - f.top) / f.scale
      : f.x0 + (((event.clientX - box.left) / box.width) * 134 - f.left) / f.scale
  const [low, high] = props.house.range_m
  emit('cut', props.house.axis, Math.min(Math.max(along, low + 0.05), high - 0.05))
}
function slide(at: number | number[]): void {
  emit('cut', props.house.axis, Number(at))
}
function turn(): void {
  const f = frame.value
  if (props.house.axis === 'x') emit('cut', 'y', (f.x0 + f.x1) / 2)
  else emit('cut', 'x', (f.y0 + f.y1) / 2)
}
</script>

<template>
  <div class="cut">
    <svg viewBox="0 0 134 86" width="134" height="86" aria-hidden="true" @click="press">
      <polygon
        v-for="[name, outline] in house.outlines"
        :key="name"
        :points="outline.map((p) => `${x(p[0])},${y(p[1])}`).join(' ')"
      />
      <line v-if="house.axis === 'x'" x1="0" x2="134" :y1="y(house.at_m)" :y2="y(house.at_m)" />
      <line v-else y1="0" y2="86" :x1="x(house.at_m)" :x2="x(house.at_m)" />
    </svg>
    <div>
      <span>Cut at {{ show(house.at_m, 'length', 1) }}</span>
      <ElSlider
        :model-value="house.at_m"
        :min="house.range_m[0] + 0.05"
        :max="house.range_m[1] - 0.05"
        :step="0.1"
        :show-tooltip="false"
        aria-label="Place of the cut"
        @input="slide"
      />
      <ElButton link @click="turn">Turn the cut</ElButton>
    </div>
  </div>
</template>

<style scoped>
.cut {
  display: flex;
  gap: 10px;
  align-items: center;
  color: var(--soft);
  font-size: 13px;
}
svg {
  border: 1px solid var(--rule);
  cursor: crosshair;
}
polygon {
  fill: #efe9da;
  stroke: var(--ink);
}
line {
  stroke: var(--ink);
  stroke-width: 2;
  stroke-dasharray: 6 3;
}
.el-slider {
  width: 130px;
}
</style>
