<script setup lang="ts">
/** Year in the wall: as found above the option on one scale, linked pointers, watch points, zoom from years to days. */
import { onKeyStroke, refDebounced, useElementSize } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import VChart from 'vue-echarts'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, Problem, take, type Schemas } from '@/api/client'
import ElementTabs from '@/shared/ElementTabs.vue'
import SheetPage from '@/shared/SheetPage.vue'
import ReadinessNote from '@/shared/ReadinessNote.vue'
import StateMark from '@/shared/StateMark.vue'
import { giveKeysBack, isTyping } from '@/shared/keys'
import { said, show } from '@/shared/units'
import FieldPicture from './FieldPicture.vue'
import YearMargin from './YearMargin.vue'
import { useTall } from '@/drawing/tall'
import { FONT, INK, OVER, RULE, SOFT, spread } from '@/drawing/chart'
import { ticksOf } from './ticks'
import ChoiceBar from '@/shared/ChoiceBar.vue'
import { useAct, useAnswer } from '@/shared/query'
import { useSheetAnswer } from '@/shared/sheet'

type Year = Schemas['Year']
type Line = Schemas['Line']
const LEFT = 128
const RIGHT = 12
const route = useRoute()
const router = useRouter()
const projectId = computed(() => Number(route.params.project))
const elementId = computed(() => Number(route.params.element))
const { data: sheet, complaint: unread, load: loadSheet } = useSheetAnswer(elementId)
const kind = ref<'rh' | 'mould' | 'wood' | 'water'>('rh')
const watched = ref('')
const span = ref<[number, number]>([0, 8760])
const hour = ref(0)
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const plot = computed(() => Math.max(120, Math.round(width.value - LEFT - RIGHT)))
const runnable = computed(() => sheet.value?.options.filter((o) => o.run.verdict && o.run.run_id !== null) ?? [])
const chosenId = computed(
  () => Number(route.query.option) || runnable.value.find((o) => o.role !== 'as_found')?.id || runnable.value[0]?.id,
)

/** The runs that are shown: as found, and the option under it. */
const wanted = computed(() => {
  const found = runnable.value.find((o) => o.role === 'as_found')
  const chosen = runnable.value.find((o) => o.id === chosenId.value)
  return [found, chosen].flatMap((o, i, all) => (o && all.indexOf(o) === i ? [o.run.run_id!] : []))
})
const series = useAnswer(
  () => ['years', wanted.value],
  () =>
    Promise.all(
      wanted.value.map((run_id) =>
        take(api.GET('/api/runs/{run_id}/year', { params: { path: { run_id }, query: { every: 24 } } })),
      ),
    ),
  { when: () => wanted.value.length > 0, fresh: true },
)
const years = computed<Year[]>(() => (wanted.value.length && series.data.value) || [])
/** The arrays of a run are lost, or those of an older solver: they are computed again by one press. */
const gone = computed(() => series.error.value instanceof Problem && series.error.value.code === 'result_gone')
watch(years, (now) => {
  const hours = Math.max(...now.map((y) => y.hours), 8760)
  span.value = [0, hours]
  const last = now[now.length - 1]
  if (last) {
    watched.value = last.state.verdict?.worst_point.name ?? Object.keys(last.planes)[0] ?? ''
    hour.value = Math.round(hours * 0.75)
  }
})
async function load(): Promise<void> {
  await loadSheet()
  await series.load()
}
const { complaint: refused, act } = useAct()
const runAgain = (): Promise<boolean> =>
  act(async () => {
    for (const option of runnable.value.filter((o) => o.role === 'as_found' || o.id === chosenId.value))
      await take(api.POST('/api/options/{option_id}/runs', { params: { path: { option_id: option.id } } }))
    await router.push({ name: 'options', params: { project: projectId.value, element: elementId.value } })
  })

const pointed = refDebounced(hour, 40)
const instant = useAnswer(
  () => ['moments', years.value.map((y) => y.run_id), pointed.value],
  () =>
    Promise.all(
      years.value.map((y) =>
        take(
          api.GET('/api/runs/{run_id}/moment', {
            params: { path: { run_id: y.run_id }, query: { hour: Math.min(pointed.value, y.hours - 1) } },
          }),
        ),
      ),
    ),
  { when: () => years.value.length > 0 },
)
const moments = shallowRef<Schemas['Moment'][]>([])
watch(instant.data, (now) => now && (moments.value = now), { immediate: true })
const complaint = computed(() => refused.value || unread.value || series.complaint.value || instant.complaint.value)
const loading = computed(() => !complaint.value && (!sheet.value || (wanted.value.length > 0 && !years.value.length)))

const pointerX = computed(() => ((hour.value - span.value[0]) / (span.value[1] - span.value[0])) * plot.value)
const inside = computed(() => pointerX.value >= 0 && pointerX.value <= plot.value)
function point(event: MouseEvent): void {
  const rect = box.value!.getBoundingClientRect()
  const share = (event.clientX - rect.left - LEFT) / plot.value
  if (share < 0 || share > 1) return
  hour.value = Math.min(span.value[1] - 1, Math.floor(span.value[0] + share * (span.value[1] - span.value[0])))
}
const most = computed(() => Math.max(...years.value.map((y) => y.hours), 8760))
function zoom(factor: number): void {
  const [from, to] = span.value
  const length = Math.min(most.value, Math.max(48, Math.round((to - from) * factor)))
  const share = Math.min(1, Math.max(0, (hour.value - from) / (to - from)))
  const start = Math.max(0, Math.min(most.value - length, Math.round(hour.value - share * length)))
  span.value = [start, start + length]
}
function pan(share: number): void {
  const [from, to] = span.value
  const by = Math.round((to - from) * share)
  const start = Math.max(0, Math.min(most.value - (to - from), from + by))
  span.value = [start, start + to - from]
}
function wheel(event: WheelEvent): void {
  if (!event.ctrlKey && Math.abs(event.deltaX) > Math.abs(event.deltaY)) pan(event.deltaX / 600)
  else zoom(event.deltaY > 0 ? 1.25 : 0.8)
}
onKeyStroke(['ArrowLeft', 'ArrowRight', '+', '-', '='], (event) => {
  if (isTyping(event) || event.defaultPrevented) return
  event.preventDefault()
  if (event.key === '+' || event.key === '=') zoom(0.5)
  else if (event.key === '-') zoom(2)
  else {
    const by = (event.key === 'ArrowLeft' ? -1 : 1) * (event.shiftKey ? 24 : 1)
    hour.value = Math.max(0, Math.min(most.value - 1, hour.value + by))
    if (!inside.value) pan(event.key === 'ArrowLeft' ? -0.5 : 0.5)
  }
})

const ticks = computed(() => (years.value[0] ? ticksOf(years.value[0], span.value, plot.value) : []))

const planes = computed(() => {
  const last = years.value[years.value.length - 1]
  return last ? Object.keys(last.planes) : []
})
/** The plane that stands for the watched one in another build-up: the same name, else the nearest inside. */
function shared(year: Year): string {
  if (watched.value in year.planes) return watched.value
  const last = years.value[years.value.length - 1]
  const depth = last?.planes[watched.value] ?? 0
  const inner = Object.keys(year.planes).filter((name) => !/^(outer|room) face of/.test(name))
  const gap = (name: string): number => Math.abs(year.planes[name]! - depth)
  return inner.reduce(
    (best, name) => (gap(name) < gap(best) ? name : best),
    inner[0] ?? Object.keys(year.planes)[0] ?? '',
  )
}
interface Drawn {
  year: Year
  line: Line
}
const drawn = computed<Drawn[]>(() =>
  years.value.flatMap((year) => {
    const key = kind.value === 'rh' || kind.value === 'mould' ? `${kind.value}:${shared(year)}` : null
    return year.lines.filter((l) => (key ? l.key === key : l.kind === kind.value)).map((line) => ({ year, line }))
  }),
)
const kinds = computed(() => {
  const have = new Set(years.value.flatMap((y) => y.lines.map((l) => l.kind)))
  return (
    [
      ['rh', 'Relative humidity'],
      ['mould', 'Mould index'],
      ['wood', 'Wood moisture'],
      ['water', 'Total water'],
    ] as const
  ).filter(([k]) => have.has(k))
})
const unit = computed(
  () => ({ rh: '%', mould: '', wood: 'mass-%', water: show(1, 'water').split(' ').slice(1).join(' ') })[kind.value],
)
const option = computed(() => ({
  animation: false,
  textStyle: { fontFamily: FONT, color: INK },
  grid: { left: LEFT, right: RIGHT, top: 10, bottom: 6 },
  xAxis: {
    type: 'value',
    min: span.value[0],
    max: span.value[1],
    axisLabel: { show: false },
    axisTick: { show: false },
    splitLine: { show: false },
    axisLine: { lineStyle: { color: INK } },
  },
  yAxis: {
    type: 'value',
    scale: true,
    min: kind.value === 'mould' ? 0 : undefined,
    max: kind.value === 'rh' ? 100 : undefined,
    axisLabel: {
      color: SOFT,
      formatter: (v: number) =>
        (kind.value === 'water' ? show(v, 'water', 1).split(' ')[0] : `${+v.toFixed(1)}`) +
        (kind.value === 'rh' ? ' %' : ''),
    },
    splitLine: { lineStyle: { color: RULE } },
  },
  series: drawn.value.map(({ year, line }, i) => ({
    type: 'line',
    showSymbol: false,
    sampling: 'lttb',
    lineStyle: {
      width: 1.8,
      type: year.role === 'as_found' ? 'dashed' : 'solid',
      color: year.role === 'as_found' ? SOFT : i > 1 ? '#8A5E08' : INK,
    },
    data: line.values.map((v, k) => [(k + 0.5) * year.every, v]),
    markLine:
      line.limit === null || line.limit === undefined
        ? undefined
        : {
            symbol: 'none',
            silent: true,
            lineStyle: { color: OVER, type: 'dashed' },
            label: { formatter: `limit ${line.limit}`, position: 'insideStartTop', color: OVER },
            data: [{ yAxis: line.limit }],
          },
  })),
}))
const tall = useTall()
const height = computed(() => Math.round((years.value.length > 1 ? 142 : 240) * tall.value))
function at(mm: number, year: Year): number {
  return (mm / year.depth_mm) * height.value
}
/** Names of layers beside the picture, pushed apart. */
function names(year: Year): { text: string; y: number; thin: boolean }[] {
  const placed = year.edges.map((edge) => ({
    text: edge.name,
    y: at((edge.from_mm + edge.to_mm) / 2, year),
    thin: edge.membrane,
  }))
  return spread(placed, 13, height.value - 4)
}
function headline(year: Year): { state: string; words: string } {
  const verdict = year.state.verdict
  const live = sheet.value?.options.find((o) => o.id === year.option_id)?.run.state
  if (live !== 'current' || !verdict) return { state: '', words: live ?? '' }
  return year.role === 'as_found'
    ? { state: '', words: said(verdict.as_found_words) }
    : { state: verdict.state, words: said(verdict.headline) }
}
/** A result that no longer fits its option is never shown as current. */
const stale = computed(() => {
  const last = years.value[years.value.length - 1]
  return !!last && sheet.value?.options.find((o) => o.id === last.option_id)?.run.state !== 'current'
})
/** Another option below; the arrow keys go on moving the pointer. */
function pick(id: number): void {
  giveKeysBack()
  router.replace({ query: { option: id } })
}
</script>

<template>
  <SheetPage title="Year in the wall">
    <ElementTabs :project-id="projectId" :element-id="elementId" view="year" />
    <p v-if="complaint" class="complaint" role="alert">
      {{ complaint }}
      <ElButton link v-if="gone" @click="runAgain">Run them again</ElButton>
      <ElButton link v-else @click="load">Try again</ElButton>
    </p>
    <p v-if="loading && !years.length" class="soft">Reading the years …</p>
    <p v-else-if="!years.length">
      No hourly years of this element yet.
      <RouterLink :to="{ name: 'options', params: { project: projectId, element: elementId } }"
        >Run them on the options sheet</RouterLink
      >.
    </p>
    <template v-else>
      <div class="controls">
        <span
          ><span class="soft">below as found</span>
          <ElSelect :model-value="chosenId" aria-label="Option shown" @change="pick(Number($event))">
            <ElOption v-for="o in runnable" :key="o.id" :value="o.id" :label="o.name" /> </ElSelect
        ></span>
        <span class="gap" />
        <ElButton title="+" @click="zoom(0.5)">Closer</ElButton>
        <ElButton title="−" @click="zoom(2)">Wider</ElButton>
        <ElButton @click="span = [0, most]">All years</ElButton>
        <ElButton aria-label="Earlier" @click="pan(-0.5)">←</ElButton>
        <ElButton aria-label="Later" @click="pan(0.5)">→</ElButton>
      </div>
      <p class="soft sub">
        Relative humidity by depth and time, dark is wet. Pointers are linked; arrow keys move by the hour, with Shift
        by the day.
      </p>
      <div ref="box" class="box" @mousemove="point" @wheel.prevent="wheel">
        <div v-for="year in years" :key="year.run_id" class="one">
          <div class="title" :style="{ paddingLeft: `${LEFT}px` }">
            <b>{{ year.role === 'as_found' ? 'As found' : year.option_name }}</b>
            <StateMark v-bind="headline(year)" />
          </div>
          <div class="row">
            <div class="names" :style="{ width: `${LEFT - 8}px`, height: `${height}px` }">
              <span v-for="n in names(year)" :key="n.text + n.y" :style="{ top: `${n.y - 8}px` }" :title="n.text">{{
                n.text
              }}</span>
            </div>
            <FieldPicture
              :year="year"
              :from="span[0]"
              :to="Math.min(span[1], year.hours)"
              :width="Math.round((plot * (Math.min(span[1], year.hours) - span[0])) / (span[1] - span[0]))"
              :height="height"
              :watched="shared(year)"
            />
          </div>
        </div>
        <svg class="axis" :width="plot + LEFT + RIGHT" height="22" aria-hidden="true">
          <g v-for="(tick, i) in ticks" :key="i" :transform="`translate(${LEFT + tick.x} 0)`">
            <line y2="5" :stroke="INK" :stroke-width="tick.major ? 1.4 : 0.8" />
            <text v-if="tick.label && tick.x < plot - 34" x="2" y="17">{{ tick.label }}</text>
          </g>
        </svg>
        <div class="kinds" :style="{ paddingLeft: `${LEFT}px` }">
          <ChoiceBar v-model="kind" label="What the lines show" :options="kinds" />
          <span v-if="kind === 'rh' || kind === 'mould'"
            ><span class="soft">at</span>
            <ElSelect v-model="watched" aria-label="Watch point">
              <ElOption v-for="name in planes" :key="name" :value="name" :label="name" /> </ElSelect
          ></span>
          <span class="soft">{{ unit }} · dashed: as found</span>
        </div>
        <VChart class="chart" :option="option" autoresize :aria-label="`Lines of ${kind}`" role="img" />
        <div v-if="inside" class="pointer" :style="{ left: `${LEFT + pointerX}px` }" />
      </div>
      <ElSlider
        v-model="hour"
        class="slider"
        :min="span[0]"
        :max="span[1] - 1"
        :show-tooltip="false"
        aria-label="Hour at the pointer"
      />
    </template>
    <template #margin>
      <ReadinessNote :element-id="elementId" />
      <YearMargin
        v-if="years.length"
        :years="years"
        :moments="moments"
        :watched="watched"
        :stale="stale"
        :project-id="projectId"
        @limits="load"
      />
    </template>
  </SheetPage>
</template>

<style scoped>
.controls {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
.el-select {
  width: 300px;
  margin-left: 6px;
}
.gap {
  flex: 1;
}
.sub {
  margin: 4px 0 2px;
}
.box {
  position: relative;
}
.title {
  display: flex;
  justify-content: space-between;
  padding: 5px 12px 2px 0;
}
.row {
  display: flex;
}
.names {
  position: relative;
  margin-right: 8px;
  flex: none;
}
.names span {
  position: absolute;
  right: 0;
  max-width: 100%;
  font-size: 11px;
  line-height: 14px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  color: var(--soft);
}
.axis {
  display: block;
}
.axis text {
  font-size: 12px;
  fill: var(--ink);
}
.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  margin-top: 4px;
}
.kinds [role='group'] {
  display: flex;
  border: 1px solid var(--ink);
  flex: none;
}
.kinds :deep(.el-radio-button__inner) {
  padding: 3px 9px;
}
.chart {
  height: calc(168px * v-bind(tall));
}
.pointer {
  position: absolute;
  top: 22px;
  bottom: 0;
  width: 0;
  border-left: 1.4px solid var(--ink);
  pointer-events: none;
}
.slider {
  width: calc(100% - 140px);
  margin-left: 128px;
}
</style>
