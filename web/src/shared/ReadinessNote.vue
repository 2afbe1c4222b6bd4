<script setup lang="ts">
/** In the margin of everything that shows options: whether the element may be covered yet. */
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { useProject } from './project'
import ReadinessMark from './ReadinessMark.vue'

const props = defineProps<{ elementId: number }>()
const project = useProject()
const state = computed(() => project.page?.readiness[props.elementId])
</script>

<template>
  <p v-if="state && project.page && state.state !== 'ready'" class="ready" data-readiness>
    <ReadinessMark :state="state.state" words />
    <template v-if="state.state === 'ready by override'"
      >: {{ state.reasons[0]?.replace('ready by override of ', '') }}</template
    >
    <template v-else>: {{ state.reasons.join('; ') }}. Not to be covered before; see </template>
    <RouterLink
      v-if="state.state !== 'ready by override'"
      :to="{ name: 'water', params: { project: project.page.project.id }, query: { element: elementId } }"
      >Water</RouterLink
    >.
  </p>
</template>

<style scoped>
.ready {
  border: 1px solid var(--ink);
  padding: 6px 9px;
  margin-bottom: 12px;
}
</style>
