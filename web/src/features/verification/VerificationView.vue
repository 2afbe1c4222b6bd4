<script setup lang="ts">
/** Every case of the verification, computed on demand: computed against reference, with error, limit and source. */
import { computed, reactive, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import VChart from 'vue-echarts'
import { api, sentence, takeAs, take, type Schemas } from '@/api/client'
import { FONT, INK, RULE, SOFT, WATER } from '@/drawing/chart'
import SheetPage from '@/shared/SheetPage.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { useAnswer } from '@/shared/query'

type Row = Schemas['VerifyRow']
interface Picture {
  title: string
  x: string
  y: string
  computed: [number, number][]
  reference: [number, number][]
}
interface State {
  busy: boolean
  rows: Row[] | null
  pictures: Picture[]
  seconds: number
  complaint: string
}
const { data, complaint } = useAnswer(
  () => ['verification'],
  () => take(api.GET('/api/verification')),
)
const cases = computed(() => data.value ?? [])
const states = reactive<Record<string, State>>({})
let stop: AbortController | null = null
const all = ref(false)

watch(
  cases,
  (now) => {
    for (const one of now) states[one.name] ??= { busy: false, rows: null, pictures: [], seconds: 0, complaint: '' }
  },
  { immediate: true },
)
async function run(name: string): Promise<void> {
  const state = states[name]!
  state.busy = true
  state.complaint = ''
  const began = performance.now()
  stop = new AbortController()
  try {
    const found = await takeAs<{ rows: Row[]; pictures: Picture[] }>(
      api.POST('/api/verification/{name}', { params: { path: { name } }, signal: stop.signal }),
    )
    state.rows = found.rows
    state.pictures = found.pictures
    state.seconds = (performance.now() - began) / 1000
  } catch (error) {
    state.complaint = stop.signal.aborted ? 'cancelled' : sentence(error)
  } finally {
    state.busy = false
  }
}
async function runAll(): Promise<void> {
  all.value = true
  for (const one of cases.value) if (all.value) await run(one.name)
  all.value = false
}
function cancel(): void {
  all.value = false
  stop?.abort()
}
const word = (v: number): string =>
  Math.abs(v) >= 1e5 || (v !== 0 && Math.abs(v) < 1e-3) ? v.toExponential(2) : String(+v.toPrecision(5))
const share = (row: Row): number => Math.min(1, row.error / row.limit)
/** Computed as a line, the reference as rings on it. */
function drawn(picture: Picture) {
  const axis = { type: 'value', nameLocation: 'middle', axisLabel: { color: SOFT } }
  return {
    animation: false,
    textStyle: { fontFamily: FONT, color: INK },
    title: { text: picture.title, left: 0, top: 0, textStyle: { fontSize: 13, fontWeight: 400, fontFamily: FONT } },
    grid: { left: 48, right: 10, top: 26, bottom: 34 },
    xAxis: { ...axis, name: picture.x, nameGap: 20, splitLine: { show: false } },
    yAxis: { ...axis, scale: true, name: picture.y, nameGap: 34, splitLine: { lineStyle: { color: RULE } } },
    series: [
      { type: 'line', showSymbol: false, lineStyle: { color: INK, width: 1.6 }, data: picture.computed },
      {
        type: 'line',
        symbol: 'circle',
        symbolSize: 6,
        lineStyle: { width: 0 },
        itemStyle: { color: 'transparent', borderColor: WATER, borderWidth: 1.4 },
        data: picture.reference,
      },
    ],
  }
}
const failed = (rows: Row[]): number => rows.filter((r) => !r.passed).length
const COLUMNS: Column<Row>[] = [
  { name: 'quantity', head: 'Quantity', text: (row) => `${row.case}: ${row.quantity}` },
  { name: 'computed', head: 'computed', text: (row) => `${word(row.computed)} ${row.unit}` },
  { name: 'reference', head: 'reference', text: (row) => word(row.reference) },
  { name: 'error', head: 'error, of the limit' },
  { name: 'limit', head: 'limit', text: (row) => `${word(row.limit)}${row.relative ? ', relative' : ''}` },
  { name: 'passed', text: (row) => (row.passed ? 'within' : 'over') },
]
</script>

<template>
  <SheetPage title="Verification">
    <div class="page wide">
      <h1>Verification</h1>
      <p class="soft">
        Each case is computed here and now by the same code as every run, and set against its reference. Examples worked
        by hand say so; nothing is called published whose source is not certain. The same cases run on the command line
        with
        <code>./run verify</code>, a thousand random walls with <code>./run stress</code>.
      </p>
      <p>
        <ElButton type="primary" :disabled="all" @click="runAll">Compute all</ElButton>
        <ElButton link v-if="all" @click="cancel">cancel</ElButton>
      </p>
      <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
      <section v-for="one in cases" :key="one.name" :data-case="one.name">
        <h2>
          {{ one.title }}
          <ElButton :disabled="states[one.name]?.busy" @click="run(one.name)">Compute</ElButton>
          <span v-if="states[one.name]?.busy" class="soft" aria-live="polite"> computing …</span>
          <span v-else-if="states[one.name]?.rows" class="soft" data-sum>
            {{ states[one.name]!.rows!.length }} comparisons, {{ failed(states[one.name]!.rows!) || 'none' }} over their
            limit, {{ states[one.name]!.seconds.toFixed(1) }} s
          </span>
        </h2>
        <p class="soft">{{ one.about }}</p>
        <p v-if="states[one.name]?.complaint" class="complaint">{{ states[one.name]!.complaint }}</p>
        <div v-if="states[one.name]?.pictures.length" class="pictures" data-pictures>
          <VChart
            v-for="picture in states[one.name]!.pictures"
            :key="picture.title + picture.y"
            class="picture"
            :option="drawn(picture)"
            autoresize
            role="img"
            :aria-label="`${picture.title}: computed line and reference rings, ${picture.y}`"
          />
          <p class="soft">Line: computed. Rings: reference.</p>
        </div>
        <RuledTable
          v-if="states[one.name]?.rows"
          :rows="states[one.name]!.rows!"
          :columns="COLUMNS"
          :mark="(row) => (row.passed ? '' : 'over')"
        >
          <template #error="{ row }">
            <svg width="130" height="12" role="img" :aria-label="`error ${word(row.error)} of ${word(row.limit)}`">
              <rect x="0.5" y="1.5" width="119" height="9" class="box" />
              <rect x="1" y="2" :width="Math.max(1, share(row) * 118)" height="8" class="bar" />
            </svg>
            {{ word(row.error) }}
          </template>
        </RuledTable>
        <p v-if="states[one.name]?.rows" class="soft">
          Source: {{ [...new Set(states[one.name]!.rows!.map((r) => r.source))].join('; ') }}.
        </p>
      </section>
      <p><RouterLink to="/projects">My projects</RouterLink></p>
    </div>
  </SheetPage>
</template>

<style scoped>
section {
  margin-top: 18px;
}
h2 {
  display: flex;
  gap: 12px;
  align-items: baseline;
}
h2 span,
h2 .el-button {
  font-family: var(--sans);
  font-size: 14px;
  font-weight: 400;
}
.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
.picture {
  width: 350px;
  height: 210px;
}
.pictures p {
  width: 100%;
  margin: 0 0 6px;
}
.box {
  fill: none;
  stroke: var(--rule);
}
.bar {
  fill: var(--ink);
}
.el-table :deep(td) {
  white-space: nowrap;
}
</style>
