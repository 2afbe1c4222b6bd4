<script setup lang="ts">
/** The heading of the three views of an element: its name, before and after, and the views. */
import { computed } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { onSingleKey } from '@/shared/keys'
import { useProject } from '@/shared/project'
import { ELEMENT_SHEETS, type ElementSheet } from './steps'

const props = defineProps<{ projectId: number; elementId: number; view: ElementSheet }>()
const project = useProject()
const router = useRouter()
const element = computed(() => project.elements.find((e) => e.id === props.elementId))
const index = computed(() => project.layered.findIndex((e) => e.id === props.elementId))
function neighbour(by: number): number | undefined {
  return project.layered[index.value + by]?.id
}
function go(by: number): void {
  const id = neighbour(by)
  if (id !== undefined) router.push({ name: props.view, params: { project: props.projectId, element: id } })
}
onSingleKey('[', () => go(-1))
onSingleKey(']', () => go(1))
</script>

<template>
  <div class="heading">
    <h1>{{ element?.name }}</h1>
    <span>
      <ElButton link :disabled="neighbour(-1) === undefined" title="Element before  [" @click="go(-1)">
        before
      </ElButton>
      <ElButton link :disabled="neighbour(1) === undefined" title="Element after  ]" @click="go(1)"> after </ElButton>
    </span>
    <nav aria-label="Views of the element">
      <RouterLink
        v-for="[name, label] in ELEMENT_SHEETS"
        :key="name"
        :to="{ name, params: { project: projectId, element: elementId } }"
        :aria-current="name === view ? 'page' : undefined"
        >{{ label }}</RouterLink
      >
    </nav>
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
.heading > .el-button,
.heading > a {
  white-space: nowrap;
}
nav {
  margin-left: auto;
  display: flex;
  border: 1px solid var(--ink);
}
nav a {
  padding: 3px 12px;
  text-decoration: none;
  white-space: nowrap;
}
nav a + a {
  border-left: 1px solid var(--ink);
}
nav a[aria-current] {
  background: var(--ink);
  color: var(--sheet);
}
</style>
