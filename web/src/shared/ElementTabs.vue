<script setup lang="ts">
/** The heading of the three views of an element: its name, the elements beside it in the list, and the views. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { onSingleKey } from '@/shared/keys'
import { LINE_WORDS, useProject } from '@/shared/project'
import { ELEMENT_SHEETS, type ElementSheet } from './steps'
import TabLine from './TabLine.vue'

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
const tabs = computed(() =>
  ELEMENT_SHEETS.map(([name, words]) => ({
    name,
    words,
    to: { name, params: { project: props.projectId, element: props.elementId } },
  })),
)
onSingleKey('[', () => go(-1))
onSingleKey(']', () => go(1))
</script>

<template>
  <div class="heading">
    <h1>{{ element?.name }}</h1>
    <span v-if="LINE_WORDS[element?.in_line ?? 'both']" class="soft" data-in-line>{{
      LINE_WORDS[element?.in_line ?? 'both']
    }}</span>
    <span>
      <ElButton link :disabled="neighbour(-1) === undefined" title="Previous element  [" @click="go(-1)">
        previous
      </ElButton>
      <ElButton link :disabled="neighbour(1) === undefined" title="Next element  ]" @click="go(1)"> next </ElButton>
    </span>
    <TabLine label="Views of the element" :tabs="tabs" :here="view" />
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
</style>
