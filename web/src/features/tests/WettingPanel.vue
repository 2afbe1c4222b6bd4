<script setup lang="ts">
/** 1 kg/m² put into a plane, against a twin without it: every option beside as found. */
import { computed, ref } from 'vue'
import VChart from 'vue-echarts'
import type { Schemas } from '@/api/client'
import { SOFT, WATER } from '@/features/year/chart'
import { useProject } from '@/shared/project'
import { inText, show } from '@/shared/units'
import BatchState from './BatchState.vue'
import { dayOfYear, dayWord, lines } from './chart'
import type { Batches, Wetted } from './useBatches'

const props = defineProps<{ sheet: Schemas['Sheet']; option: Schemas['OptionOut']; state: Batches }>()
const project = useProject()
const found = computed(() => props.sheet.options.find((o) => o.role === 'as_found')!)
const layers = computed(() =>
  found.value.build_up.layers
    .filter((l) => l.thickness_mm)
    .map((l) => ({ id: l.id, name: project.materialName(l.material) })),
)
const batch = computed(() => props.state.of('wetting', null))
const layer = ref(String(batch.value?.runs[0]?.inputs.layer ?? props.sheet.datum_layer_id))
const on = ref(String(batch.value?.settings.on ?? '04-01'))
const thickness = ref(Number(batch.value?.settings.thickness_mm ?? 10))
const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'] // prettier-ignore
const starts = MONTHS.map((word, i) => ({ value: `${String(i + 1).padStart(2, '0')}-01`, word: `1 ${word}` }))
const rows = computed(() =>
  (batch.value?.runs ?? []).map((run) => ({ run, result: run.result as unknown as Wetted | null })),
)
const shown = ref<number | null>(null)
const drawn = computed(
  () => rows.value.find((r) => r.run.id === shown.value && r.result) ?? rows.value.find((r) => r.result),
)
const from = computed(() => dayOfYear(String(batch.value?.settings.on ?? '04-01')))
const chart = computed(() => {
  const result = drawn.value?.result
  if (!result) return null
  const points = (values: number[]): [number, number][] => values.map((v, i) => [i, v])
  return lines(
    [
      { name: 'wetted', values: points(result.rh), color: WATER, width: 2.2 },
      { name: 'twin', values: points(result.rh_twin), color: SOFT, dashed: true },
    ],
    { name: '', least: 0, most: 364, word: (v) => dayWord(v, from.value) },
  )
})
const ask = (): Promise<void> =>
  props.state.ask('wetting', null, { layer: layer.value, on: on.value, thickness_mm: thickness.value, dose_kg_m2: 1 })
const days = (r: Wetted): string => (r.days === null ? 'not within a year' : `${r.days.toFixed(0)} days`)
</script>

<template>
  <p class="soft">
    {{ show(1, 'water') }} are put into the inner {{ show(thickness, 'thickness') }} of a layer within an hour; the same
    wall without it is the twin. Back means within two points of RH of the twin, and stays so.
  </p>
  <form class="ask" @submit.prevent="ask">
    <label
      >into
      <select v-model="layer" aria-label="Layer that is wetted">
        <option v-for="l in layers" :key="l.id" :value="l.id">{{ l.name }}</option>
      </select></label
    >
    <label
      >on
      <select v-model="on" aria-label="Day of the wetting">
        <option v-for="s in starts" :key="s.value" :value="s.value">{{ s.word }}</option>
      </select></label
    >
    <label
      >over
      <select v-model.number="thickness" aria-label="Thickness that is wetted">
        <option v-for="mm in [5, 10, 20, 50]" :key="mm" :value="mm">{{ show(mm, 'thickness') }}</option>
      </select></label
    >
    <button class="pen solid" type="submit" :disabled="state.asking.value">Wet every option</button>
  </form>
  <template v-if="batch">
    <BatchState :batch="batch" :state="state" />
    <table class="ruled">
      <thead>
        <tr>
          <th>Option</th>
          <th>back after</th>
          <th>before the heating season</th>
          <th>in after 30 days</th>
          <th>90 days</th>
          <th>365 days</th>
          <th>before</th>
          <th>worst on the way</th>
          <th>drained</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="{ run, result } in rows"
          :key="run.id"
          :class="{ here: drawn?.run.id === run.id }"
          data-wetting
          @click="shown = run.id"
        >
          <td>
            <button class="plain" type="button" :disabled="!result" @click="shown = run.id">{{ run.label }}</button>
          </td>
          <template v-if="result">
            <td>{{ days(result) }}</td>
            <td>{{ result.back_before_heating ? 'yes' : 'no' }}</td>
            <td v-for="d in ['30', '90', '365']" :key="d">{{ show(result.left_g_m2[d], 'smallWater') }}</td>
            <td :class="{ soft: result.before_rh > 0.97 }">{{ Math.min(100, result.before_rh * 100).toFixed(0) }} %</td>
            <td>{{ Math.min(100, result.most_rh * 100).toFixed(0) }} %</td>
            <td>{{ result.drained_kg_m2 > 0.005 ? show(result.drained_kg_m2, 'water') : '–' }}</td>
          </template>
          <td v-else colspan="8" class="soft">{{ run.error || run.status }}</td>
        </tr>
      </tbody>
    </table>
    <figure v-if="chart && drawn">
      <figcaption>
        Relative humidity at the wetted plane of <b>{{ drawn.run.label }}</b>, day by day · dashed: the twin without the
        water
      </figcaption>
      <VChart class="chart" :option="chart" autoresize role="img" aria-label="RH of the wetted plane and of its twin" />
    </figure>
    <Teleport defer to="#tests-margin">
      <h2>Wetting test</h2>
      <p v-for="{ run, result } in rows" :key="run.id">
        <b>{{ run.label }}.</b> {{ result ? inText(result.sentence) : run.status }}
      </p>
    </Teleport>
  </template>
</template>

<style scoped>
@import './panel.css';
</style>
