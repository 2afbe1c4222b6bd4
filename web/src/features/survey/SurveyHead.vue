<script setup lang="ts">
/** Heading of the survey with the way to its other views. */
import { RouterLink } from 'vue-router'
import { SURVEY_VIEWS, type SurveyView } from '@/shared/steps'

defineProps<{ projectId: number; here: SurveyView; title: string; sub?: string }>()
</script>

<template>
  <div class="head">
    <div class="title">
      <h1>{{ title }}</h1>
      <p v-if="sub" class="soft">{{ sub }}</p>
    </div>
    <nav class="views" aria-label="Views of the survey">
      <RouterLink
        v-for="[view, label] in SURVEY_VIEWS"
        :key="view"
        :to="{ name: 'survey', params: { project: projectId, view } }"
        :class="{ here: view === here }"
        :aria-current="view === here ? 'page' : undefined"
        >{{ label }}</RouterLink
      >
    </nav>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: start;
  gap: 6px 20px;
  margin-bottom: 12px;
}
p {
  margin: 2px 0 0;
}
.title {
  flex: 1 1 240px;
}
.views {
  flex: none;
  display: flex;
  flex-wrap: wrap;
  border: 1px solid var(--ink);
}
.views a {
  padding: 4px 10px;
  text-decoration: none;
  background: var(--sheet);
}
.views a.here {
  background: var(--ink);
  color: var(--sheet);
}
@media (max-width: 900px) {
  .views a {
    padding: 12px 10px;
    min-height: 46px;
  }
}
</style>
