<script setup lang="ts">
/** The heading of the sheets of heat: what this one shows, and the others. */
import { computed } from 'vue'
import { HEAT_SHEETS, type HeatSheet } from './steps'
import TabLine from './TabLine.vue'

const props = defineProps<{ projectId: number; view: HeatSheet; title: string }>()
const tabs = computed(() =>
  HEAT_SHEETS.map(([name, words]) => ({ name, words, to: { name, params: { project: props.projectId } } })),
)
</script>

<template>
  <div class="heading">
    <h1>{{ title }}</h1>
    <TabLine label="Sheets of heat" :tabs="tabs" :here="view" />
  </div>
</template>

<style scoped>
.heading {
  display: flex;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 4px 14px;
}
h1 {
  line-height: 1.2;
}
</style>
