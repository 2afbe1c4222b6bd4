<script setup lang="ts">
/** The section through the building with one lens over it. Every band is a way to its element. */
import { computed, toRef } from 'vue'
import { boxesOf, overlap, widthOf } from '@/drawing/place'
import { useProject } from '@/shared/project'
import { bare, show, unitOf } from '@/shared/units'
import {
  airArrows,
  arrowsOf,
  change,
  gapsOf,
  HIGH,
  path,
  useSection,
  WIDE,
  type Band,
  type Drawn,
  type Flow,
  type Lens,
  type Point,
} from './useSection'
import SectionMarks from './SectionMarks.vue'
import SectionLabels, { type Label } from './SectionLabels.vue'
import type { House } from '@/shared/house'

const props = defineProps<{
  house: House
  lens: Lens
  selected: number | null
  mark: number | null
  /** through each element, for the lens of air */
  flows?: readonly Flow[]
}>()
const emit = defineEmits<{ open: [element: number]; pin: [uid: string]; gap: [number: number] }>()
const house = toRef(props, 'house')
const project = useProject()
const { at, bands, leading, frame } = useSection(house)
const elements = computed(() => new Map(props.house.elements.map((e) => [e.element_id, e])))

const arrows = computed(() => arrowsOf(leading.value))
const streams = computed(() => airArrows(leading.value, props.flows ?? []))
const flowOf = (id: number | null): Flow | undefined => props.flows?.find((f) => f.element_id === id)
/** The larger of both ways first: “in 24 → 9, out 1 → 0 m³/h”. */
function flowWords(id: number | null): string {
  const f = flowOf(id)
  if (!f) return 'no leak'
  const way = (words: string, before: number, after: number) => ({
    size: Math.max(before, after),
    words: `${words} ${bare(before, 'flow')} → ${bare(after, 'flow')}`,
  })
  const ways = [way('in', f.in_before, f.in_after), way('out', f.out_before, f.out_after)]
  const most = Math.max(...ways.map((w) => w.size))
  return `${ways
    .filter((w) => w.size > most / 10)
    .sort((a, b) => b.size - a.size)
    .map((w) => w.words)
    .join(', ')} ${unitOf('flow').unit}`
}

// --- damp -----------------------------------------------------------------------------------------
const WET = ['#fbf9f3', '#e4e3d6', '#c2cfc2', '#8fb1a8', '#4f8a87', '#1f6a70', '#123f46']
function tone(wet: number | null): string {
  if (wet === null) return 'url(#not-run)'
  return WET[Math.min(6, Math.max(0, Math.floor((wet - 0.6) / 0.06)))]!
}
function dampWords(id: number): string {
  const e = elements.value.get(id)
  if (!e) return ''
  return e.wet === null
    ? e.years === 'not run'
      ? 'years not run'
      : e.as_found
    : `${(Math.min(e.wet, 1) * 100).toFixed(0)} %, ${e.worst.split(', ').pop()}`
}
const MARKS: Record<string, string> = { ready: '○', 'ready by override': '◐', open: '×', 'not looked at': '?' }

// --- layers ---------------------------------------------------------------------------------------
const LINES = [
  ['rain', 'var(--water)', '', 2.4],
  ['air', 'var(--ink)', '7 4', 2.2],
  ['vapour', '#5a4a86', '1.5 4', 2.6],
  ['heat', 'var(--heat)', '14 3 2 3', 3],
] as const
function inside(band: Band, depth: number): [Point, Point] {
  const [a0, b0] = band.outer.map(at) as [Point, Point]
  const [a1, b1] = band.inner.map(at) as [Point, Point]
  const mix = (p: Point, q: Point): Point => [p[0] + (q[0] - p[0]) * depth, p[1] + (q[1] - p[1]) * depth]
  return [mix(a0, a1), mix(b0, b1)]
}
const lines = computed(() =>
  bands.value.flatMap(({ band }) =>
    LINES.flatMap(([name, colour, dash, width]) =>
      band.depths[name] === undefined
        ? []
        : [{ key: `${band.id} ${name}`, ends: inside(band, band.depths[name]), colour, dash, width }],
    ),
  ),
)
const gaps = computed(() => gapsOf(props.house).map((g) => ({ ...g, at: at(g.at) })))

// --- labels ---------------------------------------------------------------------------------------
const labels = computed<Label[]>(() => {
  if (props.lens === 'heat')
    return arrows.value.map((a) => ({
      id: a.d.band.element_id!,
      name: a.d.band.name,
      words: change(a.before, a.after),
      anchor: a.tip,
      normal: a.d.normal,
    }))
  if (props.lens === 'air')
    return leading.value
      .filter((d) => flowOf(d.band.element_id))
      .map((d) => ({
        id: d.band.element_id!,
        name: d.band.name,
        words: flowWords(d.band.element_id),
        anchor: streams.value.find((s) => s.d === d)?.tip ?? [
          d.centre[0] + d.normal[0] * 6,
          d.centre[1] + d.normal[1] * 6,
        ],
        normal: d.normal,
      }))
  return leading.value.map((d) => {
    const e = elements.value.get(d.band.element_id!)
    const words =
      props.lens === 'damp'
        ? `${MARKS[e?.readiness.state ?? '']} ${dampWords(d.band.element_id!)}`
        : props.lens === 'line'
          ? d.band.before_w_k === null
            ? 'not stated'
            : change(d.band.before_w_k, d.band.after_w_k ?? d.band.before_w_k)
          : LINES.filter(([name]) => d.band.depths[name] === undefined && d.band.control)
              .map(([name]) => `no ${name}`)
              .join(', ') || 'all four'
    return {
      id: d.band.element_id!,
      name: d.band.name,
      words,
      anchor: [d.centre[0] + d.normal[0] * 6, d.centre[1] + d.normal[1] * 6],
      normal: d.normal,
    }
  })
})
/** What no label may lie on. */
const obstacles = computed(() => [
  ...bands.value.flatMap((d) => boxesOf(d.points)),
  ...props.house.lines.flatMap((l) => boxesOf(l.points.map(at))),
  ...rooms.value.map((r) => roomBox(r)),
  { x: 0, y: HIGH - 26, w: 90, h: 26 },
  ...(props.lens === 'air' ? streams.value.flatMap((a) => boxesOf(a.outline.length ? a.outline : a.solid)) : []),
  ...(props.lens === 'heat' ? arrows.value.flatMap((a) => boxesOf(a.outline)) : []),
  ...(props.lens === 'layers' ? gaps.value.map((g) => ({ x: g.at[0] - 12, y: g.at[1] - 12, w: 24, h: 24 })) : []),
  ...(props.lens === 'damp' ? pins.value.map((p) => ({ x: p.at[0] - 8, y: p.at[1] - 8, w: 16, h: 16 })) : []),
])
/** Names of rooms that have room for them. */
const rooms = computed(() =>
  props.house.rooms.reduce<House['rooms']>(
    (kept, room) => (kept.some((k) => overlap(roomBox(k), roomBox(room))) ? kept : [...kept, room]),
    [],
  ),
)
function roomBox(r: House['rooms'][number]) {
  const [x, y] = at(r.at)
  const w = widthOf(r.name)
  return { x: x - w / 2, y: y - 12, w, h: 16 }
}
const pins = computed(() => props.house.pins.flatMap((p) => (p.at === null ? [] : [{ ...p, at: at(p.at) }])))
const marks = computed(() =>
  props.house.line.spaces.flatMap((s) =>
    s.at && s.space !== 'body' ? [{ ...s, x: at(s.at)[0], y: at(s.at)[1] + 16 }] : [],
  ),
)
function ends(face: House['line']['before'][number]) {
  const [[x1, y1], [x2, y2]] = [at(face[0]), at(face[1])]
  return { x1, y1, x2, y2 }
}
function shown(line: House['lines'][number]): string {
  return path(line.points.map(at))
}
function fill(d: Drawn): string {
  if (props.lens === 'damp') return tone(elements.value.get(d.band.element_id ?? -1)?.wet ?? null)
  if (props.lens === 'layers' || props.lens === 'air') return '#f3eee0'
  return d.band.hatch && d.band.hatch !== 'air' ? `url(#h-${d.band.hatch})` : '#e3d9c2'
}
function spoken(d: Drawn): string {
  const e = elements.value.get(d.band.element_id ?? -1)
  if (!e) return ''
  if (props.lens === 'air') return `${e.name}: ${flowWords(d.band.element_id)}`
  const heat = d.band.before_w_k ? `${change(d.band.before_w_k, d.band.after_w_k ?? d.band.before_w_k)}; ` : ''
  return `${e.name}: ${heat}${e.readiness.state}; ${e.as_found}${e.worst ? `; wettest: ${e.worst}` : ''}`
}
const ground = computed(() => props.house.lines.filter((l) => l.kind === 'ground').map((l) => l.points.map(at)))
/** Where the strokes under a ground line begin, one every 12 pixels. */
function ticks(line: Point[]): Point[] {
  const [a, b] = [line[0]!, line[1]!]
  const count = Math.max(0, Math.floor((b[0] - a[0]) / 12))
  return Array.from({ length: count }, (_, k) => [a[0] + (k + 1) * 12, a[1] + ((k + 1) / count) * (b[1] - a[1])])
}
</script>

<template>
  <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" class="section" role="group" :aria-label="`Section, lens ${lens}`">
    <text x="8" y="16" class="end">{{ house.left }}</text>
    <text :x="WIDE - 8" y="16" class="end" text-anchor="end">{{ house.right }}</text>
    <g v-for="(line, i) in ground" :key="`g${i}`">
      <polyline :points="path(line)" class="ground" />
      <path v-for="([x, y], k) in ticks(line)" :key="k" :d="`M${x} ${y}l-7 8`" class="earth" />
    </g>
    <polyline
      v-for="(line, i) in house.lines.filter((l) => l.kind !== 'ground')"
      :key="`l${i}`"
      :points="shown(line)"
      class="thin"
      :class="line.kind.replace(' ', '-')"
    />
    <g
      v-for="d in bands"
      :key="d.band.id"
      class="band"
      :class="{ here: d.band.element_id !== null && d.band.element_id === selected, none: d.band.element_id === null }"
      :role="d.band.element_id === null ? undefined : 'link'"
      :tabindex="d.band.element_id === null ? undefined : 0"
      :aria-label="spoken(d) || undefined"
      @click="d.band.element_id !== null && emit('open', d.band.element_id)"
      @keydown.enter="d.band.element_id !== null && emit('open', d.band.element_id)"
    >
      <polygon :points="path(d.points)" :fill="fill(d)" />
      <title v-if="d.band.element_id !== null">{{ spoken(d) }}</title>
    </g>
    <defs>
      <pattern id="not-run" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="7" height="7" fill="#fbf9f3" />
        <line x1="0" y1="0" x2="0" y2="7" stroke="#8d8572" stroke-width="1" />
      </pattern>
    </defs>
    <text v-for="r in rooms" :key="r.name + r.at" :x="at(r.at)[0]" :y="at(r.at)[1]" class="room">
      {{ r.name }}
    </text>

    <g v-if="lens === 'heat'" class="heat" aria-hidden="true">
      <g v-for="a in arrows" :key="a.d.band.id">
        <polygon :points="path(a.outline)" class="before" />
        <polygon :points="path(a.solid)" class="after" />
      </g>
    </g>
    <g v-if="lens === 'air'" class="heat" aria-hidden="true">
      <g v-for="a in streams" :key="a.d.band.id + a.way" :class="a.way">
        <polygon v-if="a.outline.length" :points="path(a.outline)" class="before" />
        <polygon v-if="a.solid.length" :points="path(a.solid)" class="after" />
      </g>
    </g>
    <g v-if="lens === 'layers'" aria-hidden="true">
      <line
        v-for="l in lines"
        :key="l.key"
        :x1="l.ends[0][0]"
        :y1="l.ends[0][1]"
        :x2="l.ends[1][0]"
        :y2="l.ends[1][1]"
        :stroke="l.colour"
        :stroke-dasharray="l.dash"
        :stroke-width="l.width"
      />
    </g>
    <g v-if="lens === 'line'" class="heated" aria-hidden="true">
      <line v-for="(f, i) in house.line.before" :key="`b${i}`" v-bind="ends(f)" class="found" />
      <line v-for="(f, i) in house.line.after" :key="`a${i}`" v-bind="ends(f)" class="then" />
      <g v-for="s in marks" :key="`${s.body}/${s.space}`">
        <text :x="s.x" :y="s.y" class="space">{{ s.inside ? 'heated' : 'cold' }}</text>
      </g>
    </g>
    <SectionLabels :labels="labels" :obstacles="obstacles" :selected="selected" />
    <SectionMarks
      :pins="lens === 'damp' ? pins : []"
      :gaps="lens === 'layers' ? gaps : []"
      :mark="mark"
      @pin="(uid) => emit('pin', uid)"
      @gap="(number) => emit('gap', number)"
    />
    <text v-if="!project.page" class="soft" x="20" y="40">Reading …</text>
    <g class="bar" :transform="`translate(10 ${HIGH - 14})`">
      <path :d="`M0-4v4h${frame.scale * 2}v-4`" />
      <text :x="frame.scale * 2 + 6" y="1">{{ show(2, 'length', 0) }}</text>
    </g>
  </svg>
</template>

<style scoped>
.section {
  width: 100%;
  max-height: calc(100vh - 215px);
  display: block;
  user-select: none;
}
text {
  fill: var(--ink);
  font-size: 13px;
}
.end {
  letter-spacing: 0.08em;
  fill: var(--soft);
}
.room {
  fill: var(--soft);
  text-anchor: middle;
}
.ground {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.earth {
  stroke: var(--soft);
  stroke-width: 0.8;
}
.thin {
  fill: none;
  stroke: var(--soft);
  stroke-width: 1;
}
.thin.below {
  stroke-dasharray: 5 4;
}
.thin.roof-outline {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.band polygon {
  stroke: var(--ink);
  stroke-width: 1.3;
}
.band:not(.none) {
  cursor: pointer;
}
.band:hover:not(.none) polygon,
.band.here polygon {
  stroke-width: 3;
}
.band.none polygon {
  fill: #ece7da;
  stroke: var(--soft);
  stroke-dasharray: 4 3;
}
.before {
  fill: none;
  stroke: var(--heat);
  stroke-width: 1.2;
}
.after {
  fill: var(--heat);
}
.heat {
  pointer-events: none;
}
.in .before {
  stroke: var(--water);
}
.in .after {
  fill: var(--water);
}
.heated line {
  stroke: var(--heat);
  stroke-linecap: round;
}
.heated .found {
  stroke-width: 2.5;
  stroke-dasharray: 3 7;
}
.heated .then {
  stroke-width: 5;
}
.space {
  text-anchor: middle;
  fill: var(--soft);
  font-style: italic;
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 4px;
}
.bar path {
  fill: none;
  stroke: var(--ink);
}
.bar text {
  fill: var(--soft);
  font-size: 11px;
}
</style>
