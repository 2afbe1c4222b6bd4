<script setup lang="ts">
/** What is not known is drawn by chance in many runs: the share that stays sound, and which input decides. */
import { computed, reactive, ref, watch } from 'vue'
import VChart from 'vue-echarts'
import type { Schemas } from '@/api/client'
import { OVER, WATER } from '@/drawing/chart'
import { useProject } from '@/shared/project'
import { bare, isImperial, said, show, unitOf } from '@/shared/units'
import BatchState from './BatchState.vue'
import { dayOfYear, dayWord, lines } from './chart'
import { useChoices } from './useChoices'
import { briefOf, type Batches, type Brief } from './useBatches'
import StandsOn from '@/shared/StandsOn.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'

const props = defineProps<{ sheet: Schemas['Sheet']; option: Schemas['OptionOut']; state: Batches }>()
const project = useProject()
const choices = useChoices()
const batch = computed(() => props.state.of('study', props.option.id))
type InputName = Schemas['StudyInput']['name']
interface Row {
  name: InputName
  on: boolean
  low: string
  high: string
}
const rows = reactive<Row[]>([])
/** Air leakage is typed in the units shown; everything else is a factor or a share. */
const shown = (name: string, value: number): string =>
  name === 'air leakage' ? bare(value, 'airFlowArea', 2) : String(value)
const settings = computed(() => batch.value?.study_settings ?? null)
/** What decides most is asked first, with what was measured in its range; the others follow, not ticked. */
watch(
  [choices, isImperial],
  ([found]) => {
    const asked = settings.value?.inputs ?? props.option.study
    const first = props.option.study
    const names = first.map((one) => one.name)
    const all = found?.inputs ?? []
    rows.splice(0, rows.length)
    for (const one of [...first, ...all.filter((a) => !names.includes(a.name))]) {
      const before = asked.find((a) => a.name === one.name)
      rows.push({
        name: one.name,
        on: !!before,
        low: shown(one.name, before?.low ?? one.low),
        high: shown(one.name, before?.high ?? one.high),
      })
    }
  },
  { immediate: true },
)
/** The layers whose uptake was measured, in words. */
const measured = computed(() =>
  props.option.build_up.layers
    .filter((l) => l.a_value_kg_m2s05)
    .map((l) => `${project.materialName(l.material)} ${show(l.a_value_kg_m2s05!, 'uptake')}`)
    .join(', '),
)
const method = ref<'latin hypercube' | 'grid'>(settings.value?.method ?? 'latin hypercube')
const runs = ref(String(settings.value?.runs ?? 100))
const steps = ref(String(settings.value?.steps ?? 3))
const planes = computed(() => props.option.build_up.layers.filter((l) => l.thickness_mm))
const plane = ref(
  planes.value.some((l) => l.id === props.option.figures.opening_plane)
    ? props.option.figures.opening_plane
    : (planes.value[0]?.id ?? ''),
)
const typed = (name: string, text: string): number =>
  name === 'air leakage' ? unitOf('airFlowArea').from(number(text)) : number(text)
const unit = (name: string): string => (name === 'air leakage' ? unitOf('airFlowArea').unit : (words(name)?.unit ?? ''))
const number = (text: string): number => Number(text.replace(',', '.'))
const inputs = computed(() =>
  rows.filter((r) => r.on).map((r) => ({ name: r.name, low: typed(r.name, r.low), high: typed(r.name, r.high) })),
)
const ask = (): Promise<boolean> =>
  props.state.ask('study', props.option.id, {
    study: {
      inputs: inputs.value,
      method: method.value,
      runs: number(runs.value),
      steps: number(steps.value),
      seed: 1,
      plane: plane.value,
    },
  })
const words = (name: string): Schemas['StudyInput'] | undefined => choices.value?.inputs.find((i) => i.name === name)
const done = computed(() => (batch.value?.runs ?? []).map(briefOf).filter((r): r is Brief => r !== null))
const from = dayOfYear(props.sheet.conditions.works_on)
const chart = computed(() =>
  done.value.length
    ? lines(
        done.value.map((r) => ({
          name: '',
          values: r.daily_rh.filter((_, i) => i % 3 === 0).map((v, i): [number, number] => [i * 3, v]),
          color: r.state === 'over a limit' ? OVER : WATER,
          width: 1,
          opacity: 0.35,
        })),
        { name: '', least: 0, most: 364, word: (v) => dayWord(v, from) },
      )
    : null,
)
const study = computed(() => batch.value?.study ?? null)
const COLUMNS: Column<Row>[] = [
  { name: 'name', head: 'Not known' },
  { name: 'low', head: 'from' },
  { name: 'high', head: 'to' },
  { name: 'unit', mark: 'soft' },
]
function years(row: Row): string | null {
  return row.name === 'weather year' ? 'usual and bad, half each' : null
}
</script>

<template>
  <p class="soft">
    One run is one draw. Tick what is not known and give its range; every run takes another value of each, three years
    long.
  </p>
  <ElForm @submit.prevent="ask">
    <RuledTable class="inputs" :rows="rows" :columns="COLUMNS" :across="years">
      <template #name="{ row }">
        <ElCheckbox v-model="row.on">{{ row.name }}</ElCheckbox>
      </template>
      <template #low="{ row }">
        <ElInput v-model="row.low" :disabled="!row.on" inputmode="decimal" :aria-label="`${row.name}, from`" />
      </template>
      <template #high="{ row }">
        <ElInput v-model="row.high" :disabled="!row.on" inputmode="decimal" :aria-label="`${row.name}, to`" />
      </template>
      <template #unit="{ row }">
        {{ words(row.name)?.words }} {{ unit(row.name) }}
        <template v-if="row.name === 'A-value' && measured"><br />measured: {{ measured }}</template>
      </template>
    </RuledTable>
    <div class="ask">
      <span
        >draws
        <ElSelect v-model="method" aria-label="Method">
          <ElOption value="latin hypercube" label="Latin hypercube" />
          <ElOption value="grid" label="full grid" /> </ElSelect
      ></span>
      <label v-if="method === 'grid'"
        >steps <ElInput v-model="steps" inputmode="numeric" aria-label="Steps of each input"
      /></label>
      <label v-else>runs <ElInput v-model="runs" inputmode="numeric" aria-label="Number of runs" /></label>
      <span
        >looked at
        <ElSelect v-model="plane" aria-label="Plane that is looked at">
          <ElOption
            v-for="l in planes"
            :key="l.id"
            :value="l.id"
            :label="`inner face of ${project.materialName(l.material)}`"
          /> </ElSelect
      ></span>
      <ElButton type="primary" native-type="submit" :disabled="state.asking.value || !inputs.length"
        >Run the study</ElButton
      >
    </div>
  </ElForm>
  <template v-if="batch">
    <BatchState :batch="batch" :state="state" />
    <template v-if="study">
      <p class="answer" data-study>
        {{ said(study.words) }}
      </p>
      <template v-if="study.conditions.length">
        <h2>The conditions it stands on</h2>
        <StandsOn :key="study.runs" :element-id="sheet.element.id" :option-id="option.id" />
      </template>
      <div class="bars">
        <template v-for="one in study.influences" :key="one.name">
          <span>{{ one.name }}</span>
          <span class="track"
            ><i
              :style="{
                left: one.correlation < 0 ? `${50 + 50 * one.correlation}%` : '50%',
                width: `${50 * Math.abs(one.correlation)}%`,
              }"
          /></span>
          <span>{{ one.correlation > 0 ? '+' : '' }}{{ bare(one.correlation, 'plain', 2) }}</span>
        </template>
      </div>
      <p class="soft">Rank correlation with how near a run comes to its limit: right is worse with more of it.</p>
    </template>
    <figure v-if="chart">
      <figcaption>
        Relative humidity at {{ done[0]?.plane }} in the third year of every run · dark red: over a limit
      </figcaption>
      <VChart class="chart" :option="chart" autoresize role="img" aria-label="RH of all runs at the watch point" />
    </figure>
    <Teleport defer to="#tests-margin">
      <h2>Study</h2>
      <p v-if="study">
        {{ study.over }} of {{ study.runs }} draws are over a limit; {{ study.sound }} are within limits or marginal.
        {{ study.over ? 'The verdict of this option is at best marginal.' : '' }}
      </p>
      <p class="soft">The interval is of the number of runs (Wilson), not of what the study leaves out.</p>
    </Teleport>
  </template>
</template>

<style scoped>
@import './panel.css';
.inputs {
  width: 100%;
  max-width: 820px;
}
.inputs .el-input {
  width: 78px;
}
.answer {
  font-size: 15px;
}
.bars {
  display: grid;
  grid-template-columns: max-content 300px max-content;
  gap: 3px 12px;
  align-items: center;
}
.track {
  position: relative;
  height: 11px;
  border-left: 1px solid var(--rule);
  border-right: 1px solid var(--rule);
  background: linear-gradient(var(--rule), var(--rule)) center/1px 100% no-repeat;
}
.track i {
  position: absolute;
  top: 0;
  bottom: 0;
  background: var(--ink);
}
</style>
