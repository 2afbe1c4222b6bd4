<script setup lang="ts">
/** One function of a material by RH, small, with the span of its family behind it; its ends and middle in words for who cannot see it. */
import { computed } from 'vue'

const props = defineProps<{
  rh: number[]
  curve: {
    name: string
    unit: string
    values: number[]
    low?: number[] | null
    high?: number[] | null
    logarithmic: boolean
  }
}>()
const WIDTH = 210
const HEIGHT = 120
const LEFT = 42
const BOTTOM = 18
const all = computed(() =>
  [...props.curve.values, ...(props.curve.low ?? []), ...(props.curve.high ?? [])].filter((v) => v > 0),
)
const level = (value: number): number => (props.curve.logarithmic ? Math.log10(value) : value)
const ends = computed<[number, number]>(() => {
  const values = all.value.map(level)
  const low = Math.min(...values)
  const high = Math.max(...values)
  const more = (high - low) * 0.06 || Math.abs(high) * 0.1 || 0.5
  return [low - more, high + more]
})
/** RH stretched toward saturation, where most happens: up to 90 % on the left two thirds. */
const x = (rh: number): number => {
  const share = rh <= 0.9 ? (rh / 0.9) * 0.6 : 0.6 + (0.4 * -Math.log10((1 - rh) / 0.1)) / 3
  return LEFT + share * (WIDTH - LEFT - 6)
}
const y = (value: number): number =>
  6 + (1 - (level(value) - ends.value[0]) / (ends.value[1] - ends.value[0])) * (HEIGHT - BOTTOM - 6)
const path = (values: number[]): string =>
  values
    .map((value, i) => [x(props.rh[i]!), value] as const)
    .filter(([, value]) => value > 0)
    .map(([at, value], i) => `${i ? 'L' : 'M'}${at.toFixed(1)} ${y(value).toFixed(1)}`)
    .join('')
const span = computed(() => {
  const { low, high } = props.curve
  if (!low || !high) return ''
  const points = (values: number[]): [number, number][] =>
    values.map((value, i): [number, number] => [x(props.rh[i]!), value]).filter(([, value]) => value > 0)
  const round = [...points(high), ...points(low).reverse()]
  return round.length ? `M${round.map(([at, value]) => `${at.toFixed(1)} ${y(value).toFixed(1)}`).join('L')}Z` : ''
})
const word = (value: number): string =>
  value === 0
    ? '0'
    : value >= 0.01 && value < 10000
      ? String(Number(value.toPrecision(3)))
      : value.toExponential(1).replace('e-', 'e−').replace('e+', 'e')
const ticks = computed(() => {
  const [low, high] = ends.value
  const back = (v: number): number => (props.curve.logarithmic ? 10 ** v : v)
  return [0.08, 0.5, 0.92].map((part) => back(low + part * (high - low)))
})
const at = (rh: number): number => props.curve.values[props.rh.findIndex((one) => one >= rh - 1e-9)] ?? 0
const words = computed(
  () =>
    `${props.curve.name} in ${props.curve.unit}: ${word(at(0.5))} at 50 %, ${word(at(0.8))} at 80 %, ${word(at(0.95))} at 95 %, ${word(at(0.999))} at 99.9 % RH` +
    (props.curve.low ? '; its family is shaded behind' : ''),
)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="words">
      <path v-if="span" :d="span" class="span" />
      <path v-for="t in ticks" :key="t" :d="`M${LEFT} ${y(t)}H${WIDTH - 6}`" class="rule" />
      <text v-for="t in ticks" :key="`w${t}`" :x="LEFT - 4" :y="y(t) + 3.5" text-anchor="end">{{ word(t) }}</text>
      <path :d="path(curve.values)" class="line" />
      <text v-for="m in [0.001, 0.5, 0.9, 0.99, 0.999]" :key="m" :x="x(m)" :y="HEIGHT - 4" text-anchor="middle">
        {{ m === 0.001 ? '0' : Number((m * 100).toPrecision(3)) }}
      </text>
    </svg>
    <figcaption>{{ curve.name }}, {{ curve.unit }}, by RH %</figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  width: 100%;
  display: block;
}
.span {
  fill: #e6dfcc;
}
.rule {
  stroke: var(--rule);
  stroke-width: 0.7;
  fill: none;
}
.line {
  stroke: var(--ink);
  stroke-width: 1.8;
  fill: none;
}
text {
  font-size: 9.5px;
  fill: var(--soft);
}
figcaption {
  font-size: 12.5px;
  color: var(--soft);
}
</style>
