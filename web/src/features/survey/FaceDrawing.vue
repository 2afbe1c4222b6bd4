<script setup lang="ts">
/** A face seen from outside: outline, floors, ground and openings. A press gives the place in metres. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { show } from '@/shared/units'
import { joined, useFrame, type DrawnPin, type Point } from './frame'
import PinMarks from './PinMarks.vue'

const props = withDefaults(
  defineProps<{
    face: Schemas['Elevation']
    label: string
    pins?: DrawnPin[]
    selected?: string | null
    placing?: Point | null
    high?: number
    pressable?: boolean
  }>(),
  { pins: () => [], selected: null, placing: null, high: 380, pressable: false },
)
const emit = defineEmits<{ press: [at: Point]; pick: [uid: string] }>()
const outline = computed(() => props.face.outline as Point[])
const frame = useFrame(
  () => {
    const zs = outline.value.map((p) => p[1])
    return [0, Math.min(...zs, props.face.ground) - 0.3, props.face.width, Math.max(...zs)]
  },
  620,
  props.high,
)
const corners = computed(() => joined(outline.value.map(([x, z]) => [frame.value.x(x), frame.value.y(z)])))
const inner = computed(() =>
  props.face.levels
    .slice(1, -1)
    .concat(
      props.face.levels.at(-1)! < Math.max(...outline.value.map((p) => p[1])) - 0.2 ? [props.face.levels.at(-1)!] : [],
    ),
)
</script>

<template>
  <svg
    :viewBox="`0 0 ${frame.wide} ${frame.high}`"
    class="face"
    :class="{ pressable }"
    role="group"
    :aria-label="label"
    @click="pressable && emit('press', frame.where($event))"
  >
    <polygon :points="corners" class="wall" />
    <line
      v-for="z in inner"
      :key="z"
      class="level"
      :x1="frame.x(0)"
      :x2="frame.x(face.width)"
      :y1="frame.y(z)"
      :y2="frame.y(z)"
    />
    <rect
      v-for="(o, i) in face.openings"
      :key="i"
      :x="frame.x(o.rect[0]!)"
      :y="frame.y(o.rect[1]! + o.rect[3]!)"
      :width="o.rect[2]! * frame.scale"
      :height="o.rect[3]! * frame.scale"
      :class="o.kind"
    >
      <title>{{ o.name }}</title>
    </rect>
    <line
      class="ground"
      :x1="frame.x(0) - 26"
      :x2="frame.x(face.width) + 26"
      :y1="frame.y(face.ground)"
      :y2="frame.y(face.ground)"
    />
    <text class="soft" :x="frame.x(face.width / 2)" :y="frame.high - 6" text-anchor="middle">
      {{ show(face.width, 'length') }}
    </text>
    <g v-if="placing" class="placing" aria-hidden="true">
      <circle :cx="frame.x(placing[0])" :cy="frame.y(placing[1])" r="9" />
      <path
        :d="`M${frame.x(placing[0]) - 15} ${frame.y(placing[1])}h30M${frame.x(placing[0])} ${frame.y(placing[1]) - 15}v30`"
      />
    </g>
    <PinMarks :pins="pins" :frame="frame" :selected="selected" @pick="(uid) => emit('pick', uid)" />
  </svg>
</template>

<style scoped>
.face {
  width: 100%;
  display: block;
  user-select: none;
}
.pressable {
  cursor: crosshair;
}
.wall {
  fill: #f1ebdc;
  stroke: var(--ink);
  stroke-width: 1.5;
}
.level {
  stroke: var(--rule);
  stroke-dasharray: 5 4;
}
rect {
  fill: #dfe6e4;
  stroke: var(--ink);
}
rect.door {
  fill: #dcc9a4;
}
.ground {
  stroke: var(--ink);
  stroke-width: 2.4;
}
text {
  font-size: 12px;
  fill: var(--soft);
}
.placing circle {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.placing path {
  stroke: var(--ink);
}
</style>
