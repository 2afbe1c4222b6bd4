<script setup lang="ts">
/** The building from few dimensions; what follows is shown as one types and kept on asking. */
import { useDebounceFn, useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, Problem, sentence, take, takeAs, type Schemas } from '@/api/client'
import SheetPage from '@/shared/SheetPage.vue'
import { copy } from '@/shared/copy'
import QuantityInput from '@/shared/QuantityInput.vue'
import { useProject } from '@/shared/project'
import { bare, said, show, unitOf } from '@/shared/units'
import BodyForm from './BodyForm.vue'
import { facingWord } from './elements'
import FaceDrawing from './FaceDrawing.vue'
import OpeningDialog from './OpeningDialog.vue'
import PlanDrawing from './PlanDrawing.vue'
import { LETTERS, mainBody, openingOn, wing, type Opening, type Shape } from './shapes'
import SurveyHead from './SurveyHead.vue'
import SelectField from '@/shared/SelectField.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import TextField from '@/shared/TextField.vue'
import { useShape } from './useShape'

const route = useRoute()
const project = useProject()
const id = computed(() => Number(route.params.project))
const { data: server, complaint: unread, load, put } = useShape(id, true)
const kept = ref<Schemas['ShapeOut'] | null>(null)
const found = ref<Schemas['ShapeOut'] | null>(null)
const shape = ref<Shape | null>(null)
const complaint = ref('')
const refused = ref(false)
const clash = ref(false)
const body = ref('')
const face = ref('a')
const opening = ref<{ entry: Opening; fresh: boolean } | null>(null)
const drafts = useStorage<Record<string, { revision: number; shape: Shape }>>('wendrick-shape-drafts', {})
const changed = computed(
  () => !!shape.value && !!kept.value && JSON.stringify(shape.value) !== JSON.stringify(kept.value.shape),
)

/** As it is kept, or as the draft of this device left it. */
function unfold(): void {
  if (!server.value) return
  kept.value = copy(server.value)
  found.value = kept.value
  const draft = drafts.value[id.value]
  shape.value = copy(draft?.shape ?? kept.value.shape) as Shape
  if (!shape.value.bodies.some((b) => b.id === body.value)) body.value = shape.value.bodies[0]?.id ?? ''
  complaint.value = ''
  refused.value = false
  clash.value = false
}
watch(server, unfold, { immediate: true })

let asked = 0
const preview = useDebounceFn(async () => {
  if (!shape.value) return
  const now = ++asked
  try {
    const answer = await takeAs<Schemas['ShapeOut']>(
      api.POST('/api/projects/{project_id}/shape/preview', {
        params: { path: { project_id: id.value } },
        body: { shape: copy(shape.value) },
      }),
    )
    if (now !== asked) return
    found.value = answer
    // a clash stays on the screen until it is settled
    if (!clash.value) complaint.value = answer.refused
    refused.value = !!answer.refused
  } catch (error) {
    if (now !== asked) return
    complaint.value = sentence(error)
    refused.value = true
  }
}, 180)
watch(
  shape,
  () => {
    if (!shape.value || !kept.value) return
    if (changed.value) drafts.value[id.value] = { revision: kept.value.revision, shape: copy(shape.value) }
    else delete drafts.value[id.value]
    void preview()
  },
  { deep: true },
)
async function keep(over = false): Promise<void> {
  if (!shape.value || !kept.value) return
  try {
    const revision = over ? null : (drafts.value[id.value]?.revision ?? kept.value.revision)
    const answer = await takeAs<Schemas['ShapeOut']>(
      api.PUT('/api/projects/{project_id}/shape', {
        params: { path: { project_id: id.value } },
        body: { revision, shape: copy(shape.value) },
      }),
    )
    delete drafts.value[id.value]
    put(answer)
    unfold()
    await project.open(id.value)
  } catch (error) {
    clash.value = error instanceof Problem && error.code === 'changed_meanwhile'
    complaint.value = sentence(error)
  }
}
function back(): void {
  delete drafts.value[id.value]
  unfold()
  void load()
}

const current = computed({
  get: () => shape.value?.bodies.find((b) => b.id === body.value),
  set: () => undefined,
})
const letter = computed(() => (LETTERS.indexOf(face.value) < (current.value?.outline.length ?? 0) ? face.value : 'a'))
const drawn = computed(() => found.value?.elevations.find((e) => e.body === body.value && e.face === letter.value))
function addMain(): void {
  if (!shape.value) return
  shape.value.bodies.push(mainBody(shape.value))
  body.value = shape.value.bodies.at(-1)!.id
}
function addWing(): void {
  if (!shape.value || !current.value) return
  const made = wing(shape.value, current.value, letter.value)
  shape.value.bodies.push(made)
  body.value = made.id
  face.value = 'a'
}
function removeBody(): void {
  const s = shape.value
  if (!s) return
  s.bodies = s.bodies.filter((b) => b.id !== body.value)
  s.openings = s.openings.filter((o) => o.body !== body.value)
  s.parts = s.parts.filter((p) => p.body !== body.value)
  body.value = s.bodies[0]?.id ?? ''
}
function keepOpening(entry: Opening): void {
  const s = shape.value
  if (!s) return
  const index = s.openings.findIndex((o) => o.id === entry.id)
  if (index < 0) s.openings.push(entry)
  else s.openings.splice(index, 1, entry)
  opening.value = null
}
const parts = computed(() => shape.value?.parts.find((p) => p.body === body.value && p.face === letter.value))
function split(): void {
  shape.value?.parts.push({
    body: body.value,
    face: letter.value,
    parts: [
      { id: 'one', name: 'filled', share: 0.7 },
      { id: 'two', name: 'empty', share: 0.3 },
    ],
  })
}
function share(index: number, percent: number | null): void {
  const all = parts.value?.parts
  if (!all || percent === null) return
  const last = index === all.length - 1 ? 0 : all.length - 1
  all[index]!.share = Math.round(percent * 10) / 1000
  const rest = 1 - all.reduce((sum, p, i) => (i === last ? sum : sum + p.share), 0)
  all[last]!.share = Math.round(rest * 1000) / 1000
}
function together(): void {
  if (shape.value) shape.value.parts = shape.value.parts.filter((p) => p !== parts.value)
}
const bodyName = (of: string): string => shape.value?.bodies.find((b) => b.id === of)?.name ?? of
const changes = computed(() => {
  if (!found.value || !kept.value) return ''
  const before = new Set(kept.value.derived.map((d) => d.element.key))
  const after = new Set(found.value.derived.map((d) => d.element.key))
  const fresh = [...after].filter((k) => !before.has(k)).length
  const gone = [...before].filter((k) => !after.has(k)).length
  return [fresh && `${fresh} new`, gone && `${gone} no longer in it`].filter(Boolean).join(', ') || 'same elements'
})
async function follow(element: number, field: Schemas['Disagreement']['field']): Promise<void> {
  if (field === 'volume_m3' || field === 'floor_area_m2') return // of the building: typed empty under Elements
  await take(
    api.POST('/api/elements/{element_id}/follow/{field}', { params: { path: { element_id: element, field } } }),
  )
  await Promise.all([project.open(id.value), load()])
}
const FIELD: Record<string, string> = {
  area_m2: 'area',
  facing_deg: 'facing',
  slope_deg: 'slope',
  factor_b: 'b',
  volume_m3: 'volume',
  floor_area_m2: 'floor area',
}
const asRead = (value: number, field: string): string =>
  field === 'area_m2' || field === 'floor_area_m2'
    ? show(value, 'area')
    : field === 'volume_m3'
      ? show(value, 'volume')
      : String(Math.round(value * 100) / 100)
const openingColumns = computed<Column<Schemas['Opening']>[]>(() => [
  { name: 'what', head: 'What', text: (o) => o.name },
  { name: 'where', head: 'Where', text: (o) => `${bodyName(o.body)}, ${o.face}` },
  { name: 'count', head: 'Count', figure: true, text: (o) => o.count },
  {
    name: 'size',
    head: `Width × height, ${unitOf('length').unit}`,
    figure: true,
    text: (o) => `${bare(o.width_m, 'length')} × ${bare(o.height_m, 'length')}`,
  },
  { name: 'glass', head: 'Frame, glazing', text: glass },
  {
    name: 'reveal',
    head: `Reveal, margin, ${unitOf('thickness').unit}`,
    figure: true,
    text: (o) => `${bare(o.reveal_mm, 'thickness')}, ${bare(o.margin_mm, 'thickness')}`,
  },
  { name: 'act', figure: true },
])
function glass(o: Schemas['Opening']): string {
  return `${o.frame.replace('_', ' ')}, ${o.glazing.replaceAll('_', ' ')}${o.secondary === 'none' ? '' : ', secondary'}`
}
const derivedColumns = computed<Column<Schemas['DerivedOut']>[]>(() => [
  { name: 'element', head: 'Element', text: (d) => d.element.name },
  {
    name: 'faces',
    head: 'Faces',
    text: ({ element: e }) => (e.kind === 'floor' || e.slope_deg === 0 ? '–' : facingWord(e.facing_deg)),
  },
  {
    name: 'gross',
    head: `Gross, ${unitOf('area').unit}`,
    figure: true,
    text: (d) => bare(d.element.gross_area_m2, 'area'),
  },
  { name: 'net', head: 'Net', figure: true, text: (d) => bare(d.net_area_m2, 'area') },
  { name: 'how', head: 'How', mark: 'soft', text: (d) => said(d.element.arithmetic) },
])
</script>

<template>
  <SheetPage title="Survey, shape">
    <SurveyHead
      :project-id="id"
      here="shape"
      title="Shape"
      sub="Outer dimensions from the plan; press a face in the plan to see it."
    />
    <p v-if="complaint || unread" class="complaint" role="alert">
      {{ complaint || unread }}
      <template v-if="clash">
        <ElButton link @click="back">Take theirs</ElButton>
        <ElButton link @click="keep(true)">Write mine over it</ElButton>
      </template>
    </p>
    <p v-if="!shape && !complaint" class="soft">Reading the shape …</p>
    <template v-if="shape">
      <div v-if="!shape.bodies.length" class="empty">
        <p>No shape yet. Start with the main body: a rectangle, its storeys and its roof. Wings join its faces.</p>
        <ElButton type="primary" @click="addMain">Start with a rectangle</ElButton>
      </div>
      <template v-else>
        <div class="keepbar" :class="{ on: changed }">
          <span v-if="changed"><b>Not kept yet:</b> {{ changes }}.</span>
          <span v-else class="soft">Kept. {{ found?.derived.length }} elements follow from it.</span>
          <span>
            <ElButton v-if="changed" @click="back">Back to what was kept</ElButton>
            <ElButton type="primary" :disabled="!changed || refused" @click="keep()"> Keep the shape </ElButton>
          </span>
        </div>
        <div class="drawings">
          <PlanDrawing :shape="shape" :body="body" :face="letter" @face="(b, f) => ((body = b), (face = f))" />
          <div>
            <FaceDrawing
              v-if="drawn"
              :face="drawn"
              :label="`Face ${letter} of ${bodyName(body)} from outside`"
              :high="300"
            />
            <div class="facebar">
              <b>{{ bodyName(body) }}, face {{ letter }}</b>
              <ElButton @click="opening = { entry: openingOn(shape, body, letter), fresh: true }">
                Add windows or a door
              </ElButton>
              <ElButton @click="addWing">Add a wing here</ElButton>
              <ElButton v-if="!parts" @click="split">Made in parts</ElButton>
            </div>
            <div v-if="parts" class="parts">
              <p class="soft">
                This face is made in parts; each is an element of its own, drawn in this order from below.
              </p>
              <div v-for="(p, i) in parts.parts" :key="p.id" class="part">
                <TextField label="Part" v-model.lazy="p.name" maxlength="80" />
                <QuantityInput
                  :model-value="p.share * 100"
                  label="Share, %"
                  quantity="plain"
                  :digits="0"
                  :least="1"
                  :most="99"
                  @update:model-value="(v) => share(i, v)"
                />
              </div>
              <ElButton link @click="together">One make again</ElButton>
            </div>
          </div>
        </div>

        <div class="site">
          <QuantityInput
            v-model="shape.up_bearing_deg"
            label="Up in the plan points to, °"
            quantity="plain"
            :digits="0"
            :least="0"
            :most="359.9"
          />
          <SelectField label="Dimensions are" v-model="shape.outlines">
            <ElOption value="external" label="outer" />
            <ElOption value="internal" label="inner" />
          </SelectField>
          <SelectField label="Areas count" v-model="shape.areas">
            <ElOption value="internal" label="inside faces" />
            <ElOption value="external" label="outside faces" />
          </SelectField>
        </div>

        <section v-if="current" class="body">
          <div class="bar">
            <h2>{{ current.name }}</h2>
            <span class="bodies" role="group" aria-label="Part of the building">
              <ElButton
                v-for="b in shape.bodies"
                :key="b.id"
                :aria-pressed="b.id === body"
                :class="{ solid: b.id === body }"
                @click="body = b.id"
              >
                {{ b.name }}
              </ElButton>
              <ElButton link v-if="shape.bodies.length > 1" @click="removeBody"> remove this one </ElButton>
            </span>
          </div>
          <BodyForm v-model="current" />
        </section>

        <section>
          <div class="bar"><h2>Windows and doors</h2></div>
          <p v-if="!shape.openings.length" class="soft">None yet. Pick a face, then “Add windows or a door”.</p>
          <RuledTable v-else :rows="shape.openings" :columns="openingColumns">
            <template #act="{ row: o }">
              <ElButton link :aria-label="`Edit ${o.name}`" @click="opening = { entry: o, fresh: false }">
                edit
              </ElButton>
              <ElButton
                link
                :aria-label="`Remove ${o.name}`"
                @click="shape.openings = shape.openings.filter((x) => x.id !== o.id)"
              >
                remove
              </ElButton>
            </template>
          </RuledTable>
        </section>

        <section v-if="found?.derived.length">
          <div class="bar"><h2>Elements that follow</h2></div>
          <RuledTable :rows="found.derived" :columns="derivedColumns" />
        </section>
      </template>
    </template>
    <OpeningDialog
      v-if="opening && shape"
      :opening="opening.entry"
      :shape="shape"
      :fresh="opening.fresh"
      @keep="keepOpening"
      @leave="opening = null"
    />

    <template #margin>
      <template v-if="found && found.derived.length">
        <h3>{{ show(found.volume_m3, 'volume') }}, {{ show(found.floor_area_m2, 'area', 0) }}</h3>
        <p>
          Heated volume and floor area; envelope {{ show(found.envelope_m2, 'area', 0) }}, footprint
          {{ show(found.footprint_m2, 'area', 0) }}.
        </p>
        <p v-for="words in found.arithmetic" :key="words.metric" class="soft">{{ said(words) }}</p>
        <p v-for="words in found.notes" :key="words.metric">{{ said(words) }}.</p>
      </template>
      <template v-if="kept?.disagreements.length">
        <h3>Typed by hand</h3>
        <p v-for="d in kept.disagreements" :key="`${d.element_id} ${d.field}`">
          <b>{{ d.name }}</b>: {{ FIELD[d.field] ?? d.field }} {{ asRead(d.by_hand, d.field) }} stays; the shape says
          {{ asRead(d.shape_says, d.field) }}.
          <ElButton link v-if="d.element_id !== null" @click="follow(d.element_id, d.field)">
            follow the shape
          </ElButton>
        </p>
      </template>
      <template v-if="kept?.gone.length">
        <h3>No longer in the shape</h3>
        <p>
          {{ kept.gone.length }} element{{ kept.gone.length === 1 ? '' : 's' }} kept with options and evidence:
          {{
            project.elements
              .filter((e) => kept!.gone.includes(e.id))
              .map((e) => e.name)
              .join(', ')
          }}. Remove them under Elements if they are not wanted.
        </p>
      </template>
      <h3>What the shape leaves out</h3>
      <p class="soft">
        Valleys between roofs, bays and dormers are not cut: correct the areas by hand under Elements; what is typed
        stays.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.empty {
  margin: 40px 0;
  font: 17px/1.5 var(--serif);
  max-width: 520px;
}
.keepbar {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 4px 8px;
  border: 1px solid transparent;
}
.keepbar.on {
  border-color: var(--ink);
  background: #efe6cf;
}
.drawings {
  display: grid;
  grid-template-columns: 0.8fr 1fr;
  gap: 12px;
}
.facebar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  margin-top: 6px;
}
.facebar b {
  flex: 1 0 auto;
}
.part {
  display: grid;
  grid-template-columns: 2fr 1fr;
  gap: 10px;
}
.site {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 12px;
  border-top: 1px solid var(--rule);
  padding-top: 8px;
}
.bar {
  display: flex;
  justify-content: space-between;
  align-items: end;
  margin: 18px 0 6px;
}
.bodies .el-button,
.keepbar .el-button {
  margin-left: 6px;
}
@media (max-width: 900px) {
  .drawings {
    grid-template-columns: 1fr;
  }
}
</style>
