<script setup lang="ts">
/** Pins on elevations, plan and section. Press the place, say what is seen; the rules say what it points to. */
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { useTall } from '@/drawing/tall'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import { day } from '@/shared/dates'
import FaceDrawing from './FaceDrawing.vue'
import type { DrawnPin, Point } from './frame'
import PinDetail from './PinDetail.vue'
import PinForm from './PinForm.vue'
import PlanDrawing from './PlanDrawing.vue'
import SectionSheet from './SectionSheet.vue'
import { sidesOf } from './shapes'
import SurveyHead from './SurveyHead.vue'
import { useEvidence } from './useEvidence'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'

const tall = useTall()
const route = useRoute()
const id = computed(() => Number(route.params.project))
const state = useEvidence(id)
const { shape, where, draft, evidence, here, numbers, selected, pin, house } = state
const all = ref(false)

watch(
  [() => route.query.pin, () => state.page.value],
  ([uid]) => {
    const found = evidence.value.find((e) => e.uid === uid)
    if (found && selected.value !== uid && !draft.value) state.goTo(found)
  },
  { immediate: true },
)
const sides = computed(() => (shape.value ? sidesOf(shape.value.shape) : []))
const bodies = computed(() => shape.value?.shape.bodies ?? [])
const drawn = computed(() =>
  shape.value?.elevations.find((e) => e.body === where.value.body && e.face === where.value.face),
)
const side = computed(() => sides.value.find((s) => s.body === where.value.body && s.letter === where.value.face))
const pins = computed<DrawnPin[]>(() =>
  here.value
    .filter((e) => e.uid !== draft.value?.uid)
    .map((e) => ({
      uid: e.uid,
      at: [e.pin.place.x_m, e.pin.place.y_m] as Point,
      number: numbers.value.get(e.uid)!,
      label: state.kindName(e.pin.kind),
      explained: !!e.cause,
      inside: e.pin.side === 'inside',
      waiting: !!e.waiting,
    })),
)
const placing = computed<Point | null>(() => {
  const p = draft.value?.pin.place
  if (!p || p.view !== where.value.view) return null
  if (p.view === 'elevation' && (p.body !== where.value.body || p.face !== where.value.face)) return null
  return [p.x_m, p.y_m]
})
function pick(uid: string): void {
  if (draft.value) return
  selected.value = uid
}
function go(view: 'elevation' | 'plan' | 'section', body = where.value.body, face = where.value.face): void {
  where.value = { view, body, face }
}
const face = computed<string>({
  get: () => (where.value.view === 'elevation' ? `${where.value.body}/${where.value.face}` : where.value.view),
  set: (now) => {
    const [body, letter] = now.split('/')
    if (letter) go('elevation', body, letter)
    else go(now as 'plan' | 'section')
  },
})
function count(body: string, face: string): number {
  return evidence.value.filter(
    (e) => e.pin.place.view === 'elevation' && e.pin.place.body === body && e.pin.place.face === face,
  ).length
}
const listed = computed(() => (all.value ? evidence.value : here.value))
const open = computed(() => evidence.value.filter((e) => !e.cause).length)
const mechanism = (id: string): string => state.page.value?.mechanisms.find((m) => m.id === id)?.name ?? ''
const nothing = computed(() => shape.value && !bodies.value.length)
const COLUMNS: Column<(typeof listed.value)[number]>[] = [
  { name: 'pin', head: 'Pin' },
  { name: 'element', head: 'Element', text: (e) => state.elementName(e.element_id) },
  { name: 'seen', head: 'Seen', text: (e) => day(e.pin.seen_on, '–') },
  { name: 'cause', head: 'Cause' },
]
</script>

<template>
  <SheetPage title="Survey, evidence">
    <SurveyHead
      :project-id="id"
      here="evidence"
      title="Evidence"
      :sub="draft ? 'Press the drawing again to move the pin.' : 'Press the place where something is seen.'"
    />
    <p v-if="state.complaint.value" class="complaint" role="alert">{{ state.complaint.value }}</p>
    <ReadingNote v-if="!state.page.value && !state.complaint.value" what="the evidence" />
    <p v-if="nothing">
      Pins stand on the drawings: state the
      <RouterLink :to="{ name: 'survey', params: { project: id, view: 'shape' } }">shape</RouterLink> first.
    </p>
    <template v-if="shape && bodies.length">
      <ElRadioGroup v-model="face" class="faces" aria-label="What is drawn">
        <template v-for="b in bodies" :key="b.id">
          <span class="bodyname">{{ b.name }}</span>
          <ElRadioButton
            v-for="s in sides.filter((x) => x.body === b.id)"
            :key="s.letter"
            :value="`${b.id}/${s.letter}`"
          >
            {{ s.letter }} {{ s.facing }}<sup v-if="count(b.id, s.letter)">{{ count(b.id, s.letter) }}</sup
            ><span class="hidden">, {{ b.name }}</span>
          </ElRadioButton>
        </template>
        <ElRadioButton value="plan">Plan</ElRadioButton>
        <ElRadioButton value="section">Section</ElRadioButton>
      </ElRadioGroup>
      <div class="two" :class="{ form: draft }">
        <div>
          <FaceDrawing
            v-if="where.view === 'elevation' && drawn"
            :face="drawn"
            :label="`Face ${where.face} of ${side?.name}, faces ${side?.facing}, from outside`"
            :pins="pins"
            :selected="selected"
            :placing="placing"
            pressable
            @press="state.begin"
            @pick="pick"
          />
          <PlanDrawing
            v-if="where.view === 'plan'"
            :shape="shape.shape"
            :pins="pins"
            :selected="selected"
            :placing="placing"
            pressable
            @press="state.begin"
            @pick="pick"
          />
          <SectionSheet
            v-if="where.view === 'section' && house"
            :house="house"
            :pins="pins"
            :selected="selected"
            :placing="placing"
            @press="state.begin"
            @pick="pick"
          />
          <p v-if="where.view === 'elevation'" class="soft under">Seen from outside, also for what is seen inside.</p>
        </div>
        <PinForm v-if="draft" :key="draft.uid" :state="state" :project-id="id" />
      </div>
      <div class="bar">
        <h2>{{ all ? `All ${evidence.length} pins` : `${here.length} pin${here.length === 1 ? '' : 's'} here` }}</h2>
        <ElButton link @click="all = !all">
          {{ all ? 'only this drawing' : `all ${evidence.length}` }}
        </ElButton>
      </div>
      <RuledTable
        v-if="listed.length"
        class="listed"
        :rows="listed"
        :columns="COLUMNS"
        :mark="(e) => (e.uid === selected ? 'here' : '')"
      >
        <template #pin="{ row: e }">
          <ElButton link @click="state.goTo(e)">{{ numbers.get(e.uid) }}. {{ state.kindName(e.pin.kind) }}</ElButton>
        </template>
        <template #cause="{ row: e }">
          <template v-if="e.waiting">waits to be sent</template>
          <template v-else-if="e.cause">{{ mechanism(e.cause) }}</template>
          <span v-else class="over">open</span>
        </template>
      </RuledTable>
    </template>

    <template #margin>
      <PinDetail v-if="pin && !draft" :key="pin.uid" :state="state" :evidence="pin" :project-id="id" />
      <template v-else>
        <h3>
          {{ open ? `${open} pins without a cause` : evidence.length ? 'Every pin has its cause' : 'No pin yet' }}
        </h3>
        <p v-if="evidence.length">
          Confirm what the rules point to, or overrule them with a reason. From each cause follow the water items of its
          element.
        </p>
        <p v-else>Begin outside, in the rain, at the foundation; then roof, walls, openings, inside.</p>
      </template>
      <h3>What the rules know</h3>
      <p class="soft">
        Kind, height, face, season, neighbours and readings. Each pin lists the clues that fit it. They propose; they do
        not diagnose.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.faces {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  align-items: center;
  margin-bottom: 8px;
}
.bodyname {
  color: var(--soft);
  margin: 0 2px 0 8px;
}
.bodyname:first-child {
  margin-left: 0;
}
.faces :deep(.el-radio-button__inner) {
  padding: 4px 9px;
  border: 1px solid var(--rule);
  border-radius: 2px;
}
sup {
  margin-left: 3px;
  font-weight: 600;
}
.two.form {
  display: grid;
  grid-template-columns: minmax(0, 1.25fr) minmax(300px, 1fr);
  gap: 18px;
}
.two:not(.form) {
  max-width: calc(660px * v-bind(tall));
}
.under {
  text-align: center;
  margin: 0;
}
.bar {
  display: flex;
  justify-content: space-between;
  align-items: end;
  margin: 12px 0 4px;
}
@media (max-width: 900px), (pointer: coarse) {
  .faces :deep(.el-radio-button__inner) {
    min-width: 58px;
    padding: 12px 9px;
  }
  .two.form {
    grid-template-columns: 1fr;
  }
  .two:not(.form) {
    max-width: none;
  }
  .listed .el-button {
    min-height: 40px;
  }
}
</style>
