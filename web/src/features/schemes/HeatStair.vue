<script setup lang="ts">
/** The heat that is left after each phase, as a stair going down; the same in words. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { said, show } from '@/shared/units'

const props = defineProps<{ before: number; phases: Schemas['PhaseOut'][] }>()
const steps = computed(() => [
  { name: 'as found', w_k: props.before, years: null as number | null, elements: [] as string[] },
  ...props.phases.map((p) => ({ name: p.name, w_k: p.w_k, years: p.years_after ?? null, elements: p.elements })),
])
const HIGH = 120
const WIDE = 150
const y = (w_k: number): number => 22 + (1 - w_k / Math.max(props.before, 1)) * HIGH
const words = computed(() => steps.value.map((s) => `${s.name} ${show(s.w_k, 'coefficient')}`).join(', then '))
const cut = (name: string): string => (name.length > 22 ? `${name.slice(0, 21)}…` : name)
const drying = computed(() => props.phases.filter((p) => p.least_drying))
</script>

<template>
  <svg :width="steps.length * WIDE + 20" :height="HIGH + 62" role="img" :aria-label="`Heat loss: ${words}`">
    <g v-for="(s, i) in steps" :key="i">
      <rect :x="i * WIDE + 0.5" :y="y(s.w_k)" :width="WIDE" :height="HIGH + 22 - y(s.w_k)" class="step" />
      <text :x="i * WIDE + 8" :y="y(s.w_k) - 6" class="figure">{{ show(s.w_k, 'coefficient') }}</text>
      <text :x="i * WIDE + 8" :y="HIGH + 38">{{ cut(s.name) }}</text>
      <text v-if="s.years" :x="i * WIDE + 8" :y="HIGH + 54" class="soft">
        then {{ s.years === 1 ? 'a year' : `${s.years} years` }}
      </text>
      <title>{{ s.name }}: {{ s.elements.join(', ') || 'nothing is put in it' }}</title>
    </g>
    <line x1="0" :x2="steps.length * WIDE" :y1="HIGH + 22.5" :y2="HIGH + 22.5" class="ground" />
  </svg>
  <ul v-if="drying.length" class="drying">
    <li v-for="p in drying" :key="p.id ?? p.name">After {{ p.name }} what dries least: {{ said(p.least_drying) }}.</li>
  </ul>
</template>

<style scoped>
.drying {
  padding-left: 18px;
  margin: 6px 0;
}
svg {
  display: block;
  max-width: 100%;
  overflow: visible;
}
.step {
  fill: #eddccf;
  stroke: var(--heat);
}
.figure {
  font-weight: 600;
}
text {
  font-size: 13px;
  fill: var(--ink);
}
text.soft {
  fill: var(--soft);
  font-size: 12px;
}
.ground {
  stroke: var(--ink);
  stroke-width: 1.4;
}
</style>
