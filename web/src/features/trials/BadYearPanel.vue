<script setup lang="ts">
/** The usual year against the bad one. */
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { Schemas } from '@/api/client'
import { SOFT, WATER } from '@/drawing/chart'
import { said } from '@/shared/units'
import BatchState from './BatchState.vue'
import BriefTable from './BriefTable.vue'
import { dayOfYear, dayWord, lines } from './chart'
import { useChoices } from './useChoices'
import { briefOf, type Batches } from './useBatches'

const props = defineProps<{ sheet: Schemas['Sheet']; option: Schemas['OptionOut']; state: Batches }>()
const choices = useChoices()
const batch = computed(() => props.state.of('bad year', props.option.id))
const rows = computed(() => (batch.value?.runs ?? []).map((run) => ({ run, result: briefOf(run) })))
const both = computed(() => rows.value.map((r) => r.result))
const words = computed(() => {
  const [usual, bad] = both.value
  if (!usual || !bad) return ''
  if (usual.state === 'over a limit') return 'Over a limit in the usual year already.'
  return bad.state === 'over a limit' ? 'Marginal: over a limit only in the bad year.' : 'It stands the bad year.'
})
const from = dayOfYear(props.sheet.conditions.works_on)
const chart = computed(() => {
  const [usual, bad] = both.value
  if (!usual || !bad) return null
  const points = (values: number[]): [number, number][] => values.map((v, i) => [i, v])
  return lines(
    [
      { name: 'bad year', values: points(bad.daily_rh), color: WATER, width: 2.2 },
      { name: 'usual year', values: points(usual.daily_rh), color: SOFT, dashed: true },
    ],
    { name: '', least: 0, most: 364, word: (v) => dayWord(v, from) },
  )
})
</script>

<template>
  <p class="soft">
    {{ choices ? said(choices.bad_year) : '' }}. Three such years one after another; the figures are ours and stand for
    about one year in ten.
  </p>
  <div class="ask">
    <ElButton type="primary" :disabled="state.asking.value" @click="state.ask('bad year', option.id)">
      Run the bad year
    </ElButton>
  </div>
  <template v-if="batch">
    <BatchState :batch="batch" :state="state" />
    <BriefTable :batch="batch" heading="Year" />
    <figure v-if="chart">
      <figcaption>Relative humidity at {{ both[0]?.plane }}, third year · dashed: usual year</figcaption>
      <VChart class="chart" :option="chart" autoresize role="img" aria-label="RH in the usual and in the bad year" />
    </figure>
    <Teleport defer to="#tests-margin">
      <h2>Bad year</h2>
      <p>
        {{ words }} <template v-if="both[1]">{{ said(both[1].sentence) }}</template>
      </p>
    </Teleport>
  </template>
</template>

<style scoped>
@import './panel.css';
</style>
