<script setup lang="ts">
/** 1 kg/m² put at a plane, against a twin without it: how long it stays, in every option beside as found. */
import { computed, ref } from 'vue'
import VChart from 'vue-echarts'
import type { Schemas } from '@/api/client'
import { SOFT, WATER } from '@/drawing/chart'
import { useProject } from '@/shared/project'
import { said, show } from '@/shared/units'
import BatchState from './BatchState.vue'
import { dayOfYear, dayWord, lines } from './chart'
import type { Batches } from './useBatches'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'

const props = defineProps<{ sheet: Schemas['Sheet']; option: Schemas['OptionOut']; state: Batches }>()
const project = useProject()
const found = computed(() => props.sheet.options.find((o) => o.role === 'as_found')!)
const opening = computed(() => found.value.figures.plane ?? null)
/** “” is the plane that could rot, mould or freeze first; else a face of a layer. */
const plane = ref('')
const planes = computed(() =>
  found.value.build_up.layers
    .filter((l) => l.thickness_mm)
    .flatMap((l) =>
      (['outer', 'inner'] as const).map((face) => ({
        value: `${face}|${l.id}`,
        word: `${face} face of ${project.materialName(l.material)}`,
      })),
    ),
)
const batch = computed(() => props.state.of('wetting', null))
const on = ref<'04-01' | '10-01'>('04-01')
const thickness = ref(10)
const rows = computed(() => (batch.value?.runs ?? []).map((run) => ({ run, result: run.wetting ?? null })))
/** Options that have no such plane, said and not left out. */
const without = computed(() =>
  props.sheet.options.filter((o) => batch.value && !batch.value.runs.some((r) => r.option_id === o.id)),
)
const before = (option: number): string => {
  const point = props.sheet.options
    .find((o) => o.id === option)
    ?.run.verdict?.points.find((p) => p.layer_id === opening.value?.layer_id)
  return point ? `${Math.min(100, point.worst_month_rh * 100).toFixed(0)} % · ${point.worst_month}` : '–'
}
const shown = ref<number | null>(null)
const drawn = computed(
  () => rows.value.find((r) => r.run.id === shown.value && r.result) ?? rows.value.find((r) => r.result),
)
const from = computed(() => dayOfYear(on.value))
const chart = computed(() => {
  const others = rows.value.filter((r) => r.result && r.run.id !== drawn.value?.run.id)
  const now = drawn.value?.result
  if (!now) return null
  const points = (values: number[]): [number, number][] => values.map((v, i) => [i, v * 100])
  return lines(
    [
      { name: drawn.value!.run.label, values: points(now.e), color: WATER, width: 2.4 },
      ...others.map((r) => ({ name: r.run.label, values: points(r.result!.e), color: SOFT, dashed: true })),
    ],
    { name: '', least: 0, most: 364, word: (v) => dayWord(v, from.value) },
    [{ at: 50, word: 'half' }],
  )
})
const ask = (): Promise<boolean> => {
  const [face, layer] = plane.value
    ? (plane.value.split('|') as ['outer' | 'inner', string])
    : (['inner', null] as const)
  return props.state.ask('wetting', null, {
    wetting: { layer, face, on: on.value, thickness_mm: thickness.value, dose_kg_m2: 1 },
  })
}
const after = (days: number | null | undefined): string =>
  days === null || days === undefined ? 'not within a year' : `${days.toFixed(0)} days`
type Line = {
  name: string
  run?: (typeof rows.value)[number]['run']
  result?: (typeof rows.value)[number]['result'] | null
  instead: string | null
}
/** Every option that was tested, and those that do not have this plane. */
const tested = computed<Line[]>(() => [
  ...rows.value.map(({ run, result }) => ({
    name: run.label,
    run,
    result,
    instead: result ? null : run.error || run.status,
  })),
  ...without.value.map((o) => ({
    name: o.name,
    instead: o.figures.drying_left.why_not || 'it does not have this plane: no figure',
  })),
])
function tenth(share: number): string {
  return `${Math.round(share * 100)} %`
}
const COLUMNS: Column<Line>[] = [
  { name: 'option', head: 'Option' },
  { name: 'stay', head: 'mean stay' },
  { name: 'half', head: 'half has left after', text: ({ result: r }) => (r ? after(r.half_left_after) : '') },
  { name: 'left', head: 'left after a year', text: ({ result: r }) => (r ? tenth(r.left_g / 1000) : '') },
  {
    name: 'heating',
    head: 'left when heating begins',
    text: ({ result: r }) => (r ? `${tenth(r.at_heating)}${r.at_heating >= 0.5 ? ', half or more' : ''}` : ''),
    mark: ({ result: r }) => (r && r.at_heating >= 0.5 ? 'over' : ''),
  },
  { name: 'dry', head: 'plane nine tenths dry', text: ({ result: r }) => (r ? after(r.plane_dry_after) : '') },
  {
    name: 'ways',
    head: 'went out / in',
    text: ({ result: r }) => (r ? `${tenth(r.outward_g / 1000)} / ${tenth(r.inward_g / 1000)}` : ''),
  },
  { name: 'before', head: 'as it is: wettest month', text: ({ run }) => (run ? before(run.option_id) : '') },
]
</script>

<template>
  <p class="soft">
    {{ show(1, 'water') }} are put at a plane within an hour; the same wall without it is the twin. No rain, no leaks,
    from 80 % RH: what is tested is how the build-up dries, not how wet the wall is. The mean stay ranks; as the wall is
    stands beside it.
  </p>
  <ElForm class="ask" @submit.prevent="ask">
    <span
      >at
      <ElSelect v-model="plane" aria-label="Plane that is wetted">
        <ElOption value="" :label="opening ? `the ${opening.face} face of ${opening.layer}` : 'choose a plane'" />
        <ElOption v-for="p in planes" :key="p.value" :value="p.value" :label="p.word" /> </ElSelect
    ></span>
    <span
      >on
      <ElSelect v-model="on" aria-label="Day of the wetting">
        <ElOption value="04-01" label="1 April" />
        <ElOption value="10-01" label="1 October, the harsher" /> </ElSelect
    ></span>
    <span
      >over
      <ElSelect v-model="thickness" aria-label="Thickness that is wetted">
        <ElOption v-for="mm in [5, 10, 20, 50]" :key="mm" :value="mm" :label="show(mm, 'thickness')" /> </ElSelect
    ></span>
    <ElButton type="primary" native-type="submit" :disabled="state.asking.value">Wet every option</ElButton>
  </ElForm>
  <p v-if="opening && !plane" class="soft">{{ opening.because.charAt(0).toUpperCase() + opening.because.slice(1) }}.</p>
  <template v-if="batch">
    <BatchState :batch="batch" :state="state" />
    <RuledTable
      class="wetting"
      :rows="tested"
      :columns="COLUMNS"
      :mark="(line) => (line.run && drawn?.run.id === line.run.id ? 'here' : '')"
      :across="(line) => line.instead"
      @pick="(line) => line.run && (shown = line.run.id)"
    >
      <template #option="{ row: line }">
        <ElButton v-if="line.run" link :disabled="!line.result" @click="shown = line.run.id">{{ line.name }}</ElButton>
        <template v-else>{{ line.name }}</template>
      </template>
      <template #stay="{ row: { result } }">
        <b v-if="result">{{ result.mean_stay_days.toFixed(0) }}&nbsp;days</b>
      </template>
    </RuledTable>
    <figure v-if="chart && drawn">
      <figcaption>
        Share of the water that is still in, day by day: <b>{{ drawn.run.label }}</b> · dashed: the others
      </figcaption>
      <VChart class="chart" :option="chart" autoresize role="img" aria-label="Share of the water left, by day" />
    </figure>
    <Teleport defer to="#tests-margin">
      <h2>Wetting test</h2>
      <p v-for="{ run, result } in rows" :key="run.id">
        <b>{{ run.label }}.</b> {{ result ? said(result.sentence) : run.status }}
      </p>
      <p class="soft">Limit: less than half left when the next heating season begins (1 October).</p>
    </Teleport>
  </template>
</template>

<style scoped>
@import './panel.css';
</style>
