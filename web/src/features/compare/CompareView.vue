<script setup lang="ts">
/** Options of an element in a table, the differences made plain; choose one and write why. */
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import ElementTabs from '@/shared/ElementTabs.vue'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import ReadinessNote from '@/shared/ReadinessNote.vue'
import StandsOn from '@/shared/StandsOn.vue'
import StateMark from '@/shared/StateMark.vue'
import { useProject } from '@/shared/project'
import { said, unitOf } from '@/shared/units'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import TextField from '@/shared/TextField.vue'
import { useAnswer } from '@/shared/query'
import BasesList from './BasesList.vue'
import CostsPanel from './CostsPanel.vue'
import DecisionHistory from './DecisionHistory.vue'
import RejectForm from './RejectForm.vue'
import { useChoice } from './useChoice'
import { rowsOf, state, verdict, type Option, type Row } from './rows'
import { useSheetAnswer } from '@/shared/sheet'

const route = useRoute()
const project = useProject()
const projectId = computed(() => Number(route.params.project))
const elementId = computed(() => Number(route.params.element))
const { data: sheet, complaint: unread, load } = useSheetAnswer(elementId)
/** The page first: which scheme is shown stands there. */
async function fresh(): Promise<void> {
  await project.open(projectId.value)
  await Promise.all([load(), costs.load()])
}
const choice = useChoice(sheet, fresh)
const { picked, reason, kept, canUndo, canRedo } = choice
const complaint = computed(() => choice.complaint.value || unread.value)

const options = computed(() => sheet.value?.options ?? [])
const found = computed(() => options.value[0])
const costs = useAnswer(
  () => ['costs', elementId.value],
  () => take(api.GET('/api/elements/{element_id}/costs', { params: { path: { element_id: elementId.value } } })),
  { fresh: true },
)
const costsOf = computed(() => new Map(costs.data.value?.options.map((one) => [one.option_id, one])))
/** Ids of materials by the names that cost lines have. */
const materialIds = computed(() => new Map([...project.materials.values()].map((m) => [m.name, m.id])))
const costed = computed(() => pickedOption.value ?? options.value[1])
const rows = computed(() => rowsOf(options.value, sheet.value?.limits.target_u_w_m2k ?? null, costsOf.value))
const LONGEST_PX = 120
/** Length of a bar: one scale over the columns of a row, whatever their widths. */
function length(row: Row, o: Option): string {
  const most = Math.max(...options.value.map((x) => row.bar?.(x) ?? 0), 1e-9)
  return `${Math.round(((row.bar?.(o) ?? 0) / most) * LONGEST_PX)}px`
}
/** The word alone: the head stays in sight, and the whole of it stands in the margin. */
function short(o: Option): ReturnType<typeof state> {
  const { state: shape, words } = state(o)
  return { state: shape, words: words.split(/[:;]/)[0]! }
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
/** Every other reading of the sheet is another page of decisions. */
const stamp = computed(() => [sheet.value?.element.chosen_at, options.value.map((o) => `${o.id} ${o.rejected_reason}`)])
const radio = computed({ get: () => picked.value ?? undefined, set: (id) => (picked.value = id ?? null) })
const columns = computed<Column<Row>[]>(() => [
  { name: 'label', mark: 'row' },
  ...options.value.map((o) => ({ name: String(o.id), head: o.name, mark: o.id === picked.value ? 'picked' : '' })),
])
</script>

<template>
  <SheetPage title="Compare" written>
    <ElementTabs :project-id="projectId" :element-id="elementId" view="compare" />
    <ReadingNote v-if="!sheet && !complaint" what="the options" />
    <div v-if="sheet" class="scroll">
      <p v-if="sheet.drowned" class="drowned" data-drowned>{{ said(sheet.drowned.words) }}</p>
      <RuledTable class="compare" :rows="rows" :columns="columns">
        <template #label="{ row }">{{ row.label }}</template>
        <template v-for="(o, i) in options" :key="o.id" #[`head-${o.id}`]>
          <span class="head">{{ i ? `${i}  ${o.name}` : o.name }}</span>
          <StateMark v-bind="short(o)" />
        </template>
        <template v-for="o in options" :key="o.id" #[o.id]="{ row }">
          <ElRadio v-if="row.choice && o.role !== 'as_found'" v-model="radio" :value="o.id">this one</ElRadio>
          <RejectForm
            v-else-if="row.reject && o.role !== 'as_found'"
            :option="o"
            :chosen="o.id === sheet!.element.chosen_id"
            @changed="load"
          />
          <template v-else>
            {{ row.cell(o) }}
            <span
              v-if="row.bar && row.bar(o) !== null"
              class="bar"
              :class="row.tone"
              :style="{ width: length(row, o) }"
              aria-hidden="true"
            />
          </template>
        </template>
      </RuledTable>
      <ElForm class="choice" @submit.prevent="choice.keep()">
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
        <ElButton v-if="sheet.element.chosen_id" @click="choice.takeBack()">Take it back</ElButton>
        <ElButton v-if="canUndo" title="Ctrl Z" @click="choice.undo()">Undo</ElButton>
        <ElButton v-if="canRedo" title="Ctrl Shift Z" @click="choice.redo()">Redo</ElButton>
      </ElForm>
      <template v-for="(o, i) in options" :key="o.id">
        <section v-if="i && o.tests.study_runs" class="stands">
          <h3>{{ i }} {{ o.name }}: the conditions it stands on</h3>
          <StandsOn :element-id="elementId" :option-id="o.id" />
        </section>
      </template>
      <CostsPanel
        v-if="costed && costsOf.get(costed.id)"
        :key="costed.id"
        :project-id="projectId"
        :costs="costsOf.get(costed.id)!"
        :name="costed.name"
        :area="costs.data.value!.area_m2"
        :currency="costs.data.value!.currency"
        :materials="materialIds"
        @changed="costs.load()"
      />
      <BasesList :project-id="projectId" :element-id="elementId" :options="options.slice(1)" />
      <DecisionHistory :element-id="elementId" :stamp="stamp" @changed="fresh" />
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
          {{ unitOf('smallWater').unit }}; liquid drying is left out and named. The wetting test knows liquid: its mean
          stay ranks.
        </p>
        <p class="soft">Bars begin at nothing, with one scale along a row. The shorter, the better.</p>
        <p v-if="costs.data.value" class="soft">{{ costs.data.value.carbon_note }}</p>
        <p v-if="notJudged.length" class="soft">Not judged: {{ notJudged.map(said).join(', ') }}.</p>
      </template>
    </template>
  </SheetPage>
</template>

<style scoped>
.scroll {
  overflow: auto;
  scroll-padding-top: 140px;
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
.compare :deep(thead th.el-table__cell) {
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
.stands {
  max-width: 820px;
  margin-top: 14px;
}
.choice {
  margin-top: 16px;
  max-width: 640px;
}
.choice .el-button {
  margin: 8px 8px 0 0;
}
</style>
