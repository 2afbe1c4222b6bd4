<script setup lang="ts">
/** What each element is made of as found, how each layer is known, and the list of what has to be opened up. */
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import HatchDefs from '@/drawing/HatchDefs.vue'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import { sendPhoto } from '@/shared/outbox'
import PhotoStrip from '@/shared/PhotoStrip.vue'
import { useProject } from '@/shared/project'
import { show } from '@/shared/units'
import GiveDialog from './GiveDialog.vue'
import SurveyHead from './SurveyHead.vue'
import ChoiceBar from '@/shared/ChoiceBar.vue'
import FileButton from '@/shared/FileButton.vue'
import { useAct, useAnswer } from '@/shared/query'

type Made = Schemas['MadeElement']
type Layer = Made['layers'][number]
const KNOWN = ['seen', 'probed', 'drawing', 'assumed'] as const
const route = useRoute()
const project = useProject()
const id = computed(() => Number(route.params.project))
const {
  data: page,
  complaint: unread,
  load,
} = useAnswer(
  () => ['made', id.value],
  () => take(api.GET('/api/projects/{project_id}/made', { params: { path: { project_id: id.value } } })),
)
const { complaint: refused, act } = useAct()
const complaint = computed(() => refused.value || unread.value)
const picked = ref<{ element: number; layer: string } | null>(null)

let queue: Promise<unknown> = Promise.resolve()
/** One change after the other, each from the page as it is then: a photo takes a while, and the layer may have changed. */
function change(made: Made, layer: Layer, to: Partial<Schemas['BuildUpLayer']>): Promise<unknown> {
  queue = queue.then(async () => {
    const now = page.value?.elements.find((e) => e.option_id === made.option_id) ?? made
    const layers = now.layers.map((l) => (l.layer.id === layer.layer.id ? { ...l.layer, ...to } : l.layer))
    const kept = await act(() =>
      take(
        api.PUT('/api/options/{option_id}', {
          params: { path: { option_id: now.option_id } },
          body: { revision: now.revision, build_up: { layers } as Schemas['BuildUp'] /* what it does not say stays */ },
        }),
      ),
    )
    await load()
    return kept
  })
  return queue
}
async function photograph(file: File, made: Made, layer: Layer): Promise<void> {
  let photo: string | undefined
  if (await act(async () => (photo = await sendPhoto(id.value, file, `${made.name}: ${layer.name}`))))
    await change(made, layer, { photo })
}
const WIDE = 430
/** Segments to scale within an element; sheets get a line of their own. */
function strip(made: Made) {
  const total = made.layers.reduce((sum, l) => sum + (l.layer.thickness_mm ?? 0), 0) || 1
  const sheets = made.layers.filter((l) => !l.layer.thickness_mm).length
  const scale = (WIDE - sheets * 7) / total
  let x = 0
  return made.layers.map((l) => {
    const w = l.layer.thickness_mm ? Math.max(l.layer.thickness_mm * scale, 3) : 7
    const at = x
    x += w
    return { l, x: at, w, sheet: !l.layer.thickness_mm }
  })
}
const hatch = (l: Layer): string => project.materials.get(l.layer.material)?.hatch ?? 'dots'
const isPicked = (made: Made, l: Layer): boolean =>
  picked.value?.element === made.element_id && picked.value.layer === l.layer.id
const byElement = computed(() => {
  const found = new Map<string, Schemas['OpeningUp'][]>()
  for (const o of page.value?.opening_up ?? []) found.set(o.element, [...(found.get(o.element) ?? []), o])
  return [...found.entries()]
})
const total = computed(() => page.value?.elements.reduce((sum, e) => sum + e.layers.length, 0) ?? 0)
const finishes = computed(() => page.value?.elements.filter((e) => e.stated && !e.finish_stated) ?? [])
const unstated = computed(() => page.value?.elements.filter((e) => !e.stated) ?? [])
const giving = ref<Made | null>(null)
const given = ref<{ given: number; entry: number } | null>(null)
async function gave(now: { given: number; entry: number }): Promise<void> {
  await load()
  giving.value = null
  given.value = now
}
async function takeBack(): Promise<void> {
  const entry = given.value?.entry
  if (entry === undefined) return
  await act(async () => {
    await take(
      api.DELETE('/api/projects/{project_id}/constructions/{entry_id}', {
        params: { path: { project_id: id.value, entry_id: entry } },
      }),
    )
    given.value = null
    await load()
    await project.open(id.value)
  })
}
function pickLayer(element: number, layer: string): void {
  picked.value = { element, layer }
  document.getElementById(`made-${element}`)?.scrollIntoView({ block: 'center' })
}
</script>

<template>
  <SheetPage title="Survey, construction">
    <HatchDefs />
    <SurveyHead
      :project-id="id"
      here="make"
      title="Construction"
      sub="As found, outside to the left. Press a layer to say how it is known."
    />
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <p v-if="given" role="status" data-given>
      Given to {{ given.given }} {{ given.given === 1 ? 'element' : 'elements' }}, assumed there.
      <ElButton link @click="takeBack">Take it back</ElButton>
    </p>
    <ReadingNote v-if="!page && !complaint" what="the layers" />
    <p v-if="page && !page.elements.length">
      No wall, roof or floor yet. They follow from the
      <RouterLink :to="{ name: 'survey', params: { project: id, view: 'shape' } }">shape</RouterLink>, or are added
      under Elements.
    </p>
    <section v-for="made in page?.elements" :id="`made-${made.element_id}`" :key="made.element_id" class="made">
      <div>
        <RouterLink :to="{ name: 'options', params: { project: id, element: made.element_id } }"
          ><b>{{ made.name }}</b></RouterLink
        >
        <p class="soft">
          {{ made.kind
          }}<template v-if="made.stated"
            >,
            {{
              show(
                made.layers.reduce((s, l) => s + (l.layer.thickness_mm ?? 0), 0),
                'thickness',
              )
            }}</template
          >
        </p>
        <ElButton link v-if="made.stated && (page?.elements.length ?? 0) > 1" @click="giving = made">
          give it to others
        </ElButton>
      </div>
      <div v-if="!made.stated" class="unstated">
        Not stated.
        <RouterLink :to="{ name: 'options', params: { project: id, element: made.element_id } }"
          >State its layers</RouterLink
        >
      </div>
      <div v-else>
        <svg :viewBox="`0 0 ${WIDE} 44`" role="listbox" :aria-label="`${made.name}, layers as found`">
          <g
            v-for="s in strip(made)"
            :key="s.l.layer.id"
            role="option"
            tabindex="0"
            class="layer"
            :class="{ here: isPicked(made, s.l), assumed: s.l.layer.known === 'assumed' }"
            :aria-selected="isPicked(made, s.l)"
            :aria-label="`${s.l.name}, ${s.l.layer.thickness_mm ? show(s.l.layer.thickness_mm, 'thickness') : 'thin'}, ${s.l.layer.known}`"
            @click="picked = { element: made.element_id, layer: s.l.layer.id }"
            @keydown.enter="picked = { element: made.element_id, layer: s.l.layer.id }"
          >
            <rect v-if="s.sheet" :x="s.x" y="0" :width="s.w" height="44" class="press" />
            <rect
              :x="s.sheet ? s.x + 2 : s.x"
              y="1"
              :width="s.sheet ? 3 : s.w"
              height="42"
              :fill="s.sheet ? 'var(--ink)' : `url(#h-${hatch(s.l)})`"
            />
            <title>{{ s.l.name }}, {{ s.l.layer.known }}</title>
          </g>
        </svg>
        <p class="names">
          <ElButton
            link
            v-for="l in made.layers"
            :key="l.layer.id"
            :class="{ assumed: l.layer.known === 'assumed', here: isPicked(made, l) }"
            @click="picked = { element: made.element_id, layer: l.layer.id }"
          >
            {{ l.name }}{{ l.layer.thickness_mm ? ` ${show(l.layer.thickness_mm, 'thickness')}` : '' }}
          </ElButton>
        </p>
        <template v-for="l in made.layers" :key="l.layer.id">
          <div v-if="isPicked(made, l)" class="bar">
            <b>{{ l.name }}</b>
            <ChoiceBar
              label="How it is known"
              :model-value="l.layer.known"
              :options="KNOWN.map((k) => [k, k] as const)"
              @update:model-value="(known) => known && change(made, l, { known })"
            />
            <FileButton
              :words="l.layer.photo ? 'Another photo' : 'Photo'"
              accept="image/*"
              @file="(file) => photograph(file, made, l)"
            />
            <RouterLink :to="{ name: 'options', params: { project: id, element: made.element_id } }"
              >change the layer</RouterLink
            >
            <PhotoStrip v-if="l.layer.photo" :project-id="id" :photos="[l.layer.photo]" />
          </div>
        </template>
      </div>
    </section>

    <GiveDialog
      v-if="giving"
      :project-id="id"
      :from="giving"
      :elements="page?.elements ?? []"
      @done="gave"
      @close="giving = null"
    />
    <template #margin>
      <template v-if="unstated.length">
        <h3>Not stated</h3>
        <p>
          {{ unstated.length }} of {{ page?.elements.length }} elements have no construction: no heat, no years, no
          readiness until they have. State one, then give it to the others that are built alike.
        </p>
      </template>
      <h3>{{ page?.opening_up.length ? 'To open up' : 'Nothing is only assumed' }}</h3>
      <p v-if="page?.opening_up.length">
        {{ page.opening_up.length }} of {{ total }} layers are only assumed. Open up before deciding:
      </p>
      <template v-for="[name, rows] in byElement" :key="name">
        <p class="open">
          <b>{{ name }}</b>
          <ElButton link v-for="o in rows" :key="o.layer_id" @click="pickLayer(o.element_id, o.layer_id)">
            {{ o.layer }}: {{ o.because }}
          </ElButton>
        </p>
      </template>
      <template v-if="finishes.length">
        <h3>Linings and paints</h3>
        <p>
          No finish is stated on the room side of {{ finishes.map((f) => f.name).join(', ') }}. Paint and paper decide
          how a wall dries inward: state them, or that there are none.
        </p>
      </template>
      <h3>Caution</h3>
      <p class="soft">
        Before opening up: old paint may hold lead, boards and lagging asbestos, voids droppings and bad air. Test
        first; the licensed trades decide.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.made {
  display: grid;
  grid-template-columns: 190px 1fr;
  gap: 6px 16px;
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
.made p {
  margin: 2px 0;
}
svg {
  width: 100%;
  max-width: 560px;
  display: block;
}
.layer {
  cursor: pointer;
}
.layer rect {
  stroke: var(--ink);
  stroke-width: 1;
}
.layer.assumed rect {
  stroke-dasharray: 3 3;
  opacity: 0.62;
}
.layer.here rect {
  stroke-width: 3;
  opacity: 1;
}
.layer .press {
  fill: transparent;
  stroke: none;
}
.unstated {
  border: 1px dashed var(--ink);
  padding: 8px 10px;
}
.names .el-button {
  text-decoration: none;
}
.names .el-button.assumed {
  font-style: italic;
  color: var(--soft);
}
.names .el-button.assumed::after {
  content: ' ?';
}
.names .el-button.here {
  text-decoration: underline;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  padding: 4px 0;
}
.open .el-button {
  display: flex;
}
@media (max-width: 900px) {
  .made {
    grid-template-columns: 1fr;
  }
}
</style>
