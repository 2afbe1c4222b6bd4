<script setup lang="ts">
/** One build-up to scale: layers hatched, limit lines, datum, drying strokes. A listbox of layers for screen readers. */
import { computed } from 'vue'
import { strokes, type Placed, type Scale, type Strip } from '@/drawing/scale'
import { useTall } from '@/drawing/tall'
import { useProject } from '@/shared/project'
import { show } from '@/shared/units'
import type { Figures } from './useSheet'

const props = defineProps<{
  strip: Strip
  scale: Scale
  width: number
  name: string
  /** null: no drying strokes */
  figures: Pick<Figures, 'drying'> | null
  selected: string | null
  /** several layers in hand, the selected one among them */
  inHand?: string[]
  /** layers as found that are taken out, where they stood */
  removed?: Placed[]
}>()
const emit = defineEmits<{ select: [layer: string, more: boolean] }>()
const chosen = (id: string): boolean => id === props.selected || !!props.inHand?.includes(id)
const project = useProject()
const tall = useTall()
const high = computed(() => Math.round(74 * tall.value))
const TOP = 3
const body = computed(() => high.value - 2 * TOP)

function fill(p: Placed): string {
  const hatch = project.materials.get(p.layer.material)?.hatch ?? 'air'
  return hatch === 'membrane' || hatch === 'coating' ? 'none' : `url(#h-${hatch})`
}
function kind(p: Placed): string {
  return project.materials.get(p.layer.material)?.kind ?? 'solid'
}
function label(p: Placed): string {
  const name = project.materialName(p.layer.material)
  const size = p.layer.thickness_mm ? ` · ${show(p.layer.thickness_mm, 'thickness')}` : ''
  return `${name}${size}`
}
function full(p: Placed): string {
  const frame = p.layer.framing
    ? `, ${Math.round(p.layer.framing.share * 100)} % ${project.materialName(p.layer.framing.material)}`
    : ''
  const fixed = p.layer.fixings ? `, ${p.layer.fixings.per_m2} fixings a m²` : ''
  return `${label(p)}${frame}${fixed}, ${p.layer.known}${p.thin ? ', not drawn to scale' : ''}`
}
function fits(p: Placed): string {
  if (kind(p) === 'membrane' || kind(p) === 'coating') return ''
  const long = label(p)
  if (p.width > long.length * 6.2 + 8) return long
  const size = p.layer.thickness_mm ? show(p.layer.thickness_mm, 'thickness') : ''
  return p.width > size.length * 6.4 + 6 ? size : ''
}
/** Every layer by name and thickness, outside to inside, since a drawing to scale leaves no room for the thin ones. */
const named = (p: Placed): string => label(p).replace(' · ', ' ')
/** Sheets have no room for a name inside them: beside their mark, in rows so that none lies on another. */
const sheetNames = computed(() => {
  const rows = new Map<string, number>()
  const ends: number[] = []
  for (const p of props.strip.placed) {
    if (kind(p) !== 'membrane' && kind(p) !== 'coating') continue
    const width = project.materialName(p.layer.material).length * 5.6 + 12
    let row = ends.findIndex((end) => end < p.x)
    if (row < 0) row = ends.length
    if (row > 2) continue // a fourth one on a line is told by its mark and on selecting it
    ends[row] = p.x + width
    rows.set(p.layer.id, row)
  }
  return rows
})
/** A name that would run out of the drawing stands before its mark. */
const late = (p: Placed): boolean => p.x + project.materialName(p.layer.material).length * 6.2 + 8 > props.width
const out = computed(() => strokes(props.figures?.drying?.outward.g_m2 ?? 0))
const inn = computed(() => strokes(props.figures?.drying?.inward.g_m2 ?? 0))
function rows(count: number): number[] {
  return Array.from({ length: count }, (_, i) => high.value / 2 + (i - (count - 1) / 2) * 7)
}
function length(i: number, count: number): number {
  return 16 + 20 * (1 - Math.abs(i - (count - 1) / 2) / Math.max(1, count / 2))
}
const outText = computed(() => show(props.figures?.drying?.outward.g_m2, 'smallWater'))
const innText = computed(() => show(props.figures?.drying?.inward.g_m2, 'smallWater'))
/** Limit lines through the strip; those that it passes are drawn in the colour of what is over. */
const lines = computed(() => {
  const { roomLimit, outsideLimit, marks } = props.scale
  const all: { key: string; x: number; mark: boolean }[] = marks.map((m) => ({ key: m.text, x: m.x, mark: true }))
  if (outsideLimit !== null) all.push({ key: 'outside limit', x: outsideLimit, mark: false })
  if (roomLimit !== null) all.push({ key: 'room limit', x: roomLimit, mark: false })
  const passed = (x: number): boolean =>
    x > props.scale.datum ? props.strip.right > x + 0.5 : props.strip.left < x - 0.5
  return all.map((line) => ({ ...line, broken: passed(line.x) }))
})
/** The inward figure stands beside the room limit line, never on it. */
const innX = computed(() => {
  const x = props.strip.right + 48
  const limit = props.scale.roomLimit
  return limit !== null && limit > x - 4 && limit < x + innText.value.length * 7 ? limit + 6 : x
})
const outX = computed(() => {
  const x = props.strip.left - 48
  const limit = props.scale.outsideLimit
  return limit !== null && limit < x + 4 && limit > x - outText.value.length * 7 ? limit - 6 : x
})
</script>

<template>
  <svg :width="width" :height="high" role="listbox" :aria-label="`Layers of ${name}, outside to inside`">
    <g v-if="figures?.drying" class="drying">
      <line
        v-for="(y, i) in rows(out)"
        :key="`o${i}`"
        :x1="strip.left - 6"
        :x2="strip.left - 6 - length(i, out)"
        :y1="y"
        :y2="y"
      />
      <text :x="outX" :y="high / 2 + 4" text-anchor="end">{{ outText }}</text>
      <line
        v-for="(y, i) in rows(inn)"
        :key="`i${i}`"
        :x1="strip.right + 6"
        :x2="strip.right + 6 + length(i, inn)"
        :y1="y"
        :y2="y"
      />
      <text :x="innX" :y="high / 2 + 4">{{ innText }}</text>
    </g>
    <g
      v-for="p in strip.placed"
      :key="p.layer.id"
      role="option"
      :aria-selected="chosen(p.layer.id)"
      :aria-label="full(p)"
      :data-layer="p.layer.id"
      class="layer"
      @click.stop="(event: MouseEvent) => emit('select', p.layer.id, event.shiftKey)"
    >
      <title>{{ full(p) }}</title>
      <template v-if="kind(p) === 'membrane' || kind(p) === 'coating'">
        <line :x1="p.x" :x2="p.x" :y1="TOP" :y2="TOP + body" class="sheetline" :class="kind(p)" />
        <path v-if="kind(p) === 'membrane'" :d="`M${p.x} ${TOP + 9}l5 5l-5 5l-5 -5z`" class="sheetmark" />
        <circle v-else :cx="p.x" :cy="TOP + 14" r="4" class="sheetmark coating" />
        <path :d="`M${p.x - 3} ${TOP - 2}l2 -1l2 2l2 -2`" class="nts" />
      </template>
      <template v-else>
        <rect
          :x="p.x"
          :y="TOP"
          :width="p.width"
          :height="body"
          :fill="fill(p)"
          class="body"
          :class="{ assumed: p.layer.known === 'assumed' && p.layer.existing }"
        />
        <g v-if="p.layer.framing" class="framing">
          <rect
            :x="p.x"
            :y="TOP + body - body * p.layer.framing.share"
            :width="p.width"
            :height="body * p.layer.framing.share"
            fill="url(#h-wood)"
          />
        </g>
        <g v-if="p.layer.fixings && !p.thin" class="fixings">
          <line
            v-for="i in 3"
            :key="i"
            :x1="p.x"
            :x2="p.x + p.width * (p.layer.fixings.depth_share ?? 1)"
            :y1="TOP + (body * i) / 4"
            :y2="TOP + (body * i) / 4"
          />
        </g>
        <path v-if="p.thin" :d="`M${p.x - 2} ${TOP - 2}l2 -1l2 2l2 -2`" class="nts" />
      </template>
      <rect :x="p.x - (p.width < 10 ? 5 : 0)" y="0" :width="Math.max(p.width, 10)" :height="high" fill="transparent" />
      <rect v-if="chosen(p.layer.id)" :x="p.x - 2.5" y="1.5" :width="p.width + 5" :height="high - 3" class="chosen" />
    </g>
    <g v-for="p in removed" :key="`off-${p.layer.id}`" class="removed" aria-hidden="true">
      <title>comes off: {{ label(p) }}</title>
      <rect :x="p.x" :y="TOP" :width="p.width" :height="body" />
      <line :x1="p.x" :x2="p.x + p.width" :y1="TOP + body" :y2="TOP" />
      <line :x1="p.x" :x2="p.x + p.width" :y1="TOP" :y2="TOP + body" />
    </g>
    <line
      v-for="line in lines"
      :key="line.key"
      :x1="line.x"
      :x2="line.x"
      y1="0"
      :y2="high"
      class="limit"
      :class="{ mark: line.mark, broken: line.broken }"
    />
    <g aria-hidden="true">
      <template v-for="p in strip.placed" :key="p.layer.id">
        <text v-if="fits(p)" :x="p.x + 5" :y="high - 12" class="label">{{ fits(p) }}</text>
        <text
          v-if="sheetNames.has(p.layer.id)"
          :x="p.x + (late(p) ? -6 : 6)"
          :text-anchor="late(p) ? 'end' : 'start'"
          :y="TOP + 12 + sheetNames.get(p.layer.id)! * 13"
          class="label sheetname"
        >
          {{ project.materialName(p.layer.material) }}
        </text>
      </template>
    </g>
    <line :x1="scale.datum" :x2="scale.datum" y1="0" :y2="high" class="datum" />
  </svg>
  <p class="named" aria-hidden="true">
    <template v-for="(p, i) in strip.placed" :key="p.layer.id"
      ><template v-if="i"> · </template><span :class="{ now: p.layer.id === selected }">{{ named(p) }}</span></template
    >
  </p>
</template>

<style scoped>
svg {
  display: block;
  overflow: visible;
}
.layer {
  cursor: pointer;
}
.body {
  stroke: var(--ink);
  stroke-width: 1.2;
}
.body.assumed {
  stroke-dasharray: 5 3;
  opacity: 0.72;
}
.removed {
  fill: none;
  stroke: var(--over);
  stroke-width: 1.2;
  stroke-dasharray: 3 3;
  pointer-events: none;
}
.sheetline {
  stroke: var(--water);
  stroke-width: 2.6;
  stroke-dasharray: 7 2.5;
}
.sheetline.coating {
  stroke: var(--soft);
  stroke-width: 2;
  stroke-dasharray: none;
}
.sheetmark {
  fill: var(--water);
}
.sheetmark.coating {
  fill: var(--soft);
}
.sheetname {
  font-size: 11px;
}
.nts {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1;
}
.label {
  font-size: 12px;
  paint-order: stroke;
  stroke: #fbf9f3;
  stroke-width: 3.5px;
  fill: var(--ink);
  pointer-events: none;
}
.named {
  margin: 0 0 2px;
  font-size: 12px;
  line-height: 1.3;
  color: var(--soft);
}
.named .now {
  color: var(--ink);
  font-weight: 600;
}
.limit {
  stroke: var(--ink);
  stroke-width: 1.3;
  stroke-dasharray: 6 4;
}
.limit.mark {
  stroke-width: 0.8;
}
.limit.broken {
  stroke: var(--over);
  stroke-width: 2;
}
.limit {
  pointer-events: none;
}
.datum {
  stroke: var(--ink);
  stroke-width: 1.2;
  stroke-dasharray: 1.5 3;
  pointer-events: none;
}
.chosen {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
}
.drying line {
  stroke: var(--water);
  stroke-width: 1.6;
}
.drying text {
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 4px;
  fill: var(--water);
  font-size: 12.5px;
}
.fixings line {
  stroke: var(--ink);
  stroke-width: 1;
  stroke-dasharray: 9 2 2 2;
}
.framing rect {
  stroke: var(--ink);
  stroke-width: 0.8;
}
</style>
