<script setup lang="ts">
/** Materials of one kind as a table; each opens to where its values are from, their ranges and what it does by RH. */
import { computed } from 'vue'
import type { Material } from '@/shared/project'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { bare, show, unitOf } from '@/shared/units'
import MaterialCurves from './MaterialCurves.vue'

defineProps<{ materials: Material[] }>()
defineSlots<{ acts?: (props: { material: Material }) => unknown }>()
const opened = defineModel<string>('opened', { default: '' })
function sd(m: Material): string {
  if (m.sd_m !== null && m.sd_m !== undefined) return show(m.sd_m, 'sd')
  if (!m.sd_by_rh) return '–'
  const values = m.sd_by_rh.map((row) => row[1]!)
  return `${show(Math.max(...values), 'sd')} to ${show(Math.min(...values), 'sd')} by RH`
}
/** “density: estimate; usually 1,800 to 2,200 kg/m³”. */
function sources(m: Material): [string, string][] {
  return Object.entries(m.sources).map(([key, text]) => {
    const range = m.ranges[key]
    const span = range && range[0] !== range[1] ? `; from ${word(range[0]!)} to ${word(range[1]!)}` : ''
    return [key.replace(/_(kg|w|j|m|pa)\w*$/, '').replaceAll('_', ' '), text + span]
  })
}
const word = (value: number): string => String(Number(value.toPrecision(3)))
const columns = computed<Column<Material>[]>(() => [
  { name: 'material', head: 'Material' },
  { name: 'lambda', head: 'λ', figure: true, text: (m) => show(m.conductivity_w_mk ?? null, 'conductivity') },
  {
    name: 'density',
    head: 'density',
    figure: true,
    text: (m) => (m.density_kg_m3 ? show(m.density_kg_m3, 'moistureContent') : '–'),
  },
  {
    name: 'mu',
    head: 'μ or sd',
    figure: true,
    text: (m) => (m.mu ? `${word(m.mu)}${m.mu_wet ? ` / ${word(m.mu_wet)}` : ''}` : sd(m)),
  },
  {
    name: 'w80',
    head: 'w80',
    figure: true,
    text: (m) => (m.w80_kg_m3 !== null && m.w80_kg_m3 !== undefined ? show(m.w80_kg_m3, 'moistureContent', 1) : '–'),
  },
  {
    name: 'a',
    head: `A, ${unitOf('uptake').unit}`,
    figure: true,
    text: (m) => (m.a_value_kg_m2s05 ? bare(m.a_value_kg_m2s05, 'uptake', 2) : '–'),
  },
])
</script>

<template>
  <RuledTable :rows="materials" :columns="columns">
    <template #material="{ row: m }">
      <details :id="m.id" @toggle="(event: Event) => (event.target as HTMLDetailsElement).open && (opened = m.id)">
        <summary>{{ m.name }}</summary>
        <slot name="acts" :material="m" />
        <ul>
          <li v-for="[key, text] in sources(m)" :key="key">
            <b>{{ key }}</b>: {{ text }}
          </li>
          <li v-if="m.durability_class"><b>natural durability</b>: class {{ m.durability_class }} (EN 350)</li>
        </ul>
        <p v-if="m.note">{{ m.note }}</p>
        <MaterialCurves v-if="m.kind !== 'air'" :id="m.id" :when="opened === m.id" />
      </details>
    </template>
  </RuledTable>
</template>
