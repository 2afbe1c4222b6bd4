<script setup lang="ts">
/** Year in the wall: as found above the option on one scale, linked pointers, watch points, zoom from years to days. */
import { refDebounced, useElementSize } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import VChart from 'vue-echarts'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, Problem, take, type Schemas } from '@/api/client'
import ElementTabs from '@/shared/ElementTabs.vue'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import ReadinessNote from '@/shared/ReadinessNote.vue'
import { giveKeysBack } from '@/shared/keys'
import YearMargin from './YearMargin.vue'
import { useTall } from '@/drawing/tall'
import { INK } from '@/drawing/chart'
import { chartOf, kindsOf, linesOf, sharedPlane, unitOfKind, type Kind, type Year } from './lines'
import { ticksOf } from './ticks'
import { useSpan } from './useSpan'
import YearPicture from './YearPicture.vue'
import ChoiceBar from '@/shared/ChoiceBar.vue'
import { useAct, useAnswer } from '@/shared/query'
import { useSheetAnswer } from '@/shared/sheet'

const LEFT = 128
const RIGHT = 12
const route = useRoute()
const router = useRouter()
const projectId = computed(() => Number(route.params.project))
const elementId = computed(() => Number(route.params.element))
const { data: sheet, complaint: unread, load: loadSheet } = useSheetAnswer(elementId)
const kind = ref<Kind>('rh')
const watched = ref('')
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
const most = computed(() => Math.max(...years.value.map((y) => y.hours), 8760))
const { span, hour, pointerX, inside, zoom, pan, whole, point, wheel } = useSpan(most, plot, LEFT)
/** The arrays of a run are lost, or those of an older solver: they are computed again by one press. */
const gone = computed(() => series.error.value instanceof Problem && series.error.value.code === 'result_gone')
watch(years, (now) => {
  whole()
  const last = now[now.length - 1]
  if (last) {
    watched.value = last.state.verdict?.worst_point.name ?? Object.keys(last.planes)[0] ?? ''
    hour.value = Math.round(most.value * 0.75)
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

const ticks = computed(() => (years.value[0] ? ticksOf(years.value[0], span.value, plot.value) : []))

const planes = computed(() => {
  const last = years.value[years.value.length - 1]
  return last ? Object.keys(last.planes) : []
})
const kinds = computed(() => kindsOf(years.value))
const option = computed(() =>
  chartOf(linesOf(years.value, kind.value, watched.value), kind.value, span.value, LEFT, RIGHT),
)
const tall = useTall()
const height = computed(() => Math.round((years.value.length > 1 ? 142 : 240) * tall.value))
const liveOf = (year: Year) => sheet.value?.options.find((o) => o.id === year.option_id)?.run.state
/** A result that no longer fits its option is never shown as current. */
const stale = computed(() => {
  const last = years.value[years.value.length - 1]
  return !!last && liveOf(last) !== 'current'
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
    <ReadingNote v-if="loading && !years.length" what="the years" />
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
        <ElButton @click="whole()">All years</ElButton>
        <ElButton aria-label="Earlier" @click="pan(-0.5)">←</ElButton>
        <ElButton aria-label="Later" @click="pan(0.5)">→</ElButton>
      </div>
      <p class="soft sub">
        Relative humidity by depth and time, dark is wet. Pointers are linked; arrow keys move by the hour, with Shift
        by the day.
      </p>
      <div ref="box" class="box" @mousemove="point" @wheel.prevent="wheel">
        <YearPicture
          v-for="year in years"
          :key="year.run_id"
          :year="year"
          :live="liveOf(year)"
          :span="span"
          :plot="plot"
          :height="height"
          :left="LEFT"
          :watched="sharedPlane(years, year, watched)"
        />
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
          <span class="soft">{{ unitOfKind(kind) }} · dashed: as found</span>
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
