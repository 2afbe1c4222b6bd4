<script setup lang="ts">
/** The building from few dimensions; what follows is shown as one types and kept on asking. */
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import QuantityInput from '@/shared/QuantityInput.vue'
import RuledTable from '@/shared/RuledTable.vue'
import SelectField from '@/shared/SelectField.vue'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import { useProject } from '@/shared/project'
import type { Column } from '@/shared/table'
import { bare, said, unitOf } from '@/shared/units'
import BodyForm from './BodyForm.vue'
import { facingWord } from './elements'
import FaceDrawing from './FaceDrawing.vue'
import FaceParts from './FaceParts.vue'
import OpeningDialog from './OpeningDialog.vue'
import OpeningsTable from './OpeningsTable.vue'
import PlanDrawing from './PlanDrawing.vue'
import ShapeMargin from './ShapeMargin.vue'
import { LETTERS, mainBody, openingOn, wing, type Opening } from './shapes'
import SurveyHead from './SurveyHead.vue'
import { useShapeDraft } from './useShapeDraft'

const route = useRoute()
const id = computed(() => Number(route.params.project))
const router = useRouter()
/** The scheme whose shape is drawn; null: the building as found. */
const scheme = computed(() => Number(route.query.scheme) || null)
const draft = useShapeDraft(id, scheme)
const project = useProject()
const schemes = computed(() => project.page?.schemes ?? [])
const whose = computed({
  get: () => scheme.value ?? 0,
  set: (pk: number) => void router.replace({ query: pk ? { scheme: pk } : {} }),
})
const { kept, found, shape, complaint, refused, clash, changed, changes, unread, keep, back } = draft
const body = ref('')
const face = ref('a')
const opening = ref<{ entry: Opening; fresh: boolean } | null>(null)
/** The part of the building in hand is one there is. */
watch(
  shape,
  (now) => {
    if (now && !now.bodies.some((b) => b.id === body.value)) body.value = now.bodies[0]?.id ?? ''
  },
  { immediate: true },
)

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
function together(): void {
  if (shape.value) shape.value.parts = shape.value.parts.filter((p) => p !== parts.value)
}
const bodyName = (of: string): string => shape.value?.bodies.find((b) => b.id === of)?.name ?? of
const STANDS = { both: 'before and after', before: 'before only', after: 'new' }
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
  ...(scheme.value
    ? [{ name: 'stands', head: 'Heated line', text: (d: Schemas['DerivedOut']) => STANDS[d.stands] }]
    : []),
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
    <SelectField v-if="schemes.length" v-model="whose" class="whose" label="Shape" name="whose">
      <ElOption :value="0" label="as found" />
      <ElOption v-for="s in schemes" :key="s.id" :value="s.id" :label="`after the works: ${s.name}`" />
    </SelectField>
    <p v-if="complaint || unread" class="complaint" role="alert">
      {{ complaint || unread }}
      <template v-if="clash">
        <ElButton link @click="back">Take theirs</ElButton>
        <ElButton link @click="keep(true)">Write mine over it</ElButton>
      </template>
    </p>
    <ReadingNote v-if="!shape && !complaint" what="the shape" />
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
            <FaceParts v-if="parts" v-model="parts" @together="together" />
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
          <OpeningsTable
            v-else
            :shape="shape"
            @edit="(o) => (opening = { entry: o, fresh: false })"
            @remove="(o) => (shape!.openings = shape!.openings.filter((x) => x.id !== o.id))"
          />
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

    <template #margin><ShapeMargin :found="found" :kept="kept" @follow="draft.follow" /></template>
  </SheetPage>
</template>

<style scoped>
.whose {
  max-width: 340px;
}
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
