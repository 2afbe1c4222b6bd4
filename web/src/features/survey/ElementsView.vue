<script setup lang="ts">
/** The building and its elements: what is there, where it stands, how far it may grow. */
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import { LINE_WORDS, useProject, type Element } from '@/shared/project'
import { bare, show, unitOf } from '@/shared/units'
import ElementDialog from './ElementDialog.vue'
import SurveyHead from './SurveyHead.vue'
import {
  adjoiningWords,
  blankElement,
  facesWords,
  kindWords,
  limitWords,
  rainWords,
  type ElementFields,
} from './elements'
import { useProjectFields } from './useProjectFields'
import SelectField from '@/shared/SelectField.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import TextField from '@/shared/TextField.vue'

const route = useRoute()
const router = useRouter()
const project = useProject()
const id = computed(() => Number(route.params.project))
const { fields, complaint, saved } = useProjectFields(id)
const editing = ref<{ id: number | null; fields: ElementFields } | null>(null)
const removing = ref<Element | null>(null)

const climate = computed(() => project.library?.climates.find((c) => c.name === fields.value?.climate))
const missing = computed(() => {
  const f = fields.value
  if (!f) return []
  return [
    f.volume_m3 === null && 'heated volume',
    f.floor_area_m2 === null && 'floor area',
    f.air_value === null && 'air changes',
    !project.elements.length && 'elements',
  ].filter(Boolean)
})
function edit(element: Element): void {
  const copy: Record<string, unknown> = { ...element }
  for (const key of Object.keys(copy)) if (!(key in blankElement())) delete copy[key]
  editing.value = { id: element.id, fields: copy as unknown as ElementFields }
}
/** over: written over what another window kept meanwhile. */
async function keep(element: ElementFields, over: boolean): Promise<void> {
  const of = editing.value
  if (!of) return
  if (of.id === null)
    await take(
      api.POST('/api/projects/{project_id}/elements', { params: { path: { project_id: id.value } }, body: element }),
    )
  else
    await take(
      api.PUT('/api/elements/{element_id}', {
        params: { path: { element_id: of.id } },
        body: { ...element, began_from: over ? null : of.fields },
      }),
    )
  editing.value = null
  await project.open(id.value)
}
/** What the other window kept, in place of what was typed here. */
async function takeTheirs(): Promise<void> {
  const of = editing.value?.id
  editing.value = null
  await project.open(id.value)
  const theirs = project.elements.find((one) => one.id === of)
  if (theirs) edit(theirs)
}
async function remove(): Promise<void> {
  if (!removing.value) return
  await take(api.DELETE('/api/elements/{element_id}', { params: { path: { element_id: removing.value.id } } }))
  removing.value = null
  await project.open(id.value)
}
const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'] // prettier-ignore
const worksDays = MONTHS.map((word, i) => ({ value: `${String(i + 1).padStart(2, '0')}-01`, word: `1 ${word}` }))
async function removeProject(): Promise<void> {
  await take(api.DELETE('/api/projects/{project_id}', { params: { path: { project_id: id.value } } }))
  await router.push('/projects')
}
const removingProject = ref(false)
async function follow(e: Element, field: Element['typed'][number]): Promise<void> {
  await take(api.POST('/api/elements/{element_id}/follow/{field}', { params: { path: { element_id: e.id, field } } }))
  await project.open(id.value)
}
const saysArea = (e: Element): number | null =>
  e.from_shape && e.typed.includes('area_m2') ? e.from_shape.area_m2 : null
const columns = computed<Column<(typeof project.elements)[number]>[]>(() => [
  { name: 'element', head: 'Element' },
  { name: 'kind', head: 'Kind', text: kindWords },
  { name: 'area', head: `Area, ${unitOf('area').unit}`, figure: true },
  { name: 'faces', head: 'Faces', text: facesWords },
  { name: 'adjoins', head: 'Adjoins', text: adjoiningWords },
  { name: 'rain', head: 'Rain', text: rainWords },
  { name: 'limits', head: 'Room, outside limit', text: limitWords },
  {
    name: 'target',
    head: 'Target',
    figure: true,
    text: (e) => (e.target_u_w_m2k ? show(e.target_u_w_m2k, 'transmittance') : '–'),
  },
  { name: 'act', figure: true },
])
</script>

<template>
  <SheetPage title="Survey, elements" written>
    <SurveyHead :project-id="id" here="elements" title="Elements" />
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <ReadingNote v-if="!fields" what="the project" />
    <template v-else>
      <section class="building" aria-label="Building">
        <TextField class="wide" label="Name" v-model.lazy="fields.name" maxlength="120" />
        <SelectField label="Climate" v-model="fields.climate">
          <ElOption
            v-for="c in project.library?.climates"
            :key="c.name"
            :value="c.name"
            :label="`${c.label}, ${c.origin}`"
          />
        </SelectField>
        <SelectField label="Indoor air" v-model="fields.occupancy">
          <ElOption v-for="one in project.library?.indoor" :key="one.name" :value="one.name" :label="one.label" />
        </SelectField>
        <QuantityInput v-model="fields.set_point_c!" label="Set-point" quantity="temperature" :least="5" :most="30" />
        <SelectField label="Works on, month and day" v-model="fields.works_on" name="works-on">
          <ElOption v-for="d in worksDays" :key="d.value" :value="d.value" :label="d.word" />
        </SelectField>
        <SelectField label="Soil" v-model="fields.soil">
          <ElOption v-for="one in ['clay or silt', 'sand or gravel', 'rock']" :key="one" :value="one" :label="one" />
        </SelectField>
        <QuantityInput v-model="fields.volume_m3!" label="Heated volume" quantity="volume" :least="1" optional />
        <QuantityInput v-model="fields.floor_area_m2!" label="Floor area" quantity="area" :least="1" optional />
        <SelectField label="Air changes as" v-model="fields.air_kind">
          <ElOption value="n50" label="n50 of a blower door" />
          <ElOption value="natural" label="natural air changes" />
        </SelectField>
        <QuantityInput
          v-model="fields.air_value!"
          :label="fields.air_kind === 'n50' ? 'n50 as found, 1/h' : 'Air changes as found, 1/h'"
          quantity="plain"
          :digits="2"
          :least="0"
          :most="60"
          optional
        />
        <QuantityInput
          v-model="fields.air_value_after!"
          :label="fields.air_kind === 'n50' ? 'n50 after, aimed at, 1/h' : 'Air changes after, 1/h'"
          quantity="plain"
          :digits="2"
          :least="0"
          :most="60"
          optional
        />
        <span class="soft kept" aria-live="polite">{{ saved }}</span>
      </section>

      <div class="bar">
        <h2>Elements</h2>
        <ElButton type="primary" @click="editing = { id: null, fields: blankElement() }"> Add an element </ElButton>
      </div>
      <p v-if="!project.elements.length">
        Nothing surveyed yet. Add the first element: a wall face, a roof slope, a floor, windows.
      </p>
      <RuledTable v-else :rows="project.elements" :columns="columns">
        <template #element="{ row: e }">
          <RouterLink
            v-if="e.kind !== 'window' && e.kind !== 'door'"
            :to="{ name: 'options', params: { project: id, element: e.id } }"
            >{{ e.name }}</RouterLink
          >
          <span v-else>{{ e.name }}</span>
          <span v-if="e.from_shape?.gone" class="marginal"> no longer in the shape</span>
          <span v-else-if="LINE_WORDS[e.in_line ?? 'both']" class="soft"> {{ LINE_WORDS[e.in_line ?? 'both'] }}</span>
        </template>
        <template #area="{ row: e }">
          {{ bare(e.area_m2, 'area') }}
          <span v-if="saysArea(e) !== null" class="typed"
            >typed; shape {{ bare(saysArea(e), 'area') }}
            <ElButton link :aria-label="`${e.name} follows the shape again`" @click="follow(e, 'area_m2')">
              follow
            </ElButton></span
          >
        </template>
        <template #act="{ row: e }">
          <ElButton link :aria-label="`Edit ${e.name}`" @click="edit(e)">edit</ElButton>
          <ElButton link :aria-label="`Remove ${e.name}`" @click="removing = e">remove</ElButton>
        </template>
      </RuledTable>
    </template>

    <template #margin>
      <h3>{{ missing.length ? 'Still open' : 'Survey complete' }}</h3>
      <p v-if="missing.length">{{ missing.join(', ') }}. Heat needs them.</p>
      <p v-else>Every figure that Heat needs is stated.</p>
      <template v-if="climate">
        <h3>{{ climate.label }}</h3>
        <p>
          A climate <b>{{ climate.origin }}</b>: mean {{ show(climate.mean_temperature_c, 'temperature') }},
          {{ show(climate.rain_mm, 'rain') }} of rain in a year, coldest 24 hours
          {{ show(climate.design_temperature_c, 'temperature') }}.
        </p>
      </template>
      <h3>How a layer is known</h3>
      <p>Open an element to draw its as-found layers and say of each: seen, probed, from a drawing, or assumed.</p>
      <h3>Caution</h3>
      <p class="soft">
        Before opening up: old paint may hold lead, boards and lagging asbestos, voids droppings and bad air. Test
        first; the licensed trades decide.
      </p>
      <h3>Changes</h3>
      <ul class="history">
        <li v-for="h in project.page?.history.slice(0, 8)" :key="h.at + h.what">{{ h.person }} {{ h.what }}</li>
      </ul>
      <ElButton link @click="removingProject = true">Delete this project</ElButton>
    </template>

    <ElementDialog
      v-if="editing"
      :fields="editing.fields"
      :fresh="editing.id === null"
      :keep="keep"
      @leave="editing = null"
      @theirs="takeTheirs"
    />
    <ElDialog :model-value="!!removing" title="Remove this element?" width="420" align-center @close="removing = null">
      <p>“{{ removing?.name }}”, its options and their runs go with it.</p>
      <template #footer>
        <ElButton @click="removing = null">Keep it</ElButton>
        <ElButton type="primary" @click="remove">Remove it</ElButton>
      </template>
    </ElDialog>
    <ElDialog v-model="removingProject" title="Delete this project?" width="420" align-center>
      <p>
        “{{ fields?.name }}” with all elements, options and runs. Export it first if you may want it back:
        <a :href="`/api/projects/${id}/export`" download>project file</a>.
      </p>
      <template #footer>
        <ElButton @click="removingProject = false">Keep it</ElButton>
        <ElButton type="primary" @click="removeProject">Delete it</ElButton>
      </template>
    </ElDialog>
  </SheetPage>
</template>

<style scoped>
.building {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(168px, 1fr));
  gap: 10px 16px;
  margin: 14px 0 24px;
  padding-bottom: 18px;
  border-bottom: 1px solid var(--rule);
  align-items: start;
}
.wide {
  grid-column: span 2;
}
.kept {
  align-self: end;
}
.bar {
  display: flex;
  justify-content: space-between;
  align-items: end;
  margin-bottom: 8px;
}
.typed {
  display: block;
  color: var(--soft);
  font-size: 13px;
}
.history {
  padding-left: 16px;
  color: var(--soft);
  font-size: 13px;
}
.el-button + .el-button {
  margin-left: 8px;
}
</style>
