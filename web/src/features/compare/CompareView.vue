<script setup lang="ts">
/** Options of an element in a table, the differences made plain; choose one and write why. */
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import ElementTabs from '@/shared/ElementTabs.vue'
import SheetPage from '@/shared/SheetPage.vue'
import ReadinessNote from '@/shared/ReadinessNote.vue'
import StateMark from '@/shared/StateMark.vue'
import { useProject } from '@/shared/project'
import { said, show, uName, unitOf } from '@/shared/units'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import TextField from '@/shared/TextField.vue'
import { useAct } from '@/shared/query'
import { useSheetAnswer } from '@/shared/sheet'

type Option = Schemas['OptionOut']
type Verdict = Schemas['Verdict']
const route = useRoute()
const project = useProject()
const projectId = computed(() => Number(route.params.project))
const elementId = computed(() => Number(route.params.element))
const { data: sheet, complaint: unread, load } = useSheetAnswer(elementId)
const { complaint: refused, act } = useAct()
const complaint = computed(() => refused.value || unread.value)
const picked = ref<number | null>(null)
const reason = ref('')
const kept = ref('')

watch(
  sheet,
  (now) => {
    picked.value = now?.element.chosen_id ?? null
    reason.value = now?.element.chosen_reason ?? ''
  },
  { immediate: true },
)

const options = computed(() => sheet.value?.options ?? [])
const found = computed(() => options.value[0])
function verdict(o: Option): Verdict | null {
  return o.run.state === 'current' ? (o.run.verdict ?? null) : null
}
const tested = (o: Option, words: string): string =>
  words ? words + (o.tests.stale ? ', out of date' : '') : 'not run'
function mould(o: Option): number | null {
  const values = verdict(o)
    ?.judgements.filter((j) => j.criterion === 'mould' && j.phase === 'for good')
    .map((j) => j.value)
  return values?.length ? Math.max(...values) : null
}
function state(o: Option): { state: string; words: string } {
  const v = verdict(o)
  if (!v)
    return {
      state: '',
      words: o.run.state === 'not available' ? o.run.doing || 'years not available yet' : o.run.state,
    }
  return o.role === 'as_found'
    ? { state: '', words: said(v.as_found_words) }
    : { state: v.state, words: said(v.headline) }
}
interface Row {
  label: string
  cell: (o: Option) => string
  /** smaller is better: the figure behind the bar, or none */
  bar?: (o: Option) => number | null
  tone?: 'heat' | 'water'
  /** the line on which one of them is chosen */
  choice?: boolean
}
const rows = computed<Row[]>(() => [
  {
    label: uName.value,
    cell: (o) => show(o.figures.thermal?.u_effective, 'transmittance'),
    bar: (o) => o.figures.thermal?.u_effective ?? null,
    tone: 'heat',
  },
  {
    label: `Heat loss`,
    cell: (o) => show(o.figures.loss_kwh_m2a, 'energyPerArea'),
    bar: (o) => o.figures.loss_kwh_m2a ?? null,
    tone: 'heat',
  },
  {
    label: 'Heat saved against as found',
    cell: (o) => {
      const before = found.value?.figures.loss_kwh_m2a
      const after = o.figures.loss_kwh_m2a
      if (o.role === 'as_found' || !before || after === null || after === undefined) return '–'
      return `${show(before - after, 'energyPerArea')}, ${Math.round((1 - after / before) * 100)} %`
    },
  },
  {
    label: 'Drying ability inward',
    cell: (o) => drying(o, 'inward'),
    bar: (o) => logOf(o.figures.drying?.inward.g_m2),
    tone: 'water',
  },
  {
    label: 'Drying ability outward',
    cell: (o) => drying(o, 'outward'),
    bar: (o) => logOf(o.figures.drying?.outward.g_m2),
    tone: 'water',
  },
  {
    label: 'Drying left against as found',
    cell: (o) => {
      const left = o.figures.drying_left
      if (o.role === 'as_found') return '–'
      if (left.share === null || left.share === undefined) return `no figure: ${left.why_not}`
      const only = o.figures.drying?.inward.liquid.length || o.figures.drying?.outward.liquid.length
      return `${(left.share * 100).toFixed(left.share < 0.1 ? 1 : 0)} %${only ? ', vapour only' : ''}`
    },
  },
  {
    label: 'Gets in a year, beside what rain the face gives back',
    cell: (o) => (verdict(o) ? show(o.run.wetting_kg_m2, 'water', 2) : '–'),
    bar: (o) => (verdict(o) ? (o.run.wetting_kg_m2 ?? null) : null),
    tone: 'water',
  },
  {
    label: 'Worst point, month',
    cell: (o) => {
      const p = verdict(o)?.worst_point
      return p ? `${Math.min(100, p.worst_month_rh * 100).toFixed(0)} % · ${p.worst_month}` : '–'
    },
    bar: (o) => (verdict(o) ? Math.max(0, verdict(o)!.worst_point.worst_month_rh - 0.5) : null),
    tone: 'water',
  },
  {
    label: 'Highest mould index judged',
    cell: (o) => (mould(o) === null ? '–' : mould(o)!.toFixed(1)),
    bar: mould,
    tone: 'water',
  },
  {
    label: 'Wetting test, mean stay',
    cell: (o) => {
      const w = o.tests.wetting
      if (!w) return 'not run'
      return `${w.mean_stay_days.toFixed(0)} days, ${Math.round(w.left_g / 10)} % left after a year${w.stale ? ', out of date' : ''}`
    },
    bar: (o) => (o.tests.wetting && !o.tests.wetting.stale ? o.tests.wetting.mean_stay_days : null),
    tone: 'water',
  },
  { label: 'Bad year', cell: (o) => tested(o, o.tests.bad_year ?? '') },
  {
    label: 'Study, draws over a limit',
    cell: (o) => tested(o, o.tests.study_runs ? `${o.tests.study_over} of ${o.tests.study_runs}` : ''),
  },
  { label: 'Room lost', cell: (o) => (o.role === 'as_found' ? '–' : show(o.figures.room_lost_mm, 'thickness')) },
  {
    label: 'Grows outside',
    cell: (o) => (o.role === 'as_found' ? '–' : show(o.figures.growth_outside_mm, 'thickness')),
  },
  { label: 'Limits passed', cell: (o) => o.figures.over_limits.map(said).join(' ') || 'none' },
  {
    label: 'Target',
    cell: (o) => {
      const target = sheet.value?.limits.target_u_w_m2k
      if (!target || !o.figures.thermal || o.role === 'as_found') return '–'
      return o.figures.thermal.u_effective <= target + 0.005 ? 'met' : `missed, target ${show(target, 'transmittance')}`
    },
  },
  {
    label: 'Monthly check, ISO 13788',
    cell: (o) => {
      const c = o.figures.condensation
      if (!c) return 'not for ground'
      if (!c.judged) return 'does not judge this'
      return c.peak_g_m2 < 1
        ? 'no condensation'
        : `${show(c.peak_g_m2, 'smallWater')}, ${c.dries_each_year ? 'dries' : 'does not dry'}`
    },
  },
  { label: 'Choose', cell: () => '', choice: true },
])
/** Vapour from the plane that could rot first, to one side; a layer that carries liquid there is named. */
function drying(o: Option, side: 'inward' | 'outward'): string {
  const d = o.figures.drying
  if (!d) return `no figure: ${o.figures.drying_left.why_not}`
  const liquid = d[side].liquid.length ? ', vapour only' : ''
  return `${show(d[side].g_m2, 'smallWater')} to ${d[side].to}${liquid}`
}
function logOf(grams: number | undefined): number | null {
  return grams === undefined ? null : Math.log10(Math.max(grams, 1))
}
function width(row: Row, o: Option): number {
  const all = options.value.map((x) => row.bar?.(x) ?? 0)
  const most = Math.max(...all, 1e-9)
  return Math.round(((row.bar?.(o) ?? 0) / most) * 100)
}
const planeWords = computed(() => {
  const plane = found.value?.figures.plane
  return plane ? `the ${plane.face} face of ${plane.layer}` : 'a plane'
})
const notJudged = computed(() => options.value.map((o) => verdict(o)).find((v) => v)?.not_judged ?? [])
const pickedOption = computed(() => options.value.find((o) => o.id === picked.value))
const warning = computed(() => {
  const o = pickedOption.value
  if (!o) return ''
  const v = verdict(o)
  if (!v) return 'The hourly years of this option were not run: the choice rests on steady figures alone.'
  return v.state === 'over a limit' ? `${said(v.headline)}. It can be chosen, and the reason stands beside it.` : ''
})
async function choose(): Promise<void> {
  kept.value = ''
  await act(async () => {
    await take(
      api.PUT('/api/elements/{element_id}/choice', {
        params: { path: { element_id: elementId.value } },
        body: { option_id: picked.value, reason: reason.value },
      }),
    )
    kept.value = picked.value === null ? 'No option is chosen now.' : 'The choice and its reason are kept.'
    await Promise.all([project.open(projectId.value), load()])
  })
}
async function takeBack(): Promise<void> {
  picked.value = null
  reason.value = ''
  await choose()
}
const radio = computed({ get: () => picked.value ?? undefined, set: (id) => (picked.value = id ?? null) })
const columns = computed<Column<Row>[]>(() => [
  { name: 'label', mark: 'row' },
  ...options.value.map((o) => ({ name: String(o.id), head: o.name, mark: o.id === picked.value ? 'picked' : '' })),
])
</script>

<template>
  <SheetPage title="Compare">
    <ElementTabs :project-id="projectId" :element-id="elementId" view="compare" />
    <p v-if="!sheet && !complaint" class="soft">Reading the options …</p>
    <div v-if="sheet" class="scroll">
      <p v-if="sheet.drowned" class="drowned" data-drowned>{{ said(sheet.drowned.words) }}</p>
      <RuledTable class="compare" :rows="rows" :columns="columns">
        <template #label="{ row }">{{ row.label }}</template>
        <template v-for="(o, i) in options" :key="o.id" #[`head-${o.id}`]>
          <span class="head">{{ i ? `${i}  ${o.name}` : o.name }}</span>
          <StateMark v-bind="state(o)" />
        </template>
        <template v-for="o in options" :key="o.id" #[o.id]="{ row }">
          <ElRadio v-if="row.choice && o.role !== 'as_found'" v-model="radio" :value="o.id">this one</ElRadio>
          <template v-else>
            {{ row.cell(o) }}
            <span
              v-if="row.bar && row.bar(o) !== null"
              class="bar"
              :class="row.tone"
              :style="{ width: `${width(row, o)}%` }"
              aria-hidden="true"
            />
          </template>
        </template>
      </RuledTable>
      <ElForm class="choice" @submit.prevent="choose">
        <TextField
          :label="`Why ${pickedOption ? `“${pickedOption.name}”` : ''}`"
          type="textarea"
          v-model="reason"
          :rows="3"
          maxlength="2000"
          name="reason"
          :disabled="picked === null"
          placeholder="What it rests on, what was rejected and why"
        />
        <p v-if="warning" class="over">{{ warning }}</p>
        <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
        <p v-if="kept" class="within" role="status">{{ kept }}</p>
        <ElButton type="primary" native-type="submit" :disabled="picked === null">Keep the choice</ElButton>
        <ElButton v-if="sheet.element.chosen_id" @click="takeBack">Take it back</ElButton>
      </ElForm>
    </div>
    <p v-else-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <template #margin>
      <ReadinessNote :element-id="elementId" />
      <template v-if="sheet">
        <h3>{{ sheet.element.chosen_id ? 'Chosen' : 'Not chosen yet' }}</h3>
        <p v-if="sheet.element.chosen_id">
          “{{ options.find((o) => o.id === sheet!.element.chosen_id)?.name }}”, by {{ sheet.element.chosen_by }}:
          {{ sheet.element.chosen_reason }}
        </p>
        <p v-else>Heat takes this element as found until an option is chosen.</p>
        <p v-if="sheet.element.choice_was" class="over" data-choice-was>
          {{
            sheet.element.choice_was === 'removed'
              ? `The chosen option was removed. It was chosen by ${sheet.element.chosen_by}: ${sheet.element.chosen_reason}`
              : 'The option was changed after it was chosen: the choice was of something else. Look again, and keep it or take it back.'
          }}
        </p>
        <template v-for="(o, i) in options" :key="o.id">
          <template v-if="i && verdict(o)">
            <h3>{{ i }} {{ said(verdict(o)!.headline) }}</h3>
            <p>
              {{ said(verdict(o)!.worst?.sentence) }}
              <template v-if="verdict(o)!.second">Next: {{ said(verdict(o)!.second!.sentence) }}</template>
            </p>
            <p class="soft">{{ said(verdict(o)!.drying_in) }}</p>
          </template>
        </template>
        <p class="soft">
          Drying ability: steady vapour from {{ planeWords }} at 100 % RH, April to September,
          {{ unitOf('smallWater').unit }}; liquid drying is left out and named. Bars of drying are logarithmic. The
          wetting test knows liquid: its mean stay ranks.
        </p>
        <p v-if="notJudged.length" class="soft">Not judged: {{ notJudged.map(said).join(', ') }}.</p>
      </template>
    </template>
  </SheetPage>
</template>

<style scoped>
.scroll {
  overflow: auto;
  margin-top: 12px;
  max-height: calc(100vh - 150px);
}
.compare :deep(.cell) {
  min-width: 128px;
}
.compare :deep(.row),
.compare :deep(thead th:first-child) {
  position: sticky;
  left: 0;
  background: var(--sheet);
  z-index: 1;
}
.compare :deep(thead th) {
  top: 0;
  color: var(--ink);
  vertical-align: bottom;
}
.compare :deep(thead th:first-child) {
  z-index: 3;
}
.compare :deep(.row) {
  color: var(--soft);
}
.drowned {
  border: 1px solid var(--ink);
  padding: 6px 10px;
  max-width: 820px;
}
.head {
  display: block;
  font-family: var(--serif);
  font-size: 15px;
  font-weight: 650;
  margin-bottom: 4px;
}
.picked {
  background: #f0ebdd;
}
.bar {
  display: block;
  height: 4px;
  margin-top: 2px;
  background: var(--ink);
}
.bar.heat {
  background: var(--heat);
}
.bar.water {
  background: var(--water);
}
.choice {
  margin-top: 16px;
  max-width: 640px;
}
.choice .el-button {
  margin: 8px 8px 0 0;
}
</style>
