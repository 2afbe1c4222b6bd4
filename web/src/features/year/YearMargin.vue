<script setup lang="ts">
/** Verdict, driver, what the pointer shows, how sure it is. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { bare, said, show, unitOf } from '@/shared/units'
import LimitsDialog from './LimitsDialog.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'

const props = defineProps<{
  years: Schemas['Year'][]
  moments: (Schemas['Moment'] | null)[]
  watched: string
  stale: boolean
  projectId: number
}>()
defineEmits<{ limits: [] }>()
const limitsOpen = ref(false)
const year = computed(() => props.years[props.years.length - 1]!)
const moment = computed(() => props.moments[props.moments.length - 1] ?? null)
const verdict = computed(() => year.value.state.verdict ?? null)
const balances = computed(() => year.value.state.balances ?? null)
const shown = computed(() => Object.entries(moment.value?.planes ?? {}))
const profile = computed(() => {
  const m = moment.value
  if (!m) return null
  const depth = Math.max(...m.depth_mm)
  const low = Math.min(...m.temperature_c, m.outside_c) - 1
  const high = Math.max(...m.temperature_c) + 1
  const x = (mm: number): number => 4 + (mm / depth) * 212
  const line = (values: number[], y: (v: number) => number): string =>
    values.map((v, i) => `${i ? 'L' : 'M'}${x(m.depth_mm[i]!).toFixed(1)} ${y(v).toFixed(1)}`).join('')
  return {
    rh: line(m.rh, (v) => 84 - Math.min(v, 1) * 78),
    t: line(m.temperature_c, (v) => 84 - ((v - low) / (high - low)) * 78),
    edges: year.value.edges.map((e) => x(e.from_mm)),
    low,
    high,
  }
})
const planesOpen = ref(false)
type Point = Schemas['Point']
/** Judged and reported planes in one table, the wettest first: nothing that is only reported is hidden. */
const points = computed(() => [...(verdict.value?.points ?? [])].sort((a, b) => b.worst_month_rh - a.worst_month_rh))
const planeColumns: Column<Point>[] = [
  { name: 'plane', head: 'plane', text: (p) => (p.judged ? p.name : `${p.name} (reported: ${p.why_not})`) },
  {
    name: 'rh',
    head: '% RH',
    figure: true,
    text: (p) => `${Math.round(p.worst_month_rh * 100)} ${p.worst_month.slice(0, 3)}`,
  },
  { name: 'mould', head: 'mould', figure: true, text: (p) => p.mould.toFixed(1) },
]
const asFound = computed(() => year.value.role === 'as_found')
const accountColumns = computed<Column<(typeof year.value.account.rows)[number]>[]>(() => [
  { name: 'name', head: unitOf('water').unit, text: (row) => row.name },
  {
    name: 'gain',
    head: 'in',
    figure: true,
    text: (row) => (row.gain_kg_m2 > 5e-4 ? bare(row.gain_kg_m2, 'water', 2) : ''),
  },
  {
    name: 'loss',
    head: 'out',
    figure: true,
    text: (row) => (row.loss_kg_m2 > 5e-4 ? bare(row.loss_kg_m2, 'water', 2) : ''),
  },
])
</script>

<template>
  <p v-if="stale" class="over" data-stale>
    Out of date: the layers or the survey changed since these years were run. Run them again on the options sheet.
  </p>
  <p v-if="year.state.older" class="over" data-older>
    Computed with an older solver or older criteria: run the years again on the options sheet.
  </p>
  <template v-if="verdict">
    <h2>
      {{ stale ? 'Was: ' : '' }}{{ asFound ? `As found: ${said(verdict.as_found_words)}` : said(verdict.headline) }}
    </h2>
    <p>
      {{ said(verdict.worst?.sentence) }}
      <template v-if="verdict.second">{{ said(verdict.second.sentence) }}</template>
    </p>
    <p>{{ said(verdict.drying_in) }}</p>
    <h3>Driver</h3>
    <p>{{ said(verdict.driver) }}</p>
    <ElButton link :aria-expanded="planesOpen" data-planes @click="planesOpen = !planesOpen">
      {{ planesOpen ? 'Hide the planes' : `All ${points.length} planes, judged and reported` }}
    </ElButton>
    <RuledTable v-if="planesOpen" label="Planes, judged and reported" :rows="points" :columns="planeColumns" />
  </template>
  <template v-if="moment">
    <h3>At the pointer</h3>
    <p class="when" data-moment>
      {{ moment.date }} · {{ show(moment.outside_c, 'temperature') }}, {{ Math.round(moment.outside_rh * 100) }} %
      outside,
      <template v-if="moment.rain_mm > 0"
        >rain {{ show(moment.rain_mm, 'rain', 1) }}, {{ show(moment.driven_rain_mm, 'rain', 1) }} on the face,</template
      >
      <template v-else>no rain,</template>
      wind {{ moment.wind_from }} {{ show(moment.wind_m_s, 'speed') }}
    </p>
    <svg
      v-if="profile"
      width="222"
      height="104"
      role="img"
      aria-label="Profile of relative humidity and temperature, outside to inside"
    >
      <line v-for="(x, i) in profile.edges" :key="i" :x1="x" :x2="x" y1="4" y2="86" class="edge" />
      <rect x="4" y="4" width="212" height="82" class="frame" />
      <path :d="profile.rh" class="rh" />
      <path :d="profile.t" class="t" />
      <text x="4" y="100">outside</text>
      <text x="216" y="100" text-anchor="end">room</text>
    </svg>
    <p class="soft legend">
      <span class="rhkey">RH 0 to 100 %</span>,
      <span class="tkey"
        >T
        {{ profile ? `${show(profile.low, 'temperature', 0)} to ${show(profile.high, 'temperature', 0)}` : '' }}</span
      >
    </p>
    <ul>
      <li v-for="[name, at] in shown" :key="name" :class="{ here: name === watched }">
        {{ name }} <b>{{ Math.min(100, at.rh * 100).toFixed(0) }} %</b>, {{ show(at.temperature_c, 'temperature') }}
      </li>
    </ul>
  </template>
  <h3>Water in a year</h3>
  <RuledTable class="account" label="Water account" sums :rows="year.account.rows" :columns="accountColumns">
    <template #sum-name>kept in the settled year</template>
    <template #sum-loss>{{ show(year.account.kept_kg_m2, 'water', 3) }}</template>
  </RuledTable>
  <p class="soft">Heat in through the room face: {{ show(year.account.heat_kwh_m2, 'energyPerArea') }}.</p>
  <h3>How sure</h3>
  <template v-if="verdict">
    <p v-for="note in verdict.notes" :key="note.metric">{{ said(note) }}</p>
    <p>Not judged: {{ verdict.not_judged.map(said).join(', ') }}.</p>
    <details>
      <summary>Every criterion, the worst first</summary>
      <p v-for="j in verdict.judgements" :key="j.criterion + j.place + j.phase" class="soft">
        <b>{{ j.criterion }}, {{ j.phase }}, {{ j.state }}.</b> {{ said(j.sentence) }}
      </p>
    </details>
  </template>
  <p>
    <ElButton link data-limits @click="limitsOpen = true">The limits and why</ElButton>
  </p>
  <LimitsDialog v-model="limitsOpen" :project-id="projectId" @changed="$emit('limits')" />
  <p v-if="balances" class="soft" data-balance>
    Water closes to {{ balances.water_closure.toExponential(0) }}, energy to
    {{ balances.energy_closure.toExponential(0) }} of the turnover. {{ balances.passes }} years in
    {{ balances.seconds.toFixed(1) }} s, {{ balances.refused_steps }} steps cut.
  </p>
  <p>
    <a :href="`/api/runs/${year.run_id}/hourly.csv`" download>Hourly results, CSV</a><br />
    <a :href="`/api/options/${year.option_id}/case.json`" download>Case file, JSON</a>
  </p>
</template>

<style scoped>
h2 {
  margin-bottom: 4px;
}
.frame {
  fill: none;
  stroke: var(--ink);
}
.edge {
  stroke: var(--rule);
}
.rh {
  fill: none;
  stroke: var(--water);
  stroke-width: 1.8;
}
.t {
  fill: none;
  stroke: var(--heat);
  stroke-width: 1.5;
  stroke-dasharray: 5 2;
}
.rhkey {
  color: var(--water);
}
.tkey {
  color: var(--heat);
}
text {
  font-size: 12px;
  fill: var(--soft);
}
ul {
  list-style: none;
  padding: 0;
  margin: 0 0 12px;
  font-size: 13px;
}
.here {
  font-weight: 600;
}
.account {
  font-size: 13px;
}
.account :deep(.el-table__cell) {
  padding: 1px 0;
  border: 0;
}
.legend {
  margin-top: 0;
}
</style>
