<script setup lang="ts">
/** What heats the building and what it loses over a year by the hour: need, peak, rooms and cold spaces, fresh air, bills. */
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, takeAs, type Schemas } from '@/api/client'
import HeatTabs from '@/shared/HeatTabs.vue'
import { range } from '@/shared/money'
import { useAct, useAnswer } from '@/shared/query'
import PairBars from '@/shared/PairBars.vue'
import RuledTable from '@/shared/RuledTable.vue'
import SheetPage from '@/shared/SheetPage.vue'
import WhichFigures from '@/shared/WhichFigures.vue'
import type { Column } from '@/shared/table'
import { bare, said, show, unitOf } from '@/shared/units'
import EnergyForm from './EnergyForm.vue'
import FootingPanel from './FootingPanel.vue'
import SummerPanel from './SummerPanel.vue'
import SpaceChart from './SpaceChart.vue'

type Out = Schemas['BalanceOut']
const route = useRoute()
const projectId = computed(() => Number(route.params.project))
const answer = useAnswer(
  () => ['balance', projectId.value],
  () =>
    takeAs<Out>(api.GET('/api/projects/{project_id}/balance', { params: { path: { project_id: projectId.value } } })),
  { fresh: true },
)
const { data, complaint: unread } = answer
const schemes = useAnswer(
  () => ['schemes', projectId.value],
  () =>
    takeAs<Schemas['SchemesOut']>(
      api.GET('/api/projects/{project_id}/schemes', { params: { path: { project_id: projectId.value } } }),
    ),
)
const { complaint: refused, busy, act } = useAct()
const complaint = computed(() => refused.value || unread.value)
const keepEnergy = (energy: Schemas['Energy']): Promise<boolean> =>
  act(async () => {
    answer.put(
      await takeAs<Out>(
        api.PUT('/api/projects/{project_id}/energy', {
          params: { path: { project_id: projectId.value } },
          body: { energy },
        }),
      ),
    )
  })

interface Line {
  name: string
  before: number | null
  after: number | null
}
const lines = computed<Line[]>(() => {
  const found = new Map<string, Line>()
  const add = (items: Schemas['Item'][], which: 'before' | 'after'): void => {
    for (const item of items) {
      const key = item.key || item.name
      const line = found.get(key) ?? { name: item.name, before: null, after: null }
      line[which] = (line[which] ?? 0) + item.kwh
      found.set(key, line)
    }
  }
  add(data.value?.before?.items ?? [], 'before')
  add(data.value?.after?.items ?? [], 'after')
  return [...found.values()].sort((a, b) => (a.before ?? a.after ?? 0) - (b.before ?? b.after ?? 0))
})
const most = computed(() =>
  Math.max(1, ...lines.value.flatMap((l) => [Math.abs(l.before ?? 0), Math.abs(l.after ?? 0)])),
)
const columns = computed<Column<Line>[]>(() => [
  { name: 'name', head: 'Into the rooms, over the year', text: (l) => l.name },
  { name: 'bar', mark: 'bars' },
  { name: 'before', head: `before, ${unitOf('energy').unit}`, figure: true, text: (l) => bare(l.before, 'energy') },
  { name: 'after', head: 'after', figure: true, mark: 'strong', text: (l) => bare(l.after, 'energy') },
])
interface Figure {
  name: string
  of: (b: Schemas['Balance']) => string
}
const yearly = (which: 'monthly_before' | 'monthly_after'): number | null =>
  data.value?.[which]?.need_kwh.reduce((sum, kwh) => sum + kwh, 0) ?? null
const FIGURES: Figure[] = [
  { name: 'Heat needed', of: (b) => show(b.heating_kwh, 'energy', 0) },
  {
    name: 'The same by months, to check',
    of: (b) => show(b === data.value?.before ? yearly('monthly_before') : yearly('monthly_after'), 'energy', 0),
  },
  { name: 'Most heat at once', of: (b) => `${show(b.heating_peak_w, 'power', 1)}, ${b.peak_day}` },
  {
    name: 'Cooling, of it drying',
    of: (b) =>
      b.cooling_kwh < 1
        ? 'none'
        : `${show(b.cooling_kwh, 'energy', 0)} and ${show(b.latent_kwh, 'energy', 0)}; peak ${show(b.cooling_peak_w, 'power', 1)}`,
  },
  { name: 'Hours too warm', of: (b) => `${Math.round(b.warm_h)} over ${show(b.warm_c, 'temperature', 0)}` },
  {
    name: 'Fresh air, heating season',
    of: (b) => `${show(b.fresh_m3_h, 'flow', 0)}, ${show(b.needed_m3_h, 'flow', 0)} needed`,
  },
  { name: 'Rooms, coldest month', of: (b) => `${Math.round(b.coldest_rh * 100)} % RH in ${b.coldest_month}` },
  { name: 'Hours with a wet pane', of: (b) => `${Math.round(b.pane_h)}` },
]
const figureColumns: Column<Figure>[] = [
  { name: 'name', head: '' },
  { name: 'before', head: 'as found', text: (f) => (data.value?.before ? f.of(data.value.before) : '–') },
  { name: 'after', head: 'after', mark: 'strong', text: (f) => (data.value?.after ? f.of(data.value.after) : '–') },
]
interface Space {
  zone: Schemas['SpaceYear'] | undefined
  was: Schemas['SpaceYear'] | undefined
}
const spaces = computed<Space[]>(() => {
  const after = data.value?.after?.zones ?? []
  const before = data.value?.before?.zones ?? []
  return [...new Set([...before, ...after].map((z) => z.id))].map((id) => ({
    zone: after.find((z) => z.id === id),
    was: before.find((z) => z.id === id),
  }))
})
const pair = (s: Space, of: (z: Schemas['SpaceYear']) => string): string =>
  `${s.was ? of(s.was) : '–'} → ${s.zone ? of(s.zone) : '–'}`
const spaceColumns: Column<Space>[] = [
  { name: 'name', head: 'Air of', text: (s) => (s.zone ?? s.was)!.name },
  { name: 'cold', head: 'January', figure: true, text: (s) => pair(s, (z) => show(z.celsius[0], 'temperature', 0)) },
  { name: 'warm', head: 'July', figure: true, text: (s) => pair(s, (z) => show(z.celsius[6], 'temperature', 0)) },
  { name: 'rh', head: 'RH in January', figure: true, text: (s) => pair(s, (z) => `${Math.round(z.rh[0]! * 100)} %`) },
  { name: 'damp', head: 'dampest', text: (s) => pair(s, (z) => z.dampest) },
  { name: 'over', head: 'hours over 95 %', figure: true, text: (s) => pair(s, (z) => `${Math.round(z.over_95_h)}`) },
  {
    name: 'water',
    head: 'water under its roof, kg',
    figure: true,
    text: (s) => pair(s, (z) => z.condensed_kg.toFixed(1)),
  },
]
interface Month {
  name: string
  at: number
}
const MONTH_NAMES = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const months = computed<Month[]>(() => (data.value?.monthly_after ? MONTH_NAMES.map((name, at) => ({ name, at })) : []))
const monthly =
  (which: 'monthly_before' | 'monthly_after', of: 'losses_kwh' | 'gains_kwh' | 'need_kwh') => (m: Month) =>
    bare(data.value?.[which]?.[of][m.at] ?? null, 'energy')
const monthColumns = computed<Column<Month>[]>(() => [
  { name: 'name', head: `After, ${unitOf('energy').unit}`, text: (m) => m.name },
  { name: 'lost', head: 'lost', figure: true, text: monthly('monthly_after', 'losses_kwh') },
  { name: 'gained', head: 'gains', figure: true, text: monthly('monthly_after', 'gains_kwh') },
  {
    name: 'eta',
    head: 'of them used',
    figure: true,
    text: (m) => `${Math.round((data.value?.monthly_after?.eta[m.at] ?? 0) * 100)} %`,
  },
  { name: 'need', head: 'needed', figure: true, mark: 'strong', text: monthly('monthly_after', 'need_kwh') },
  {
    name: 'hourly',
    head: 'by the hour',
    figure: true,
    text: (m) => bare(data.value?.after?.heating_monthly_kwh[m.at] ?? null, 'energy'),
  },
  { name: 'before', head: 'as found, by months', figure: true, text: monthly('monthly_before', 'need_kwh') },
])
const saved = computed(() =>
  data.value?.before && data.value.after ? data.value.before.heating_kwh - data.value.after.heating_kwh : null,
)
const cost = computed(() => {
  const shown = schemes.data.value?.schemes.find((s) => s.id === schemes.data.value?.shown_id)
  return shown && shown.cost_high > 0 && saved.value && saved.value > 0
    ? `${shown.unpriced ? 'at least ' : ''}${range(shown.cost_low / saved.value, shown.cost_high / saved.value, 2)} ${shown.currency}`
    : ''
})
const money = computed(() => data.value?.energy.currency ?? '')
</script>

<template>
  <SheetPage title="Balance">
    <HeatTabs :project-id="projectId" view="balance" title="Balance of the building" />
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <p v-if="!data && !complaint" class="soft">Running both years by the hour …</p>
    <p v-if="data?.refused" class="complaint">{{ data.refused }}</p>
    <template v-if="data?.before && data.after">
      <p v-if="data.left_out.length" class="complaint">
        Not in it, as nothing is stated of them: {{ data.left_out.join(', ') }}.
      </p>
      <p v-if="data.air_refused" class="complaint">Air by leaks is not in it: {{ data.air_refused }}.</p>
      <div class="two">
        <RuledTable label="Needs before and after" :rows="FIGURES" :columns="figureColumns">
          <template #name="{ row }"
            ><span class="soft">{{ row.name }}</span></template
          >
        </RuledTable>
        <SpaceChart :before="data.before.zones" :after="data.after.zones" />
      </div>
      <h2>The spaces</h2>
      <RuledTable label="Spaces before and after" :rows="spaces" :columns="spaceColumns" />
      <p v-if="data.assumed?.length" class="soft" data-taken>
        Taken, since nobody stated it: {{ data.assumed.map((one) => said(one)).join(' ') }}
      </p>
      <h2>Where the heat goes, and what brings some</h2>
      <RuledTable class="balance" label="Balance by element" :rows="lines" :columns="columns" sums>
        <template #bar="{ row }">
          <PairBars :before="row.before" :after="row.after" :most="most" signed />
        </template>
        <template #sum-name>Heat that has to be brought</template>
        <template #sum-before>{{ bare(data.before.heating_kwh, 'energy') }}</template>
        <template #sum-after>{{ bare(data.after.heating_kwh, 'energy') }}</template>
      </RuledTable>
      <EnergyForm
        :key="JSON.stringify(data.energy)"
        :energy="data.energy"
        :busy="busy"
        :cooled="!!data.running?.cooling"
        @keep="keepEnergy"
      />
      <p v-if="data.no_fit" class="complaint">{{ data.no_fit }}</p>
      <p v-if="data.fit" data-fit>
        {{ said(data.fit.words) }} The line: {{ show(data.fit.base_kwh_month, 'energy', 0) }} a month whatever the
        weather, and {{ data.fit.slope_kwh_kd.toFixed(1) }} ± {{ data.fit.half_width.toFixed(1) }} kWh for each degree
        day; r² {{ data.fit.r_squared.toFixed(2) }}.
      </p>
      <SummerPanel :project-id="projectId" :warm-c="data.after.warm_c" />
      <FootingPanel :project-id="projectId" />
      <details class="method">
        <summary>How it is reckoned</summary>
        <p>{{ data.method }}</p>
        <p>
          By months, to check: losses by U, b and ISO 13370, gains with their utilisation factor (ISO 52016-1, monthly
          method). It knows no sun on walls and roofs and takes cold spaces by their factor b, so that some percent more
          is usual; more than a fifth apart, and something here needs the hours, or a figure is wrong.
          <template v-if="data.monthly_before && data.monthly_after">
            Time constant {{ Math.round(data.monthly_before.tau_h) }} →
            {{ Math.round(data.monthly_after.tau_h) }} hours.
          </template>
        </p>
        <RuledTable v-if="months.length" label="Months" class="months" :rows="months" :columns="monthColumns" />
        <p>
          Gains, losses and needs close to {{ Math.max(data.before.closure, data.after.closure).toExponential(0) }} of
          the turnover, water to {{ Math.max(data.before.water_closure, data.after.water_closure).toExponential(0) }}.
        </p>
      </details>
    </template>
    <template #margin>
      <template v-if="data?.before && data.after">
        <h2 class="big">
          {{ bare(data.before.heating_kwh, 'energy') }} → {{ show(data.after.heating_kwh, 'energy', 0) }}
        </h2>
        <p v-if="saved !== null">
          Heat needed in a year of this climate, rooms at {{ show(data.set_before_c, 'temperature', 1)
          }}{{
            data.set_after_c !== data.set_before_c ? ` and ${show(data.set_after_c, 'temperature', 1)} after` : ''
          }}.
          <template v-if="data.set_after_c === data.set_before_c"
            >People turn it up in warmer rooms: state the set-point after under Air.</template
          >
        </p>
        <p v-if="data.aim" :class="{ over: data.aim.met === false }" data-aim>{{ said(data.aim.words) }}</p>
        <template v-if="data.warnings.length">
          <h3>Before any sealing</h3>
          <p v-for="w in data.warnings" :key="w.metric" class="over" data-warning>{{ said(w) }}</p>
        </template>
        <template v-if="data.running">
          <h3>Running it</h3>
          <p>
            As found {{ show(data.running.fuel_before_kwh, 'energy', 0) }} of {{ data.energy.carrier || 'fuel'
            }}<template v-if="data.running.cost_before !== null"
              >, {{ Math.round(data.running.cost_before) }} {{ money }}</template
            ><template v-if="data.running.carbon_before_kg !== null"
              >, {{ (data.running.carbon_before_kg / 1000).toFixed(1) }} t CO₂</template
            >
            a year; after {{ show(data.running.fuel_after_kwh, 'energy', 0) }} of
            {{
              data.energy.carrier_after ||
              (data.running.another_plant ? 'what heats it then' : data.energy.carrier || 'fuel')
            }}<template v-if="data.running.cost_after !== null"
              >, {{ Math.round(data.running.cost_after) }} {{ money }}</template
            ><template v-if="data.running.carbon_after_kg !== null"
              >, {{ (data.running.carbon_after_kg / 1000).toFixed(1) }} t CO₂</template
            >.
          </p>
          <p v-if="data.running.another_plant && data.running.cost_after === null" class="soft">
            Another plant heats it after the works: name it and its price below.
          </p>
          <p v-if="data.running.cooling" data-cooling>
            Cooling takes {{ show(data.running.cooling.before_kwh, 'energy', 0)
            }}<template v-if="data.running.cooling.cost_before !== null"
              >, {{ Math.round(data.running.cooling.cost_before) }} {{ money }}</template
            >
            of electricity as found and {{ show(data.running.cooling.after_kwh, 'energy', 0)
            }}<template v-if="data.running.cooling.cost_after !== null"
              >, {{ Math.round(data.running.cooling.cost_after) }} {{ money }}</template
            ><template v-if="data.running.cooling.carbon_after_kg !== null"
              >, {{ (data.running.cooling.carbon_after_kg / 1000).toFixed(1) }} t CO₂</template
            >
            after.<template v-if="data.running.cooling.cost_after === null"> Its price is stated below.</template>
          </p>
          <p v-if="cost">The scheme costs {{ cost }} for each kWh that it saves in a year.</p>
        </template>
        <h3>For the heating designer</h3>
        <p class="soft">
          The peak is of the climate's own coldest hours with the mass of the walls; no reheat, no margin. Room by room:
          <RouterLink :to="{ name: 'rooms', params: { project: projectId } }">Rooms</RouterLink>. The designer decides
          the load.
        </p>
      </template>
      <WhichFigures :project-id="projectId" here="balance" />
    </template>
  </SheetPage>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(380px, 1fr) minmax(300px, 420px);
  gap: 22px;
  margin: 8px 0 14px;
}
.balance :deep(.bars) {
  width: 34%;
}
:deep(.strong) {
  font-weight: 600;
}
.two ~ h2 {
  margin: 18px 0 4px;
}
.method {
  margin-top: 14px;
  max-width: 760px;
}
.big {
  margin-bottom: 4px;
}
@media (max-width: 1100px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
