<script setup lang="ts">
/** Generic materials with the provenance of every value, and the climates. */
import { computed, onMounted } from 'vue'
import SheetPage from '@/shared/SheetPage.vue'
import { useProject, type Material } from '@/shared/project'
import { bare, show, unitOf } from '@/shared/units'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'

const project = useProject()
const groups = computed(() => {
  const found = new Map<string, Material[]>()
  for (const m of project.materials.values()) found.set(m.group, [...(found.get(m.group) ?? []), m])
  return [...found]
})
function sd(m: Material): string {
  if (m.sd_m !== null && m.sd_m !== undefined) return show(m.sd_m, 'sd')
  if (!m.sd_by_rh) return '–'
  const values = m.sd_by_rh.map((row) => row[1]!)
  return `${show(Math.max(...values), 'sd')} to ${show(Math.min(...values), 'sd')} by RH`
}
function sources(m: Material): [string, string][] {
  return Object.entries(m.sources).map(([key, text]) => [key.replace(/_(kg|w|j|m)\w*$/, '').replaceAll('_', ' '), text])
}
onMounted(() => project.loadLibrary())
const columns = computed<Column<Material>[]>(() => [
  { name: 'material', head: 'Material' },
  { name: 'lambda', head: 'λ', figure: true, text: (m) => show(m.conductivity_w_mk, 'conductivity') },
  {
    name: 'density',
    head: 'density',
    figure: true,
    text: (m) => (m.density_kg_m3 ? show(m.density_kg_m3, 'moistureContent') : '–'),
  },
  { name: 'mu', head: 'μ or sd', figure: true, text: (m) => m.mu ?? sd(m) },
  {
    name: 'w80',
    head: 'w80',
    figure: true,
    text: (m) => (m.w80_kg_m3 !== null ? show(m.w80_kg_m3, 'moistureContent', 1) : '–'),
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
  <SheetPage title="Library and climates">
    <div class="page">
      <h1>Library and climates</h1>
      <p class="soft">
        Generic materials; no product. Open a name to see where each value is from. Liquid transport:
        {{ project.library?.approximation }}.
      </p>
      <h2>Climates</h2>
      <p v-for="c in project.library?.climates" :key="c.name">
        <b>{{ c.label }}</b>, <b>{{ c.origin }}</b>: mean {{ show(c.mean_temperature_c, 'temperature') }}, rain
        {{ show(c.rain_mm, 'rain') }} in a year, coldest 24 hours {{ show(c.design_temperature_c, 'temperature') }}.
      </p>
      <template v-for="[group, materials] in groups" :key="group">
        <h2>{{ group }}</h2>
        <RuledTable :rows="materials" :columns="columns">
          <template #material="{ row: m }">
            <details :id="m.id">
              <summary>{{ m.name }}</summary>
              <ul>
                <li v-for="[key, text] in sources(m)" :key="key">
                  <b>{{ key }}</b>: {{ text }}
                </li>
              </ul>
              <p v-if="m.note">{{ m.note }}</p>
            </details>
          </template>
        </RuledTable>
      </template>
    </div>
  </SheetPage>
</template>

<style scoped>
h2 {
  margin: 22px 0 4px;
}
</style>
