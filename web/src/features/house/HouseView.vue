<script setup lang="ts">
/** The project's home: a section through the building, with heat, damp or control layers over it. */
import { useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, takeAs } from '@/api/client'
import HatchDefs from '@/drawing/HatchDefs.vue'
import SheetPage from '@/shared/SheetPage.vue'
import ReadinessMark from '@/shared/ReadinessMark.vue'
import { mayBeCovered } from '@/shared/readiness'
import { useProject } from '@/shared/project'
import { byShare, capital, show } from '@/shared/units'
import CutPicker from './CutPicker.vue'
import LinePanel from './LinePanel.vue'
import SectionDrawing from '@/shared/section/SectionDrawing.vue'
import type { House } from '@/shared/house'
import { change, gapsOf, type Lens } from '@/shared/section/useSection'
import ChoiceBar from '@/shared/ChoiceBar.vue'
import { useAnswer } from '@/shared/query'

const route = useRoute()
const project = useProject()
const router = useRouter()
const id = computed(() => Number(route.params.project))
const house = ref<House | null>(null)
const selected = ref<number | null>(null)
const mark = ref<number | null>(null)
const lens = useStorage<Lens>('wendrick-lens', 'heat')
const LENSES: [Lens, string, string][] = [
  ['heat', 'Heat', 'Outline as found, solid after the chosen options; as wide as the loss.'],
  ['damp', 'Damp', 'The wettest month of each element as found or chosen; pins where something was seen.'],
  ['line', 'Line', 'Where the heated line runs: dashed as found, drawn through after the works of the scheme.'],
  ['layers', 'Layers', 'Rain, air, vapour and heat control layer of each build-up; a number where a line stops.'],
]
const cut = ref<{ axis: 'x' | 'y'; at: number } | null>(null)
/** With the line in hand the section is of the shape that the scheme makes. */
const after = computed(() => lens.value === 'line')
const { data, complaint, load } = useAnswer(
  () => ['house', id.value, cut.value, after.value],
  () =>
    takeAs<House>(
      api.GET('/api/projects/{project_id}/house', {
        params: { path: { project_id: id.value }, query: { ...cut.value, after: after.value } },
      }),
    ),
  { every: (now) => !!now?.years_to_come && 5000 },
)
/** The section before stays while the next place of the cut is asked for. */
watch(data, (now) => now && (house.value = now), { immediate: true })
watch(
  id,
  () => {
    cut.value = null
    house.value = null
  },
  { immediate: true },
)

const elements = computed(() => new Map((house.value?.elements ?? []).map((e) => [e.element_id, e])))
function open(element: number): void {
  const e = elements.value.get(element)
  if (e && e.kind !== 'window' && e.kind !== 'door')
    void router.push({ name: 'options', params: { project: id.value, element } })
  else void router.push({ name: 'survey', params: { project: id.value, view: 'elements' } })
}
function toPin(uid: string): void {
  void router.push({ name: 'survey', params: { project: id.value, view: 'evidence' }, query: { pin: uid } })
}
/** Whether the loss after the works is of something else than as found: by a choice, planned windows, the air aimed at, or the line. */
const changed = computed(() => {
  const h = house.value
  if (!h?.total_before_w_k || h.total_after_w_k === null) return false
  const differs = Math.abs(h.total_after_w_k - h.total_before_w_k) > 0.005 * h.total_before_w_k
  return h.chosen > 0 || h.line.moved.length > 0 || differs
})
/** As found, of what is heated after the works where the line moves. */
const likeBefore = computed(() => house.value?.like_for_like_w_k ?? house.value?.total_before_w_k ?? 0)
const savedWords = computed(() => {
  const h = house.value
  if (!h?.total_before_w_k || !changed.value) return 'Nothing is chosen yet; the loss is as found.'
  const after = h.total_after_w_k!
  if (h.like_for_like_w_k)
    return `Like for like ${byShare(h.like_for_like_w_k, after)}: of the rooms that are heated after the works. As it is heated today the house loses ${show(h.total_before_w_k, 'coefficient')}.`
  if (h.line.moved.length)
    return 'The heated line moves: both losses are of other rooms, and like for like is not known while something is not stated.'
  return `${capital(byShare(h.total_before_w_k, after))} heat loss by the chosen options, planned windows and the air aimed at.`
})
/** Of what is in the line after the works: nothing else is covered. */
const left = computed(() => new Set(project.elements.filter((e) => e.in_line === 'before').map((e) => e.id)))
const notReady = computed(() =>
  (house.value?.elements ?? []).filter((e) => !mayBeCovered(e.readiness.state) && !left.value.has(e.element_id)),
)
const overridden = computed(() =>
  (house.value?.elements ?? []).filter((e) => e.readiness.state === 'ready by override'),
)
async function moved(): Promise<void> {
  await Promise.all([project.open(id.value), load()])
}
const gaps = computed(() => gapsOf(house.value))
</script>

<template>
  <SheetPage title="House section">
    <HatchDefs />
    <div class="top">
      <div>
        <h1>House section</h1>
        <p class="soft">{{ LENSES.find(([l]) => l === lens)?.[2] }}</p>
      </div>
      <CutPicker v-if="house?.bands.length" :house="house" @cut="(axis, at) => (cut = { axis, at })" />
      <span v-else />
      <ChoiceBar
        v-model="lens"
        class="lenses"
        label="Lens"
        :options="LENSES.map(([l, words]) => [l, words] as const)"
      />
    </div>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <p v-if="!house && !complaint" class="soft">Drawing the section …</p>
    <p v-if="house?.years_to_come" class="soft" role="status" data-to-come>
      {{ house.years_to_come }} hourly {{ house.years_to_come === 1 ? 'run is' : 'runs are' }} still to come; what they
      say appears here by itself.
    </p>
    <template v-if="house && !house.outlines.length">
      <p class="empty">
        Nothing to cut yet. State the plan, the storeys and the roof, and the section draws itself:
        <RouterLink :to="{ name: 'survey', params: { project: id, view: 'shape' } }">Survey, shape</RouterLink>. Begin
        with the <RouterLink :to="{ name: 'brief', params: { project: id } }">brief</RouterLink> if the client has not
        been asked yet.
      </p>
    </template>
    <p v-else-if="house?.refused" class="complaint">{{ house.refused }}</p>
    <p v-else-if="house && !house.bands.length" class="soft">The cut meets no part of the building; move it.</p>
    <SectionDrawing
      v-if="house?.bands.length"
      :house="house"
      :lens="lens"
      :selected="selected"
      :mark="mark"
      @open="open"
      @pin="toPin"
      @gap="(n) => (mark = n)"
    />
    <LinePanel v-if="house?.bands.length && lens === 'line'" :house="house" :project-id="id" @moved="moved" />
    <template v-if="house">
      <div v-if="lens === 'heat' && house.listed.length" class="listed">
        <h2>Not a band of this section</h2>
        <ul>
          <li v-for="row in house.listed" :key="row.name">
            <b>{{ row.name }}</b> {{ change(row.before_w_k, row.after_w_k) }}
          </li>
        </ul>
      </div>
      <p v-if="lens === 'layers' && house.bands.length" class="legend">
        <span><i class="rain" />rain</span><span><i class="air" />air</span><span><i class="vapour" />vapour</span
        ><span><i class="heat" />heat</span>
        <span class="soft">Where both sides have a line, that it is carried across is not judged here.</span>
      </p>
      <p v-if="lens === 'damp' && house.bands.length" class="legend">
        <span
          ><i class="box" style="background: repeating-linear-gradient(45deg, #fbf9f3 0 4px, #8d8572 4px 5px)" />years
          not run</span
        >
        <span><i class="box" style="background: #fbf9f3" />below 66 %</span>
        <span><i class="box" style="background: #8fb1a8" />78 to 84 %</span>
        <span><i class="box" style="background: #1f6a70" />90 to 96 %</span>
        <span>○ ready</span><span>◐ by override</span><span>× open</span><span>? not looked at</span>
        <span>▽ evidence, filled when its cause is confirmed</span>
      </p>
      <div v-if="house.not_in_the_shape.length" class="listed">
        <h2>Elements that are not in the shape</h2>
        <ul>
          <li v-for="e in house.not_in_the_shape" :key="e.element_id">
            <ElButton link @click="open(e.element_id)">{{ e.name }}</ElButton> {{ e.as_found }}
          </li>
        </ul>
      </div>
    </template>

    <template #margin>
      <template v-if="house">
        <template v-if="house.total_before_w_k">
          <h3>{{ change(likeBefore, house.total_after_w_k ?? house.total_before_w_k) }}</h3>
          <p data-saved>
            {{ savedWords }}
            <RouterLink v-if="changed" :to="{ name: 'heat', params: { project: id } }">How it adds up</RouterLink
            ><template v-if="changed">.</template>
          </p>
          <p v-for="words in house.missing" :key="words" class="marginal">Not in it: {{ words }}.</p>
        </template>
        <template v-if="lens === 'line'">
          <h3>What the scheme does to it</h3>
          <ul v-if="house.line.moved.length" class="moved">
            <li v-for="words in house.line.moved" :key="words">{{ words }}</li>
          </ul>
          <p v-else>Nothing: the line runs as found.</p>
          <p class="soft">
            A space that is left out gets colder and damper than it was; one that is taken in has to be tight, dry and
            insulated round. Look at Balance for the air of what is left out.
          </p>
        </template>
        <template v-else-if="lens === 'layers'">
          <ElButton
            text
            v-for="g in gaps"
            :key="g.number"
            class="block gapnote"
            :class="{ here: mark === g.number }"
            @click="mark = g.number"
          >
            <span class="ring" aria-hidden="true">{{ g.number }}</span>
            <span>
              <b>{{ capital(g.joint) }}</b>
              <span v-for="[line, words] in g.lines" :key="line"
                >{{ capital(line) }} stops. <span class="soft">{{ words }}</span></span
              >
            </span>
          </ElButton>
          <p v-if="!gaps.length" class="soft">No line stops at a joint of this section.</p>
          <p class="soft">
            Rules read from the layers, as found or chosen. Whether the air line is tight only a blower door shows.
          </p>
        </template>
        <template v-else>
          <h3>{{ notReady.length ? 'Not ready to be covered' : 'Every element is ready' }}</h3>
          <ElButton
            text
            v-for="e in notReady.slice(0, 8)"
            :key="e.element_id"
            class="block state"
            @mouseenter="selected = e.element_id"
            @focus="selected = e.element_id"
            @mouseleave="selected = null"
            @click="router.push({ name: 'water', params: { project: id }, query: { element: e.element_id } })"
          >
            <ReadinessMark :state="e.readiness.state" /> <b>{{ e.name }}</b>
            <span class="why">{{ e.readiness.reasons.join('; ') }}</span>
          </ElButton>
          <p v-if="notReady.length > 8" class="soft">
            and {{ notReady.length - 8 }} more:
            <RouterLink :to="{ name: 'water', params: { project: id } }">Water</RouterLink>
          </p>
          <p v-for="e in overridden" :key="e.element_id">
            <ReadinessMark state="ready by override" /> <b>{{ e.name }}</b>: {{ e.readiness.reasons[0] }}
          </p>
        </template>
        <h3>What is drawn</h3>
        <p class="soft">
          Shape from the survey; thicknesses drawn {{ show(80, 'thickness') }} + 1.25 times the real ones, so that thin
          things are seen.
        </p>
      </template>
    </template>
  </SheetPage>
</template>

<style scoped>
.top {
  display: grid;
  grid-template-columns: minmax(200px, 1fr) auto auto;
  gap: 8px 22px;
  align-items: start;
}
.top p {
  margin: 2px 0 0;
}
@media (max-width: 1100px) {
  .top {
    grid-template-columns: 1fr auto;
  }
}
.empty {
  max-width: 520px;
  margin-top: 40px;
  font: 17px/1.5 var(--serif);
}
.listed h2 {
  font-size: 14px;
  margin: 8px 0 4px;
}
.listed ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 2px 18px;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  font-size: 13px;
}
.legend i {
  display: inline-block;
  width: 34px;
  height: 0;
  border-top: 3px solid var(--water);
  margin-right: 6px;
  vertical-align: middle;
}
.legend .air {
  border-top: 2px dashed var(--ink);
}
.legend .vapour {
  border-top: 3px dotted #5a4a86;
}
.legend .heat {
  border-top: 4px double var(--heat);
}
.legend .box {
  width: 14px;
  height: 14px;
  border: 1px solid var(--ink);
}
.state,
.gapnote {
  border-left: 3px solid transparent;
  margin-left: -11px !important;
  padding: 3px 0 3px 8px;
}
.state :deep(> span) {
  display: block;
}
.why {
  color: var(--soft);
  display: block;
}
.gapnote :deep(> span > span:last-child > *) {
  display: block;
}
.gapnote .soft {
  display: inline !important;
}
.gapnote.here {
  border-left-color: var(--ink);
}
.ring {
  border: 1.3px solid var(--ink);
  border-radius: 50%;
  width: 20px;
  height: 20px;
  line-height: 17px;
  text-align: center;
  font-size: 12px;
  flex: none;
}
</style>
