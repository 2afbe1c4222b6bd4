<script setup lang="ts">
/** The numbers under a strip. A click on U opens where it comes from. */
import { computed, ref } from 'vue'
import { useProject } from '@/shared/project'
import { said, show, uName } from '@/shared/units'
import type { Schemas } from '@/api/client'
import LadderBars from './LadderBars.vue'
import type { Figures, RunState } from './useSheet'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'

const props = defineProps<{
  figures: Figures
  run: RunState
  tests: Schemas['TestWords']
  live: RunState['state']
  target: number | null | undefined
  asFound: boolean
}>()
const open = ref(false)
const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const t = computed(() => props.figures.thermal)
const point = computed(() => {
  const worst = props.run.verdict?.worst_point
  if (!worst) return { text: '–', stale: false }
  return {
    text: `${Math.min(100, worst.worst_month_rh * 100).toFixed(0)} % · ${worst.worst_month.slice(0, 3)}`,
    name: worst.name,
    stale: props.live !== 'current',
  }
})
const monthly = computed(() => {
  const c = props.figures.condensation
  if (!c) return { text: 'not for ground', why: 'ISO 13788 knows no soil' }
  if (!c.judged) return { text: 'does not judge this', why: `ISO 13788 ${c.why_not}` }
  if (c.peak_g_m2 < 1) return { text: 'no condensation', why: 'ISO 13788, monthly means' }
  const end = c.dries_each_year ? 'dries' : 'does not dry'
  return {
    text: `${show(c.peak_g_m2, 'smallWater')} ${months[c.peak_month]}, ${end}`,
    why: 'ISO 13788, monthly means, steady diffusion only',
  }
})
const missesTarget = computed(
  () => !props.asFound && !!props.target && !!t.value && t.value.u_effective > props.target + 0.005,
)
const project = useProject()
const layerName = (id: string): string =>
  project.materialName(props.figures.build_up.layers.find((l) => l.id === id)?.material ?? '')
const freeDrying = computed(() => {
  const drying = props.figures.free_drying
  if (!drying) return ''
  const where = `the middle of ${layerName(drying.layer_id)}`
  return drying.months === null
    ? `Free drying (ISO 13788): ${show(1, 'water')} in ${where} are not gone after ten years.`
    : `Free drying (ISO 13788): ${show(1, 'water')} in ${where} are gone after ${drying.months} months from October.`
})
const over = computed(() => props.figures.over_limits)
const wet = computed(() => props.tests.wetting ?? null)
const wetWhy = computed(() =>
  wet.value
    ? `${Math.round(wet.value.left_g / 10)} % left after a year, ${Math.round(wet.value.at_heating * 100)} % when heating begins; ` +
      (wet.value.passes ? 'less than half: passes' : 'half or more: does not pass')
    : 'not run: key T',
)
const liquid = computed(() => {
  const d = props.figures.drying
  return d ? [...new Set([...d.outward.liquid, ...d.inward.liquid])].join(', ') : ''
})
const profileColumns = computed<Column<(typeof props.figures.profile)[number]>[]>(() => [
  { name: 'plane', head: 'vapour profile: plane', text: (p) => `inner face of ${layerName(p.layer_id)}` },
  { name: 'outward', head: 'sd to outside', figure: true, text: (p) => show(p.outward_sd_m, 'sd') },
  { name: 'inward', head: 'sd to the room', figure: true, text: (p) => show(p.inward_sd_m, 'sd') },
])
</script>

<template>
  <dl class="figures">
    <div>
      <dt>{{ uName }}</dt>
      <dd data-figure="u">
        <ElButton v-if="t" link class="asked" :aria-expanded="open" title="Where it comes from" @click="open = !open">
          {{ show(t.u_effective, 'transmittance') }}
        </ElButton>
        <span v-else class="over" :title="figures.refused">refused</span>
        <small v-if="missesTarget" class="soft"> above target</small>
      </dd>
    </div>
    <div>
      <dt>room lost</dt>
      <dd data-figure="room" :class="{ over: over.some((o) => o.side === 'room') }">
        {{ asFound ? '–' : show(figures.room_lost_mm, 'thickness') }}
      </dd>
    </div>
    <div>
      <dt>grows outside</dt>
      <dd data-figure="outside" :class="{ over: over.some((o) => o.side === 'outside') }">
        {{ asFound ? '–' : show(figures.growth_outside_mm, 'thickness') }}
      </dd>
    </div>
    <div>
      <dt>worst point, month</dt>
      <dd :title="point.name" :class="{ soft: point.stale }">
        {{ point.text }}
      </dd>
    </div>
    <div>
      <dt>monthly check</dt>
      <dd :title="monthly.why">{{ monthly.text }}</dd>
    </div>
    <div>
      <dt>wetting test</dt>
      <dd data-figure="wetting" :class="{ soft: wet?.stale }" :title="wetWhy">
        {{ wet ? `stays ${wet.mean_stay_days.toFixed(0)} days` : '–' }}<small v-if="wet?.stale"> out of date</small>
      </dd>
    </div>
    <div>
      <dt>heat loss</dt>
      <dd data-figure="loss">{{ show(figures.loss_kwh_m2a, 'energyPerArea') }}</dd>
    </div>
    <p v-if="open && t" class="origin">
      Insulation R as labelled {{ show(t.r_insulation, 'resistance') }} · R<sub>T</sub> clear path
      {{ show(t.r_total_clear, 'resistance') }} · R effective {{ show(t.r_effective, 'resistance') }} (upper
      {{ show(t.upper_limit, 'resistance') }}, lower {{ show(t.lower_limit, 'resistance') }}, ISO 6946) · parallel paths
      {{ show(t.u_parallel_paths, 'transmittance') }}, isothermal planes
      {{ show(t.u_isothermal_planes, 'transmittance') }} · surfaces {{ show(t.external_surface, 'resistance') }},
      {{ show(t.internal_surface, 'resistance') }}.
      <template v-for="c in t.corrections" :key="c.layer_id + c.cause">
        {{ c.cause }} in {{ layerName(c.layer_id) }} add {{ show(c.delta_u, 'transmittance', 3) }}.
      </template>
      <template v-if="figures.outward">
        To the outside air {{ show(figures.outward.u_w_m2k, 'transmittance') }}: {{ said(figures.outward.words) }}.
      </template>
      <template v-if="figures.drying">
        Drying, April to September, from the {{ figures.drying.plane }} at 100 %: sd out
        {{ show(figures.drying.outward.sd_m, 'sd') }} to {{ figures.drying.outward.to }}, in
        {{ show(figures.drying.inward.sd_m, 'sd') }} to {{ figures.drying.inward.to
        }}{{ liquid ? `; ${liquid} dry it by liquid too, which is left out` : '' }}.
      </template>
      <template v-else>No drying figure: {{ figures.drying_left.why_not }}.</template>
      <template v-if="figures.free_drying"> {{ freeDrying }}</template>
      <template v-if="figures.condensation">
        f<sub>Rsi</sub> {{ figures.condensation.surface_factor.toFixed(2) }} as computed,
        <template v-if="figures.condensation.surface_factor_needed !== null"
          >{{ figures.condensation.surface_factor_needed.toFixed(2) }} needed in
          {{ months[figures.condensation.surface_month] }} (mould, 80 % at the surface).</template
        >
        <template v-else>none needed: the room is never warmer than outside.</template>
      </template>
    </p>
    <LadderBars v-if="open && figures.ladder" :ladder="figures.ladder" />
    <RuledTable
      v-if="open && figures.profile.length"
      class="origin profile"
      label="Vapour profile"
      :rows="figures.profile"
      :columns="profileColumns"
    />
    <p v-for="o in over" :key="o.metric" class="origin over">{{ said(o) }}</p>
    <p v-if="figures.refused" class="origin complaint">{{ figures.refused }}</p>
  </dl>
</template>

<style scoped>
.figures {
  display: grid;
  grid-template-columns:
    minmax(0, 1.35fr) minmax(0, 0.7fr) minmax(0, 0.95fr) minmax(0, 1.1fr) minmax(0, 1.4fr) minmax(0, 0.9fr)
    minmax(0, 1fr);
  gap: 0 12px;
  margin: 3px 0 0;
}
dt {
  color: var(--soft);
  font-size: 12.5px;
  line-height: 1.25;
}
dd {
  margin: 0;
  font-weight: 600;
  line-height: 1.3;
}
dd small {
  font-weight: 400;
}
.asked {
  padding: 0;
  font-weight: 600;
  text-decoration: underline dotted;
  text-underline-offset: 3px;
}
.profile {
  border-collapse: collapse;
}
.origin {
  grid-column: 1 / -1;
  font-size: 13px;
  margin: 4px 0;
  color: var(--soft);
}
</style>
