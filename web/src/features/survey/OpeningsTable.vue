<script setup lang="ts">
/** Windows and doors of the shape. */
import type { Schemas } from '@/api/client'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { bare, unitOf } from '@/shared/units'
import { computed } from 'vue'
import type { Opening, Shape } from './shapes'

const props = defineProps<{ shape: Shape }>()
const emit = defineEmits<{ edit: [opening: Opening]; remove: [opening: Opening] }>()
const bodyName = (of: string): string => props.shape.bodies.find((b) => b.id === of)?.name ?? of
const openingColumns = computed<Column<Schemas['Opening']>[]>(() => [
  { name: 'what', head: 'What', text: (o) => o.name },
  { name: 'where', head: 'Where', text: (o) => `${bodyName(o.body)}, ${o.face}` },
  { name: 'count', head: 'Count', figure: true, text: (o) => o.count },
  {
    name: 'size',
    head: `Width × height, ${unitOf('length').unit}`,
    figure: true,
    text: (o) => `${bare(o.width_m, 'length')} × ${bare(o.height_m, 'length')}`,
  },
  { name: 'glass', head: 'Frame, glazing', text: glass },
  {
    name: 'reveal',
    head: `Reveal, margin, ${unitOf('thickness').unit}`,
    figure: true,
    text: (o) => `${bare(o.reveal_mm, 'thickness')}, ${bare(o.margin_mm, 'thickness')}`,
  },
  { name: 'act', figure: true },
])
function glass(o: Schemas['Opening']): string {
  return `${o.frame.replace('_', ' ')}, ${o.glazing.replaceAll('_', ' ')}${o.secondary === 'none' ? '' : ', secondary'}`
}
</script>

<template>
  <RuledTable :rows="shape.openings" :columns="openingColumns">
    <template #act="{ row: o }">
      <ElButton link :aria-label="`Edit ${o.name}`" @click="emit('edit', o)"> edit </ElButton>
      <ElButton link :aria-label="`Remove ${o.name}`" @click="emit('remove', o)"> remove </ElButton>
    </template>
  </RuledTable>
</template>
