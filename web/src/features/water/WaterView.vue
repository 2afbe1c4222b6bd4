<script setup lang="ts">
/** Water first: every element's readiness, and the items that must be shown before anything is covered. */
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import ReadinessMark from '@/shared/ReadinessMark.vue'
import { mayBeCovered } from '@/shared/readiness'
import ElementWater from './ElementWater.vue'
import { provideWater } from './useWater'
import WaterItem from './WaterItem.vue'

const route = useRoute()
const id = computed(() => Number(route.params.project))
const element = ref<number | null>(null)
const open = ref<string | null>(null)
const shut = ref(false)
const { page, complaint, items, waiting } = provideWater(id)
watch(
  () => route.query.element,
  (asked) => (element.value = asked ? Number(asked) : null),
  { immediate: true },
)
const shown = computed(() =>
  items.value.filter(
    (i) => (element.value === null || i.elements.includes(element.value)) && (shut.value || i.state === 'open'),
  ),
)
const closed = computed(
  () =>
    items.value.filter((i) => i.state !== 'open' && (element.value === null || i.elements.includes(element.value)))
      .length,
)
const byStage = computed(() =>
  (page.value?.stages ?? [])
    .map((stage) => ({ stage, items: shown.value.filter((i) => i.stage === stage.id) }))
    .filter((s) => s.items.length),
)
const row = computed(() => page.value?.elements.find((e) => e.element_id === element.value) ?? null)
const ORDER = ['open', 'not looked at', 'ready by override', 'ready']
const rows = computed(() =>
  [...(page.value?.elements ?? [])].sort((a, b) => ORDER.indexOf(a.state) - ORDER.indexOf(b.state)),
)
function pick(to: number | null): void {
  element.value = element.value === to ? null : to
  open.value = null
}
</script>

<template>
  <SheetPage title="Water" written>
    <div class="head">
      <div>
        <h1>Water first</h1>
        <p class="soft">Nothing is covered before it is dry, tight and drained. Press an element.</p>
      </div>
      <ElCheckbox v-if="page" class="check" v-model="shut">show the {{ closed }} closed</ElCheckbox>
    </div>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <ReadingNote v-if="!page && !complaint" what="the water list" />
    <p v-if="page && !page.elements.length">
      No element yet. They follow from the
      <RouterLink :to="{ name: 'survey', params: { project: id, view: 'shape' } }">shape</RouterLink>.
    </p>
    <div v-if="page?.elements.length" class="two">
      <div class="elements" role="group" aria-label="Elements">
        <ElButton
          text
          class="block row"
          v-for="r in rows"
          :key="r.element_id"
          :aria-pressed="r.element_id === element"
          :data-element="r.element_id"
          @click="pick(r.element_id)"
        >
          <ReadinessMark :state="r.state" />
          <span
            ><b>{{ r.name }}</b>
            <small
              >{{ r.state }}{{ r.reasons.length && r.state === 'open' ? `: ${r.reasons.join('; ')}` : ''
              }}{{ waiting(r) ? ' (waits to be sent)' : '' }}</small
            ></span
          >
        </ElButton>
      </div>
      <div>
        <ElementWater v-if="row" :row="row" />
        <p v-if="!byStage.length" class="soft">
          {{ element === null ? 'No open item.' : 'No open item of this element.' }} Items follow from the causes that
          are confirmed under Evidence.
        </p>
        <section v-for="s in byStage" :key="s.stage.id" class="stage">
          <h3>{{ s.stage.name }}</h3>
          <WaterItem
            v-for="item in s.items"
            :key="item.uid"
            :item="item"
            :open="open === item.uid"
            @toggle="open = open === item.uid ? null : item.uid"
          />
        </section>
      </div>
    </div>

    <template #margin>
      <template v-if="page">
        <h3>{{ page.elements.filter((e) => mayBeCovered(e.state)).length }} of {{ page.elements.length }} ready</h3>
        <p>
          An element is ready when somebody looked at it, every pin has its cause, and every item is closed or struck
          out. Options of elements that are not ready say so everywhere.
        </p>
        <template v-for="r in page.elements.filter((e) => e.state === 'ready by override')" :key="r.element_id">
          <p>
            <ReadinessMark :state="r.state" /> <b>{{ r.name }}</b>, {{ r.override_by }}: {{ r.override_reason }}
          </p>
        </template>
      </template>
      <h3>The order</h3>
      <p class="soft">
        Site and roof drainage, ground, foundation and slab, capillary breaks, openings and flashings, embedded timber,
        indoor moisture, plumbing. What stands upstream comes first.
      </p>
      <h3>Caution</h3>
      <p class="soft">
        Structure, excavation beside walls, asbestos, bats and birds, and electrics in wet places are for those licensed
        to decide; local code rules.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: end;
  margin-bottom: 12px;
}
.head p {
  margin: 2px 0 0;
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
}
.two {
  display: grid;
  grid-template-columns: minmax(230px, 0.7fr) 1.3fr;
  gap: 24px;
  align-items: start;
}
.elements {
  display: grid;
}
.elements .row {
  border: 0;
  border-bottom: 1px solid var(--rule);
  border-radius: 0;
  padding: 6px 6px;
}
.elements .row[aria-pressed='true'] {
  background: #efe9da;
  box-shadow: inset 3px 0 0 var(--ink);
}
small {
  display: block;
  color: var(--soft);
  font-size: 13px;
}
.stage {
  margin-bottom: 12px;
}
.stage h3::first-letter {
  text-transform: uppercase;
}
@media (max-width: 900px), (pointer: coarse) {
  .el-button {
    min-height: 46px;
  }
}
@media (max-width: 760px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
