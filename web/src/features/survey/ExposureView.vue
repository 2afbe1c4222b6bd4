<script setup lang="ts">
/** Driven-rain exposure of each face, step by step, and what else wets it. */
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import { copy } from '@/shared/copy'
import QuantityInput from '@/shared/QuantityInput.vue'
import { useProject } from '@/shared/project'
import { said, show, unitOf, bare } from '@/shared/units'
import SurveyHead from './SurveyHead.vue'
import SelectField from '@/shared/SelectField.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { useAct, useAnswer } from '@/shared/query'
import { useShape } from './useShape'

type Rain = Schemas['FaceExposure']
const route = useRoute()
const project = useProject()
const id = computed(() => Number(route.params.project))
const rain = useAnswer(
  () => ['rain', id.value],
  () => take(api.GET('/api/projects/{project_id}/rain', { params: { path: { project_id: id.value } } })),
)
const outline = useShape(id)
const { complaint: refused, act } = useAct()
const complaint = computed(() => refused.value || rain.complaint.value || outline.complaint.value)
const faces = rain.data
const shape = outline.data
const picked = ref<number | null>(null)
watch(
  faces,
  (now) => {
    if (!now?.some((f) => f.element_id === picked.value)) picked.value = now?.[0]?.element_id ?? null
  },
  { immediate: true },
)
const face = computed(() => faces.value?.find((f) => f.element_id === picked.value))
function put(stated: Rain | null): void {
  const element_id = picked.value
  if (element_id === null) return
  void act(async () => {
    const path = { params: { path: { element_id } } }
    rain.put(await take(api.PUT('/api/elements/{element_id}/rain', { ...path, body: { rain: stated } })))
    void project.open(id.value)
  })
}
function set<K extends keyof Rain>(key: K, value: Rain[K]): void {
  if (face.value?.rain) void put({ ...face.value.rain, [key]: value })
}
function site(change: Partial<Schemas['Site']>): void {
  if (!shape.value) return
  const { revision, shape: drawn } = copy(shape.value)
  drawn.site = { ...drawn.site, ...change }
  void act(async () => {
    await take(
      api.PUT('/api/projects/{project_id}/shape', {
        params: { path: { project_id: id.value } },
        body: { revision, shape: drawn },
      }),
    )
    await Promise.all([rain.load(), outline.load()])
  })
}
const TERRAIN: [Schemas['Site']['terrain'], string][] = [
  ['I', 'I, open sea or lake shore'],
  ['II', 'II, farmland with hedges'],
  ['III', 'III, suburb or woods'],
  ['IV', 'IV, town'],
]
const faceColumns = computed<Column<Schemas['FaceRain']>[]>(() => [
  { name: 'face', head: 'Face' },
  { name: 'faces', head: 'Faces', text: (f) => `${f.facing}${f.rain_face ? ', rain side' : ''}` },
  {
    name: 'rain',
    head: `Driven rain, ${unitOf('rain').unit}`,
    figure: true,
    text: (f) => bare(f.driven_rain_mm, 'rain'),
  },
])
const STEPS: Column<Schemas['Step']>[] = [
  { name: 'name', text: (s) => s.name },
  { name: 'value', figure: true, text: (s) => s.value.toFixed(2) },
  { name: 'because', mark: 'soft', text: (s) => `${said(s.because)}${s.ours ? '; an estimate of ours' : ''}` },
]
</script>

<template>
  <SheetPage title="Survey, exposure">
    <SurveyHead
      :project-id="id"
      here="exposure"
      title="Exposure"
      sub="What reaches each face: driven rain in the steps of ISO 15927-3, splash, gutters."
    />
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <ReadingNote v-if="!faces && !complaint" what="the faces" />
    <p v-if="faces && !faces.length">No outside wall yet.</p>
    <ElForm v-if="shape && faces?.length" class="site" @submit.prevent>
      <SelectField
        label="Terrain round the place"
        :model-value="shape.shape.site.terrain"
        @change="site({ terrain: $event })"
      >
        <ElOption v-for="[t, words] in TERRAIN" :key="t" :value="t" :label="words" />
      </SelectField>
      <SelectField label="Position" :model-value="shape.shape.site.position" @change="site({ position: $event })">
        <ElOption v-for="p in ['level', 'foot', 'slope', 'crest']" :key="p" :value="p" :label="p" />
      </SelectField>
      <QuantityInput
        v-if="shape.shape.site.position !== 'level'"
        :model-value="shape.shape.site.upwind_slope"
        label="Upwind slope, rise over run"
        quantity="plain"
        :digits="2"
        :least="0"
        :most="1"
        @update:model-value="(v) => v !== null && site({ upwind_slope: v })"
      />
    </ElForm>
    <div v-if="faces?.length" class="two">
      <RuledTable
        class="faces"
        :rows="faces"
        :columns="faceColumns"
        :mark="(f) => (f.element_id === picked ? 'here' : '')"
      >
        <template #face="{ row: f }">
          <ElButton link :aria-pressed="f.element_id === picked" @click="picked = f.element_id">
            {{ f.name }}
          </ElButton>
          <span class="soft">{{ f.rain ? '' : ` “${f.exposure}”` }}</span>
        </template>
      </RuledTable>
      <section v-if="face" class="face">
        <h2>{{ face.name }}</h2>
        <template v-if="!face.rain">
          <p>Taken as “{{ face.exposure }}”, not surveyed in steps.</p>
          <ElButton type="primary" @click="put(face.suggested)">Survey it in steps</ElButton>
        </template>
        <ElForm v-else class="grid" @submit.prevent>
          <QuantityInput
            :model-value="face.rain.obstruction_m"
            label="Nearest obstacle as high"
            quantity="length"
            :digits="0"
            :least="0"
            :most="1000"
            optional
            @update:model-value="(v) => set('obstruction_m', v)"
          />
          <SelectField label="Wall" :model-value="face.rain.wall_form" @change="set('wall_form', $event)">
            <ElOption value="eaves" label="under eaves" />
            <ElOption value="gable" label="gable" />
            <ElOption value="flat_roofed" label="under a flat roof or parapet" />
          </SelectField>
          <QuantityInput
            :model-value="face.rain.storeys"
            label="Storeys"
            quantity="plain"
            :digits="0"
            :least="1"
            :most="12"
            @update:model-value="(v) => v !== null && set('storeys', v)"
          />
          <QuantityInput
            :model-value="face.rain.height_m"
            label="Height"
            quantity="length"
            :digits="1"
            :least="0.5"
            :most="100"
            @update:model-value="(v) => v !== null && set('height_m', v)"
          />
          <QuantityInput
            :model-value="face.rain.overhang_m"
            label="Overhang"
            quantity="length"
            :least="0"
            :most="10"
            @update:model-value="(v) => v !== null && set('overhang_m', v)"
          />
          <ElCheckbox class="check" :model-value="face.rain.wind_funnel" @change="set('wind_funnel', $event === true)"
            >wind funnel</ElCheckbox
          >
          <SelectField label="Ground at the foot" :model-value="face.rain.splash" @change="set('splash', $event)">
            <ElOption value="none" label="no splash" />
            <ElOption v-for="s in ['gravel', 'grass', 'paved']" :key="s" :value="s" :label="s" />
          </SelectField>
          <SelectField label="Gutters above" :model-value="face.rain.gutters" @change="set('gutters', $event)">
            <ElOption value="sound" label="sound" />
            <ElOption value="none" label="none" />
            <ElOption value="leaking" label="leaking" />
            <ElOption value="blocked" label="blocked" />
            <ElOption value="parapet_blocked" label="parapet gutter blocked" />
          </SelectField>
          <QuantityInput
            :model-value="face.rain.typed_factor"
            label="Product, typed instead"
            quantity="plain"
            :digits="2"
            :least="0"
            :most="3"
            optional
            @update:model-value="(v) => set('typed_factor', v)"
          />
          <ElCheckbox class="check" :model-value="face.rain.sprinklers" @change="set('sprinklers', $event === true)"
            >sprinklers reach it</ElCheckbox
          >
          <ElCheckbox
            class="check"
            :model-value="face.rain.reservoir_cladding"
            @change="set('reservoir_cladding', $event === true)"
            >cladding soaks rain</ElCheckbox
          >
          <ElButton link @click="put(null)">back to the word “{{ face.exposure }}”</ElButton>
        </ElForm>
        <RuledTable class="steps" headless sums :rows="face.steps.steps" :columns="STEPS">
          <template #sum-name>product</template>
          <template #sum-value>{{ face.product.toFixed(2) }}</template>
          <template #sum-because>
            {{ show(face.driven_rain_mm, 'rain') }} of driven rain in a year of the climate; the runs take it.
          </template>
        </RuledTable>
      </section>
    </div>

    <template #margin>
      <template v-if="face">
        <h3>{{ face.rain_face ? 'A rain face' : 'Not a rain face' }}</h3>
        <p>
          {{ face.name }} takes {{ show(face.driven_rain_mm, 'rain') }} of driven rain a year; from
          {{ show(face.rain_face_from_mm, 'rain') }} on it is called a rain face (ours).
        </p>
        <p v-if="face.strip !== 'whole'">The runs are of the {{ face.strip }} third, which takes most of it.</p>
        <template v-if="face.steps.not_in_the_runs.length">
          <h3>Not in the runs</h3>
          <p v-for="words in face.steps.not_in_the_runs" :key="words.metric">{{ said(words) }}.</p>
          <p class="soft">They wet the wall more than the runs know. They count as evidence; mend them first.</p>
        </template>
      </template>
      <h3>How sure</h3>
      <p class="soft">
        The tables are those commonly printed from ISO 15927-3; check yours. Overhang, funnel and topography are
        estimates and say so. A factor of two is usual between faces of one house.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.site {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 12px;
  margin-bottom: 12px;
}
.two {
  display: grid;
  grid-template-columns: minmax(260px, 0.8fr) 1.2fr;
  gap: 26px;
  align-items: start;
}
.grid {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 12px;
  align-items: end;
  margin: 8px 0 12px;
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 30px;
}
.steps :deep(td:first-child) {
  white-space: nowrap;
}
.steps :deep(tfoot td:last-child) {
  font-weight: 400;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
