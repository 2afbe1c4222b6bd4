<script setup lang="ts">
/** The plan: outlines with their faces lettered and a north arrow. A face can be picked; a press gives the place. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { show } from '@/shared/units'
import { joined, useFrame, type DrawnPin, type Point } from './frame'
import PinMarks from './PinMarks.vue'
import { sidesOf } from './shapes'

const props = withDefaults(
  defineProps<{
    shape: Schemas['Shape']
    body?: string
    face?: string
    pins?: DrawnPin[]
    selected?: string | null
    placing?: Point | null
    pressable?: boolean
  }>(),
  { body: '', face: '', pins: () => [], selected: null, placing: null, pressable: false },
)
const emit = defineEmits<{ face: [body: string, face: string]; press: [at: Point]; pick: [uid: string] }>()
const bodies = computed(() => (props.shape.bodies ?? []).map((b) => ({ ...b, points: b.outline as Point[] })))
const frame = useFrame(
  () => {
    const all = bodies.value.flatMap((b) => b.points)
    const xs = all.map((p) => p[0])
    const ys = all.map((p) => p[1])
    return all.length ? [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] : [0, 0, 10, 8]
  },
  460,
  380,
  48,
)
const sides = computed(() => sidesOf(props.shape))
</script>

<template>
  <svg
    :viewBox="`0 0 ${frame.wide} ${frame.high}`"
    class="plan"
    :class="{ pressable }"
    role="group"
    aria-label="Plan"
    @click="pressable && emit('press', frame.where($event))"
  >
    <g v-for="b in bodies" :key="b.id">
      <polygon
        :points="joined(b.points.map(([x, y]) => [frame.x(x), frame.y(y)]))"
        class="body"
        :class="{ cold: b.heated === false }"
      />
      <text
        class="name"
        :x="frame.x(b.points.reduce((s, p) => s + p[0], 0) / b.points.length)"
        :y="frame.y(b.points.reduce((s, p) => s + p[1], 0) / b.points.length)"
      >
        {{ b.name }}{{ b.heated === false ? ', not heated' : '' }}
      </text>
    </g>
    <g
      v-for="s in sides"
      :key="`${s.body} ${s.letter}`"
      class="side"
      :class="{ here: s.body === body && s.letter === face, still: pressable }"
      :role="pressable ? undefined : 'button'"
      :tabindex="pressable ? undefined : 0"
      :aria-label="pressable ? undefined : `${s.letter} ${s.facing}, face of ${s.name}, ${show(s.length, 'length')}`"
      @click="pressable || emit('face', s.body, s.letter)"
      @keydown.enter="emit('face', s.body, s.letter)"
    >
      <line
        :x1="frame.x(s.ends[0])"
        :y1="frame.y(s.ends[1])"
        :x2="frame.x(s.ends[2])"
        :y2="frame.y(s.ends[3])"
        class="reach"
      />
      <line
        :x1="frame.x(s.ends[0])"
        :y1="frame.y(s.ends[1])"
        :x2="frame.x(s.ends[2])"
        :y2="frame.y(s.ends[3])"
        class="edge"
      />
      <text
        v-if="s.length > 1.2 && (s.body === body || bodies.length === 1)"
        :x="frame.x(s.label[0]) + s.label[2] * 20"
        :y="frame.y(s.label[1]) - s.label[3] * 14 + 4"
      >
        {{ s.letter }} {{ s.facing }}
      </text>
    </g>
    <g :transform="`translate(${frame.wide - 26} 30) rotate(${-(shape.up_bearing_deg ?? 0)})`" class="north">
      <path d="M0-18L6 8 0 3-6 8z" />
      <text y="-20" text-anchor="middle">N</text>
    </g>
    <g v-if="placing" class="placing" aria-hidden="true">
      <circle :cx="frame.x(placing[0])" :cy="frame.y(placing[1])" r="9" />
    </g>
    <PinMarks :pins="pins" :frame="frame" :selected="selected" @pick="(uid) => emit('pick', uid)" />
  </svg>
</template>

<style scoped>
.plan {
  width: 100%;
  display: block;
  user-select: none;
}
.pressable {
  cursor: crosshair;
}
.body {
  fill: #f1ebdc;
}
.body.cold {
  fill: var(--sheet);
}
text {
  font-size: 12px;
  fill: var(--ink);
  text-anchor: middle;
}
.name {
  fill: var(--soft);
  font-size: 13px;
}
.edge {
  stroke: var(--ink);
  stroke-width: 1.8;
}
.reach {
  stroke: transparent;
  stroke-width: 18;
}
.side:not(.still) {
  cursor: pointer;
}
.side.here .edge {
  stroke-width: 5;
}
.north path {
  fill: var(--ink);
}
.placing circle {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
