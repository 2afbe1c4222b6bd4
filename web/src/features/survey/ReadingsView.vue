<script setup lang="ts">
/** Surface temperatures with the U they suggest, wood moisture with its corrections, water uptake of a face. */
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import { copy } from '@/shared/copy'
import { day, today } from '@/shared/dates'
import { useProject } from '@/shared/project'
import { bare, isImperial, show, unitOf, said } from '@/shared/units'
import ReadingButtons from './ReadingButtons.vue'
import SurveyHead from './SurveyHead.vue'
import ReadingDialog from './ReadingDialog.vue'
import { useMeasurements, type Measurement, type MeasurementBody } from './useMeasurements'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'

const route = useRoute()
const project = useProject()
const id = computed(() => Number(route.params.project))
const { page, complaint, keep, remove, takeUptake, of } = useMeasurements(id)
const thermal = of('thermal')
const moisture = of('moisture')
const uptake = of('uptake')
type Kind = 'thermal' | 'moisture' | 'uptake'
const TITLES: Record<Kind, string> = {
  thermal: 'Surface temperature',
  moisture: 'Wood moisture',
  uptake: 'Water uptake of a face',
}
/** Nothing is read before somebody types it. */
const UNREAD = null as unknown as number
/** What a new reading of each kind starts with. */
const FRESH: { [K in Kind]: NonNullable<MeasurementBody[K]> } = {
  thermal: {
    inside_air_c: UNREAD,
    outside_air_c: UNREAD,
    surface_c: UNREAD,
    surface_error_k: 0.5,
    air_error_k: 0.5,
    hours_since_sun: null,
    steady_hours: null,
    wet_or_raining: false,
    shiny: false,
    near_heater: false,
  },
  moisture: {
    shown_percent: UNREAD,
    wood_temperature_c: UNREAD,
    species: 'softwood',
    offset_percent: null,
    salty_or_treated: false,
  },
  uptake: { layer: '', area_cm2: 5.7, rows: [[UNREAD, UNREAD]] },
}
const editing = ref<{ uid: string | null; body: MeasurementBody } | null>(null)

const title = (body: MeasurementBody): string => TITLES[body.kind as Kind]

function begin(kind: Kind): void {
  const body: MeasurementBody = {
    kind,
    stage: 'as found',
    element_id: null,
    measured_on: today(),
    place: '',
    instrument: '',
    note: '',
    leaks: [],
    base_revision: null,
    blower_door: null,
    thermal: null,
    moisture: null,
    uptake: null,
  }
  editing.value = { uid: null, body: { ...body, [kind]: copy(FRESH[kind]) } }
}
function edit(m: Measurement): void {
  editing.value = {
    uid: m.uid,
    body: copy({
      kind: m.kind as MeasurementBody['kind'],
      stage: m.stage,
      element_id: m.element_id,
      measured_on: m.measured_on,
      place: m.place,
      instrument: m.instrument,
      note: m.note,
      leaks: [],
      blower_door: null,
      thermal: m.thermal,
      moisture: m.moisture,
      uptake: m.uptake,
      base_revision: m.revision,
    }),
  }
}
async function save(): Promise<void> {
  const e = editing.value
  if (!e) return
  const uid = await keep(e.uid, copy(e.body) as MeasurementBody, title(e.body))
  if (uid) editing.value = null
}
const layers = computed(() => (page.value?.layers ?? []).filter((l) => l.element_id === editing.value?.body.element_id))
const name = (element: number | null): string => project.elements.find((e) => e.id === element)?.name ?? '–'
const nothing = (m: Measurement): boolean => !!m.estimated_u?.worth_nothing.length
function span(u: { low: number | null; high: number | null }): string {
  const ends = unitOf('transmittance').unit === 'R' ? [u.high, u.low] : [u.low, u.high]
  return ends.map((end) => bare(end, 'transmittance', 1)).join(' to ')
}
type Measured = (typeof thermal.value)[number]
const where: Column<Measured>[] = [
  { name: 'where', head: 'Where' },
  { name: 'when', head: 'When', text: (m) => day(m.measured_on) },
]
const act: Column<Measured> = { name: 'act', figure: true }
const thermalColumns = computed<Column<Measured>[]>(() => [
  ...where,
  {
    name: 'three',
    head: `Inside, surface, outside, ${unitOf('temperature').unit}`,
    figure: true,
    text: ({ thermal: t }) =>
      [t!.inside_air_c, t!.surface_c, t!.outside_air_c].map((c) => bare(c, 'temperature')).join(', '),
  },
  { name: 'u', head: 'U estimated', figure: true },
  {
    name: 'layers',
    head: 'U of the layers',
    figure: true,
    text: (m) => (m.computed_u_w_m2k ? show(m.computed_u_w_m2k, 'transmittance') : '–'),
  },
  act,
])
function corrected(m: Measured): string {
  if (!m.corrected) return m.refused ?? ''
  const { percent, uncertainty } = m.corrected
  return `${percent.toFixed(0)} ± ${uncertainty.toFixed(0)}${percent > 20 ? ', wet' : ''}`
}
const moistureColumns = computed<Column<Measured>[]>(() => [
  ...where,
  {
    name: 'meter',
    head: 'Meter',
    text: ({ moisture: w }) => `${w!.species}, ${show(w!.wood_temperature_c, 'temperature', 0)}`,
  },
  { name: 'shown', head: 'Shown, %', figure: true, text: (m) => m.moisture!.shown_percent.toFixed(0) },
  {
    name: 'corrected',
    head: 'Corrected, mass-%',
    figure: true,
    text: corrected,
    mark: (m) => ((m.corrected?.percent ?? 0) > 20 ? 'over' : ''),
  },
  { name: 'worth', head: 'Worth', mark: 'soft', text: (m) => m.corrected?.notes.join('; ') ?? '' },
  act,
])
function last(m: Measured): string {
  const [minutes, ml] = m.uptake!.rows.at(-1)!
  return `${ml} ml in ${minutes} min on ${show(m.uptake!.area_cm2, 'leakArea', 1)}`
}
const uptakeColumns = computed<Column<Measured>[]>(() => [
  ...where,
  { name: 'layer', head: 'Layer', text: (m) => m.layer },
  { name: 'last', head: 'Last reading', figure: true, text: last },
  { name: 'a', head: `A, ${unitOf('uptake').unit}`, figure: true },
  {
    name: 'runs',
    head: 'in the runs',
    figure: true,
    text: (m) => (m.in_runs_kg_m2s05 ? bare(m.in_runs_kg_m2s05, 'uptake', 2) : '–'),
  },
  act,
])
</script>

<template>
  <SheetPage title="Survey, readings">
    <SurveyHead
      :project-id="id"
      here="readings"
      title="Readings"
      sub="Surface temperatures, wood moisture and water uptake, with what they are worth."
    />
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <ReadingNote v-if="!page && !complaint" />
    <section v-if="page">
      <div class="bar">
        <h2>Surface temperatures</h2>
        <ElButton @click="begin('thermal')">Add a surface temperature</ElButton>
      </div>
      <p v-if="!thermal.length" class="soft">
        None yet. Best before sunrise, after a day of steady heating and 10 K across the wall.
      </p>
      <RuledTable
        v-else
        label="Surface temperatures"
        :rows="thermal"
        :columns="thermalColumns"
        :key-of="(m) => m.uid"
        :opened="nothing"
      >
        <template #where="{ row: m }">
          {{ name(m.element_id) }}<br /><span class="soft">{{ m.place }}</span>
        </template>
        <template #u="{ row: m }">
          <span v-if="nothing(m)" class="over">worth nothing</span>
          <template v-else-if="m.estimated_u?.u_w_m2k">
            {{ show(m.estimated_u.u_w_m2k, 'transmittance', 1) }}<br /><span class="soft">{{
              span(m.estimated_u)
            }}</span>
          </template>
        </template>
        <template #act="{ row: m }">
          <ReadingButtons :place="m.place" @edit="edit(m)" @remove="remove(m.uid)" />
        </template>
        <template #below="{ row: m }">
          <span class="over">{{ m.estimated_u!.worth_nothing.map(said).join('; ') }}.</span>
        </template>
      </RuledTable>

      <div class="bar">
        <h2>Wood moisture</h2>
        <ElButton @click="begin('moisture')">Add a wood moisture</ElButton>
      </div>
      <p v-if="!moisture.length" class="soft">None yet. Joist ends, plates, rafter feet, sills.</p>
      <RuledTable v-else label="Wood moisture" :rows="moisture" :columns="moistureColumns">
        <template #where="{ row: m }">
          {{ name(m.element_id) }}<br /><span class="soft">{{ m.place }}</span>
        </template>
        <template #act="{ row: m }">
          <ReadingButtons :place="m.place" @edit="edit(m)" @remove="remove(m.uid)" />
        </template>
      </RuledTable>

      <div class="bar">
        <h2>Water uptake</h2>
        <ElButton @click="begin('uptake')">Add a water uptake</ElButton>
      </div>
      <p v-if="!uptake.length" class="soft">
        None yet. A tube or a wetted pad on the stones and on the joints of the face that is rained on: nothing else of
        a stone wall decides as much.
      </p>
      <RuledTable
        v-else
        class="uptake"
        label="Water uptake"
        :rows="uptake"
        :columns="uptakeColumns"
        :key-of="(m) => m.uid"
        :opened="(m) => !!m.measured?.notes.length"
      >
        <template #where="{ row: m }">
          {{ name(m.element_id) }}<br /><span class="soft">{{ m.place }}</span>
        </template>
        <template #a="{ row: m }">
          <template v-if="m.measured">{{ bare(m.measured.a_value_kg_m2s05, 'uptake', 2) }}</template>
          <span v-else class="over">{{ m.refused }}</span>
        </template>
        <template #act="{ row: m }">
          <ReadingButtons :place="m.place" @edit="edit(m)" @remove="remove(m.uid)">
            <ElButton v-if="m.measured" link @click="takeUptake(m.uid)"> take it into the runs </ElButton>
          </ReadingButtons>
        </template>
        <template #below="{ row: m }">
          <span class="soft">{{ m.measured!.notes.map(said).join('; ') }}.</span>
        </template>
      </RuledTable>
    </section>

    <ReadingDialog
      v-if="editing"
      v-model="editing.body"
      :title="title(editing.body)"
      :complaint="complaint"
      :species="page?.species ?? []"
      :layers="layers"
      @keep="save"
      @leave="editing = null"
    />

    <template #margin>
      <h3>What a surface temperature is worth</h3>
      <p>
        A spot value. It is worth nothing with less than {{ isImperial ? '18 °F' : '10 K' }} across the wall, after sun,
        in rain, on shiny faces, or while the heating swings; heavy walls lag by a day.
      </p>
      <p class="soft">The range shown is two standard uncertainties: surface resistance, both temperatures.</p>
      <h3>What a meter is worth</h3>
      <p>
        Corrected for the wood’s temperature and species. Above fibre saturation it only says wet; salts and
        preservatives raise it.
      </p>
      <h3>What an uptake is worth</h3>
      <p>
        What spread sideways behind a small tube is taken off (Haverkamp 1994). Readings of one layer count together, by
        their geometric mean; a joint next to a stone differs by ten.
      </p>
      <h3>Limits</h3>
      <p class="soft">
        Above 20 % wood is watched, above 25 % for long it rots. A dry reading in a dry week is no proof.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.bar {
  display: flex;
  justify-content: space-between;
  align-items: end;
  margin: 14px 0 6px;
}
</style>
