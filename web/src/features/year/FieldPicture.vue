<script setup lang="ts">
/** RH by depth and time as a picture: outside on top, the room below; layer edges on it. */
import { ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { wetness } from '@/drawing/chart'

const props = defineProps<{
  year: Schemas['Year']
  from: number
  to: number
  width: number
  height: number
  watched: string
}>()
const canvas = ref<HTMLCanvasElement>()
const complaint = ref('')
let asked = 0
const palette = Array.from({ length: 5001 }, (_, i) => wetness(i / 5000))

watch(
  () => [props.year.run_id, props.from, props.to, props.width, canvas.value] as const,
  async ([run, from, to, width]) => {
    if (!canvas.value || width < 50) return
    const mine = ++asked
    const columns = Math.min(1400, Math.round(width))
    try {
      const answer = await fetch(`/api/runs/${run}/field?from_hour=${from}&to_hour=${to}&columns=${columns}`)
      if (!answer.ok) throw new Error(`The picture did not come (${answer.status}).`)
      const values = new Uint16Array(await answer.arrayBuffer())
      if (mine !== asked || !canvas.value) return
      draw(values, Number(answer.headers.get('X-Columns')))
      complaint.value = ''
    } catch (error) {
      complaint.value = error instanceof Error ? error.message : String(error)
    }
  },
  { immediate: true, flush: 'post' },
)
function draw(values: Uint16Array, columns: number): void {
  const target = canvas.value!
  const rows = props.year.rows
  target.width = columns
  target.height = rows
  const context = target.getContext('2d')!
  const image = context.createImageData(columns, rows)
  for (let x = 0; x < columns; x++)
    for (let y = 0; y < rows; y++) {
      const [r, g, b] = palette[Math.round(values[x * rows + y]! / 10)]!
      const at = 4 * (y * columns + x)
      image.data[at] = r
      image.data[at + 1] = g
      image.data[at + 2] = b
      image.data[at + 3] = 255
    }
  context.putImageData(image, 0, 0)
}
function y(mm: number): number {
  return (mm / props.year.depth_mm) * props.height
}
</script>

<template>
  <div class="field" :style="{ width: `${width}px`, height: `${height}px` }">
    <canvas ref="canvas" role="img" :aria-label="`Relative humidity by depth and time, ${year.option_name}`" />
    <svg :width="width" :height="height" aria-hidden="true">
      <template v-for="edge in year.edges" :key="edge.layer_id">
        <line
          v-if="edge.from_mm > 0"
          x1="0"
          :x2="width"
          :y1="y(edge.from_mm)"
          :y2="y(edge.from_mm)"
          :class="{ membrane: edge.membrane }"
        />
      </template>
      <line
        v-if="year.planes[watched] !== undefined"
        x1="0"
        :x2="width"
        :y1="y(year.planes[watched]!)"
        :y2="y(year.planes[watched]!)"
        class="watched"
      />
    </svg>
    <p v-if="complaint" class="complaint">{{ complaint }}</p>
  </div>
</template>

<style scoped>
.field {
  position: relative;
  border: 1.2px solid var(--ink);
  box-sizing: content-box;
}
canvas {
  width: 100%;
  height: 100%;
  display: block;
}
svg {
  position: absolute;
  inset: 0;
}
line {
  stroke: #1d2b36;
  stroke-width: 0.7;
  opacity: 0.65;
}
line.membrane {
  stroke-dasharray: 6 3;
  stroke-width: 1.2;
  opacity: 1;
}
line.watched {
  stroke-width: 1.6;
  stroke-dasharray: 1.5 3;
  opacity: 1;
}
.complaint {
  position: absolute;
  inset: 8px;
}
</style>
