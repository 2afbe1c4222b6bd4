<script setup lang="ts">
/** The survey's views under one heading; the address says which. */
import { computed, type Component } from 'vue'
import { useRoute } from 'vue-router'
import AirtightnessView from './AirtightnessView.vue'
import ElementsView from './ElementsView.vue'
import EvidenceView from './EvidenceView.vue'
import ExposureView from './ExposureView.vue'
import MakeView from './MakeView.vue'
import ReadingsView from './ReadingsView.vue'
import ShapeView from './ShapeView.vue'
import type { SurveyView } from '@/shared/steps'

const VIEWS: Record<SurveyView, Component> = {
  shape: ShapeView,
  elements: ElementsView,
  make: MakeView,
  exposure: ExposureView,
  evidence: EvidenceView,
  airtightness: AirtightnessView,
  readings: ReadingsView,
}
const route = useRoute()
const view = computed(() => (route.params.view || 'shape') as SurveyView)
</script>

<template>
  <component :is="VIEWS[view]" :key="`${route.params.project} ${view}`" />
</template>
