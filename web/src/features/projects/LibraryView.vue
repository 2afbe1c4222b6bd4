<script setup lang="ts">
/** Generic materials with the provenance of every value, and the climates. */
import { computed, onMounted } from 'vue'
import AppFrame from '@/shared/AppFrame.vue'
import { useProject, type Material } from '@/shared/project'
import { bare, show, unitOf } from '@/shared/units'

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
</script>

<template>
  <AppFrame bare title="Library and climates">
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
        <table class="ruled">
          <thead>
            <tr>
              <th>Material</th>
              <th class="figure">λ</th>
              <th class="figure">density</th>
              <th class="figure">μ or sd</th>
              <th class="figure">w80</th>
              <th class="figure">A, {{ unitOf('uptake').unit }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in materials" :id="m.id" :key="m.id">
              <td>
                <details>
                  <summary>{{ m.name }}</summary>
                  <ul>
                    <li v-for="[key, text] in sources(m)" :key="key">
                      <b>{{ key }}</b>: {{ text }}
                    </li>
                  </ul>
                  <p v-if="m.note">{{ m.note }}</p>
                </details>
              </td>
              <td class="figure">{{ show(m.conductivity_w_mk, 'conductivity') }}</td>
              <td class="figure">{{ m.density_kg_m3 ? show(m.density_kg_m3, 'moistureContent') : '–' }}</td>
              <td class="figure">{{ m.mu ?? sd(m) }}</td>
              <td class="figure">{{ m.w80_kg_m3 !== null ? show(m.w80_kg_m3, 'moistureContent', 1) : '–' }}</td>
              <td class="figure">{{ m.a_value_kg_m2s05 ? bare(m.a_value_kg_m2s05, 'uptake', 2) : '–' }}</td>
            </tr>
          </tbody>
        </table>
      </template>
    </div>
  </AppFrame>
</template>

<style scoped>
h2 {
  margin: 22px 0 4px;
}
</style>
