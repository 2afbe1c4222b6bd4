<script setup lang="ts">
/** RH of each space by month: thin as found, thick after. */
import { computed, ref, watchEffect } from 'vue'
import type { Schemas } from '@/api/client'
import { unitOf } from '@/shared/units'
import ChoiceBar from '@/shared/ChoiceBar.vue'

const props = defineProps<{ before: readonly Schemas['SpaceYear'][]; after: readonly Schemas['SpaceYear'][] }>()
const WIDE = 420
const HIGH = 210
const MONTHS = ['J', 'F', 'M', 'A', 'M', 'J', 'J', 'A', 'S', 'O', 'N', 'D']
const what = ref<'rh' | 'celsius'>('rh')
const which = ref('')
const ids = computed(() => [...new Set([...props.before, ...props.after].map((z) => z.id))])
watchEffect(() => {
  if (!ids.value.includes(which.value)) which.value = ids.value[0] ?? ''
})
const nameOf = (id: string): string => [...props.after, ...props.before].find((z) => z.id === id)?.name ?? id
const of = (zones: readonly Schemas['SpaceYear'][]): number[] => {
  const zone = zones.find((z) => z.id === which.value)
  if (!zone) return []
  return what.value === 'rh' ? zone.rh.map((v) => v * 100) : zone.celsius.map((c) => unitOf('temperature').to(c))
}
const bounds = computed<[number, number]>(() => {
  if (what.value === 'rh') return [0, 100]
  const all = [...of(props.before), ...of(props.after)]
  return [Math.floor((Math.min(...all) - 1) / 5) * 5, Math.ceil((Math.max(...all) + 1) / 5) * 5]
})
const x = (i: number): number => 40 + (i / 11) * (WIDE - 56)
const y = (v: number): number => HIGH - 24 - ((v - bounds.value[0]) / (bounds.value[1] - bounds.value[0])) * (HIGH - 40)
const path = (values: number[]): string =>
  values.map((v, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(v).toFixed(1)}`).join('')
const ticks = computed(() =>
  [0, 1, 2, 3, 4].map((i) => bounds.value[0] + ((bounds.value[1] - bounds.value[0]) * i) / 4),
)
const words = computed(
  () =>
    `${what.value === 'rh' ? 'Relative humidity' : 'Temperature'} of the ${nameOf(which.value)} by month; as found ${of(
      props.before,
    )
      .map((v) => v.toFixed(0))
      .join(', ')}; after ${of(props.after)
      .map((v) => v.toFixed(0))
      .join(', ')}`,
)
</script>

<template>
  <div>
    <div class="pick">
      <ElSelect v-model="which" aria-label="Space of the chart" size="small" style="width: 190px">
        <ElOption v-for="id in ids" :key="id" :value="id" :label="nameOf(id)" />
      </ElSelect>
      <ChoiceBar
        v-model="what"
        label="What the chart shows"
        :options="[
          ['rh', 'RH'],
          ['celsius', 'temperature'],
        ]"
      />
    </div>
    <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" role="img" :aria-label="words">
      <g v-for="t in ticks" :key="t">
        <line x1="40" :x2="WIDE - 16" :y1="y(t)" :y2="y(t)" class="rule" />
        <text x="34" :y="y(t) + 4" text-anchor="end">{{ t.toFixed(0) }} {{ what === 'rh' ? '%' : '°' }}</text>
      </g>
      <text v-for="(m, i) in MONTHS" :key="i" :x="x(i)" :y="HIGH - 6" text-anchor="middle">{{ m }}</text>
      <path :d="path(of(before))" class="before" />
      <path :d="path(of(after))" class="after" />
    </svg>
    <p class="soft">Thin dashes as found, thick after; means of the months.</p>
  </div>
</template>

<style scoped>
.pick {
  display: flex;
  gap: 10px;
  align-items: center;
}
svg {
  width: 100%;
  display: block;
}
text {
  fill: var(--soft);
  font-size: 11px;
}
.rule {
  stroke: var(--rule);
}
.before {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.3;
  stroke-dasharray: 5 3;
}
.after {
  fill: none;
  stroke: var(--water);
  stroke-width: 2.6;
}
</style>
