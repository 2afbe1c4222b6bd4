<script setup lang="ts">
/** The same build-up on all eight faces: which is worst, and in which month. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { said } from '@/shared/units'
import BatchState from './BatchState.vue'
import BriefTable from './BriefTable.vue'
import { briefOf, type Batches } from './useBatches'

const props = defineProps<{ sheet: Schemas['Sheet']; option: Schemas['OptionOut']; state: Batches }>()
const batch = computed(() => props.state.of('facings', props.option.id))
const rows = computed(() => (batch.value?.runs ?? []).map((run) => ({ run, result: briefOf(run) })))
const worst = computed(() => {
  const done = rows.value.filter((r) => r.result)
  return done.length
    ? done.reduce((best, r) => (r.result!.worst_month_rh > best.result!.worst_month_rh ? r : best))
    : undefined
})
/** A rose: how wet the plane gets by facing, 60 % in the middle, 100 % at the rim. */
function spoke(angle: number, rh: number): [number, number] {
  const radius = 12 + (Math.max(rh - 0.6, 0) / 0.4) * 88
  return [120 + radius * Math.sin((angle * Math.PI) / 180), 120 - radius * Math.cos((angle * Math.PI) / 180)]
}
const rose = computed(() =>
  rows.value
    .filter((r) => r.result)
    .map((r) => ({
      label: r.run.label,
      at: spoke(r.run.facing_deg ?? 0, Math.min(r.result!.worst_month_rh, 1)),
      angle: r.run.facing_deg ?? 0,
    })),
)
</script>

<template>
  <p class="soft">
    The build-up of this option on every face of the compass, three years each, everything else as it is here.
  </p>
  <div class="ask">
    <ElButton type="primary" :disabled="state.asking.value" @click="state.ask('facings', option.id)">
      Run the eight faces
    </ElButton>
  </div>
  <template v-if="batch">
    <BatchState :batch="batch" :state="state" />
    <div class="two">
      <svg width="240" height="240" role="img" aria-label="RH of the worst month by facing">
        <circle
          v-for="rh in [0.7, 0.8, 0.9, 1]"
          :key="rh"
          cx="120"
          cy="120"
          :r="12 + ((rh - 0.6) / 0.4) * 88"
          class="ring"
        />
        <text v-for="rh in [0.8, 1]" :key="rh" x="124" :y="120 - 12 - ((rh - 0.6) / 0.4) * 88 + 11">
          {{ rh * 100 }} %
        </text>
        <polygon v-if="rose.length === 8" :points="rose.map((r) => r.at.join(',')).join(' ')" class="wet" />
        <g v-for="r in rose" :key="r.label">
          <circle :cx="r.at[0]" :cy="r.at[1]" r="4" :class="{ worst: r.label === worst?.run.label }" class="dot" />
          <text
            :x="120 + 112 * Math.sin((r.angle * Math.PI) / 180)"
            :y="124 - 112 * Math.cos((r.angle * Math.PI) / 180)"
            text-anchor="middle"
          >
            {{ r.label }}
          </text>
        </g>
      </svg>
      <BriefTable :batch="batch" heading="Face" :worst="worst?.run.id" />
    </div>
    <Teleport defer to="#tests-margin">
      <h2>Worst face</h2>
      <p v-if="worst?.result">
        {{ worst.run.label }}, in {{ worst.result.worst_month }}:
        {{ Math.min(100, worst.result.worst_month_rh * 100).toFixed(0) }} % at {{ worst.result.plane }}.
        {{ said(worst.result.sentence) }}
      </p>
    </Teleport>
  </template>
</template>

<style scoped>
@import './panel.css';
.two svg {
  flex: none;
}
.two {
  display: flex;
  gap: 24px;
  align-items: flex-start;
}
.ring {
  fill: none;
  stroke: var(--rule);
}
.wet {
  fill: var(--water);
  fill-opacity: 0.18;
  stroke: var(--water);
  stroke-width: 1.6;
}
.dot {
  fill: var(--sheet);
  stroke: var(--water);
  stroke-width: 1.6;
}
.dot.worst {
  fill: var(--water);
}
text {
  font-size: 12px;
  fill: var(--soft);
}
</style>
