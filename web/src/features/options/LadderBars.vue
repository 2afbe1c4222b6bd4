<script setup lang="ts">
/** From the label to what stands in the wall: R step by step, each with its cause, and how far as built may be off. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { said, show } from '@/shared/units'

const props = defineProps<{ ladder: Schemas['Ladder'] }>()
const most = computed(() => Math.max(...props.ladder.rungs.map((r) => r.r), props.ladder.high))
const width = (r: number): number => (r / most.value) * 180
const last = computed(() => props.ladder.rungs.at(-1)!)
</script>

<template>
  <div class="ladder" role="group" aria-label="From labelled to as built">
    <template v-for="r in ladder.rungs" :key="r.name">
      <span>{{ r.name }}</span>
      <svg width="184" height="14" aria-hidden="true">
        <rect x="0.5" y="2.5" :width="width(r.r)" height="9" class="bar" />
      </svg>
      <b>{{ show(r.r, 'resistance') }}</b>
      <span class="share">{{ Math.round(r.share * 100) }} %</span>
      <span class="soft">{{ said(r.cause) }}</span>
    </template>
    <span>as built</span>
    <svg width="184" height="14" aria-hidden="true">
      <path
        :d="`M${width(ladder.low)} 3v8M${width(ladder.high)} 3v8M${width(ladder.low)} 7H${width(ladder.high)}`"
        class="span"
      />
    </svg>
    <b>{{ show(ladder.low, 'resistance') }} to {{ show(ladder.high, 'resistance') }}</b>
    <span class="share"
      >{{ Math.round((ladder.low / ladder.rungs[0]!.r) * 100) }} to
      {{ Math.round((ladder.high / ladder.rungs[0]!.r) * 100) }} %</span
    >
    <span class="soft"
      >with each λ at an end of its range{{
        last.name === 'with its water' || last.name === 'in winter' ? ', at 10 °C and dry' : ''
      }}</span
    >
  </div>
</template>

<style scoped>
.ladder {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: auto 184px auto auto minmax(0, 1fr);
  gap: 1px 12px;
  align-items: center;
  font-size: 13px;
  margin: 4px 0;
}
b {
  white-space: nowrap;
}
.share {
  text-align: right;
  white-space: nowrap;
}
.bar {
  fill: #e3d9c2;
  stroke: var(--ink);
}
.span {
  stroke: var(--ink);
  stroke-width: 1.6;
  fill: none;
}
</style>
