<script setup lang="ts">
/** Materials with the provenance and range of every value, one's own first, and the climates. */
import { computed, onMounted, ref } from 'vue'
import DataSheetDrawer from '@/shared/DataSheetDrawer.vue'
import { useProject, type Material } from '@/shared/project'
import SheetPage from '@/shared/SheetPage.vue'
import { show } from '@/shared/units'
import MaterialTable from './MaterialTable.vue'
import OwnMaterials from './OwnMaterials.vue'

const project = useProject()
const text = ref('')
const entering = ref(false)
const changing = ref<Material | null>(null)
const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return [...project.materials.values()].filter(
    (m) => !m.own && words.every((w) => `${m.name} ${m.group} ${m.family}`.toLowerCase().includes(w)),
  )
})
const groups = computed(() => {
  const by = new Map<string, Material[]>()
  for (const m of found.value) by.set(m.family, [...(by.get(m.family) ?? []), m])
  return [...by]
})
function enter(material: Material | null): void {
  changing.value = material
  entering.value = true
}
onMounted(() => project.loadLibrary())
</script>

<template>
  <SheetPage title="Library and climates" written>
    <div class="page">
      <h1>Library and climates</h1>
      <OwnMaterials @enter="enter" />
      <h2>Climates</h2>
      <p v-for="c in project.library?.climates" :key="c.name">
        <b>{{ c.label }}</b>, <b>{{ c.origin }}</b>: mean {{ show(c.mean_temperature_c, 'temperature') }}, rain
        {{ show(c.rain_mm, 'rain') }} in a year, coldest 24 hours {{ show(c.design_temperature_c, 'temperature') }}.
      </p>
      <h2>Generic materials</h2>
      <p class="soft">
        No product. Open a name to see where each value is from, how far it may be off, and what the material does with
        humidity. Liquid transport: {{ project.library?.approximation }}.
      </p>
      <ElInput
        v-model="text"
        class="find"
        clearable
        placeholder="stone, membrane, batt …"
        aria-label="Find a material"
      />
      <span class="soft" role="status">{{ found.length }} materials</span>
      <template v-for="[family, materials] in groups" :key="family">
        <h3>{{ family }}</h3>
        <MaterialTable :materials="materials" />
      </template>
      <p v-if="!found.length" class="soft">No generic material has all of these words in its name or kind.</p>
    </div>
    <DataSheetDrawer v-model="entering" :material="changing" />
  </SheetPage>
</template>

<style scoped>
h2 {
  margin: 22px 0 4px;
}
h3 {
  margin: 14px 0 2px;
}
.find {
  width: 280px;
  margin-right: 10px;
}
</style>
