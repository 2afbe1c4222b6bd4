<script setup lang="ts">
/** Tests and studies of an element: wetting, facings, a bad year, outboard share, certainty. */
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import ElementTabs from '@/shared/ElementTabs.vue'
import SheetPage from '@/shared/SheetPage.vue'
import ReadinessNote from '@/shared/ReadinessNote.vue'
import BetweenPanel from './BetweenPanel.vue'
import BadYearPanel from './BadYearPanel.vue'
import FacingsPanel from './FacingsPanel.vue'
import OutboardPanel from './OutboardPanel.vue'
import SearchPanel from './SearchPanel.vue'
import StudyPanel from './StudyPanel.vue'
import WettingPanel from './WettingPanel.vue'
import { useBatches } from './useBatches'
import { useSheetAnswer } from '@/shared/sheet'

const VIEWS = [
  ['wetting', 'Wetting test', WettingPanel],
  ['facings', 'Worst face', FacingsPanel],
  ['bad-year', 'Bad year', BadYearPanel],
  ['outboard', 'Outboard share', OutboardPanel],
  ['study', 'How sure', StudyPanel],
  ['search', 'Search', SearchPanel],
  ['in-between', 'In between', BetweenPanel],
] as const
const route = useRoute()
const projectId = computed(() => Number(route.params.project))
const elementId = computed(() => Number(route.params.element))
const view = computed(() => String(route.params.view || 'wetting'))
const panel = computed(() => VIEWS.find(([key]) => key === view.value)?.[2] ?? WettingPanel)
const { data: sheet, complaint, load } = useSheetAnswer(elementId)
const state = useBatches(elementId)
const optionId = ref(0)
const option = computed(() => sheet.value?.options.find((o) => o.id === optionId.value))

watch(
  sheet,
  (now) => {
    const asked = optionId.value || Number(route.query.option)
    const options = now?.options ?? []
    optionId.value = (options.find((o) => o.id === asked) ?? options[1] ?? options[0])?.id ?? 0
  },
  { immediate: true },
)
const refused = computed(() => option.value?.figures.transient_refused ?? '')
</script>

<template>
  <SheetPage title="Tests and studies">
    <ElementTabs :project-id="projectId" :element-id="elementId" view="tests" />
    <p v-if="complaint" class="complaint" role="alert">
      {{ complaint }} <ElButton link @click="load">Try again</ElButton>
    </p>
    <template v-if="sheet && option">
      <div class="bar">
        <nav class="views" aria-label="Tests">
          <RouterLink
            v-for="[key, label] in VIEWS"
            :key="key"
            :to="{ name: 'tests', params: { ...route.params, view: key } }"
            :aria-current="view === key ? 'page' : undefined"
            >{{ label }}</RouterLink
          >
        </nav>
        <span v-if="view !== 'wetting'"
          ><span class="soft">of</span>
          <ElSelect v-model="optionId" aria-label="Option">
            <ElOption v-for="o in sheet.options" :key="o.id" :value="o.id" :label="o.name" /> </ElSelect
        ></span>
      </div>
      <p v-if="state.complaint.value" class="complaint" role="alert">{{ state.complaint.value }}</p>
      <p v-if="refused" class="complaint">{{ refused }}</p>
      <component :is="panel" v-else :key="`${view} ${optionId}`" :sheet="sheet" :option="option" :state="state" />
    </template>
    <template #margin>
      <ReadinessNote :element-id="elementId" />
      <div id="tests-margin" />
      <h3>How sure</h3>
      <p class="soft">
        One dimension, the clear path. Salts, hysteresis, air paths and beam ends are not modelled. The tests run in the
        background; leave the page and they go on.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 16px;
  align-items: center;
  flex-wrap: wrap;
  margin: 8px 0;
}
.views {
  display: flex;
  gap: 16px;
}
.views a {
  text-decoration: none;
  padding: 2px 0;
  border-bottom: 2px solid transparent;
}
.views a[aria-current] {
  border-color: var(--ink);
  font-weight: 600;
}
.el-select {
  width: 280px;
  margin-left: 6px;
}
</style>
