<script setup lang="ts">
/** What is pressed in the section beside its bands: evidence, and breaks of the control lines. */
import type { House } from '@/shared/house'
import type { gapsOf, Point } from './useSection'

type Placed<T> = Omit<T, 'at'> & { at: Point }
defineProps<{
  pins: Placed<House['pins'][number]>[]
  gaps: Placed<ReturnType<typeof gapsOf>[number]>[]
  /** the break in hand */
  mark: number | null
}>()
const emit = defineEmits<{ pin: [uid: string]; gap: [number: number] }>()
</script>

<template>
  <g>
    <g
      v-for="p in pins"
      :key="p.uid"
      class="pin"
      role="link"
      tabindex="0"
      :aria-label="`Evidence: ${p.kind.replace('_', ' ')}, ${p.explained ? 'cause confirmed' : 'no cause yet'}`"
      @click.stop="emit('pin', p.uid)"
      @keydown.enter="emit('pin', p.uid)"
    >
      <path :d="`M${p.at[0]} ${p.at[1]}m-6-6h12l-6 12z`" :class="{ explained: p.explained }" />
      <title>{{ p.kind.replace('_', ' ') }}, {{ p.explained ? 'cause confirmed' : 'no cause yet' }}</title>
    </g>
    <g
      v-for="g in gaps"
      :key="g.number"
      class="gap"
      :class="{ here: g.number === mark }"
      role="button"
      tabindex="0"
      :aria-label="`Break ${g.number}, ${g.joint}: ${g.lines.map(([line]) => line).join(', ')}`"
      @click.stop="emit('gap', g.number)"
      @keydown.enter="emit('gap', g.number)"
    >
      <circle :cx="g.at[0]" :cy="g.at[1]" r="10" />
      <text :x="g.at[0]" :y="g.at[1] + 4">{{ g.number }}</text>
    </g>
  </g>
</template>

<style scoped>
.pin,
.gap {
  cursor: pointer;
}
.pin path {
  fill: var(--sheet);
  stroke: var(--over);
  stroke-width: 1.8;
}
.pin path.explained {
  fill: var(--water);
  stroke: var(--sheet);
  stroke-width: 1.2;
}
.gap circle {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.gap.here circle {
  stroke-width: 3.5;
}
.gap text {
  text-anchor: middle;
  font-size: 12px;
  font-weight: 600;
}
</style>
