<script setup lang="ts">
/** Blower door: readings in, the line of ISO 9972 with its confidence, checks, leaks with their place. */
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '@/api/client'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import { day } from '@/shared/dates'
import { useProject } from '@/shared/project'
import { useSession } from '@/shared/session'
import { bare, said, show, unitOf } from '@/shared/units'
import BlowerConditions from './BlowerConditions.vue'
import FlowChart from './FlowChart.vue'
import LeaksFound from './LeaksFound.vue'
import SurveyHead from './SurveyHead.vue'
import { BLANK, useBlower } from './useBlower'
import FileButton from '@/shared/FileButton.vue'
import SelectField from '@/shared/SelectField.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import TextField from '@/shared/TextField.vue'

const route = useRoute()
const session = useSession()
const project = useProject()
const id = computed(() => Number(route.params.project))
const {
  page,
  complaint,
  tests,
  picked,
  edited,
  pasting,
  unit,
  row,
  test,
  save,
  make,
  gauge,
  paste,
  file,
  addRow,
  removeRow,
  takeN50,
  remove,
} = useBlower(id)
const result = computed(() => test.value?.airtightness ?? null)
const between = (i: Schemas['Interval'], digits: number): string =>
  `${i.value.toFixed(digits)} (${i.low.toFixed(digits)} to ${i.high.toFixed(digits)})`
const unmet = computed(() => result.value?.checks.filter((c) => !c.met) ?? [])
const stated = computed(() => project.page?.project.air_value ?? null)
const same = computed(
  () => result.value?.n50 && stated.value !== null && Math.abs(result.value.n50.value - stated.value) < 0.006,
)
const fitColumns = computed<Column<NonNullable<typeof result.value>['fits'][number]>[]>(() => [
  { name: 'direction', text: (f) => (f.direction === 'pressurise' ? 'up' : 'down') },
  { name: 'c', head: `C, ${unitOf('flow').unit} Paⁿ`, figure: true },
  { name: 'n', head: 'n', figure: true },
  { name: 'r2', head: 'r²', figure: true, text: (f) => f.r_squared.toFixed(4) },
  { name: 'q50', head: `at 50 Pa, ${unitOf('flow').unit}`, figure: true, text: (f) => bare(f.q50.value, 'flow') },
])
const pointColumns = computed<Column<Schemas['FlowPoint']>[]>(() => [
  { name: 'direction', text: (p) => (p.direction === 'pressurise' ? 'up' : 'down') },
  { name: 'pressure', head: 'Pa', figure: true, text: (p) => p.pressure_pa.toFixed(1) },
  { name: 'flow', head: unitOf('flow').unit, figure: true, text: (p) => bare(p.flow_m3_h, 'flow') },
  { name: 'act', figure: true },
])
</script>

<template>
  <SheetPage title="Survey, blower door">
    <SurveyHead
      :project-id="id"
      here="airtightness"
      title="Blower door"
      sub="Several pressures up and down; the line is fitted after ISO 9972."
    />
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <ReadingNote v-if="!page && !complaint" what="the tests" />
    <template v-if="page">
      <div class="ways">
        <ElButton @click="make({ ...BLANK, points: [] }, '')">New test</ElButton>
        <ElButton v-if="session.standIns" @click="gauge">Read the simulated gauge</ElButton>
        <FileButton words="From a CSV file" accept=".csv,.txt" @file="file" />
        <span v-if="tests.length" class="pick"
          ><span class="hidden">Test</span
          ><ElSelect aria-label="Test" v-model="picked">
            <ElOption
              v-for="t in tests"
              :key="t.uid"
              :value="t.uid"
              :label="`${day(t.measured_on)}, ${t.stage}${t.instrument ? `, ${t.instrument}` : ''}`"
            /> </ElSelect
        ></span>
      </div>
      <details class="paste" :open="!tests.length">
        <summary>Paste readings</summary>
        <TextField
          label="One reading a line: direction or sign, pressure in Pa, flow"
          type="textarea"
          v-model="pasting"
          name="paste"
          :rows="4"
          placeholder="-50; 2310"
        />
        <SelectField label="Flow in" class="unit" v-model="unit">
          <ElOption value="m3/h" label="m³/h" />
          <ElOption value="l/s" label="l/s" />
          <ElOption value="cfm" label="cfm" />
        </SelectField>
        <ElButton :disabled="!pasting.trim()" @click="paste">Take these readings</ElButton>
      </details>

      <div v-if="test && edited?.blower_door" class="two">
        <section>
          <p v-if="test.refused" class="marginal">{{ test.refused }}</p>
          <FlowChart v-if="result" :fits="result.fits" />
          <RuledTable v-if="result" :rows="result.fits" :columns="fitColumns">
            <template #c="{ row: f }">
              {{ bare(f.coefficient.value, 'flow', 1) }}
              <span class="soft"
                >({{ bare(f.coefficient.low, 'flow', 0) }} to {{ bare(f.coefficient.high, 'flow', 0) }})</span
              >
            </template>
            <template #n="{ row: f }">
              {{ f.exponent.value.toFixed(3) }}
              <span class="soft">({{ f.exponent.low.toFixed(2) }} to {{ f.exponent.high.toFixed(2) }})</span>
            </template>
          </RuledTable>
          <h2>Conditions</h2>
          <BlowerConditions v-model="edited" @change="save" />
        </section>
        <section>
          <h2>Readings</h2>
          <RuledTable class="points" :rows="edited.blower_door.points" :columns="pointColumns">
            <template #act="{ index }">
              <ElButton link :aria-label="`Remove reading ${index + 1}`" @click="removeRow(index)">×</ElButton>
            </template>
          </RuledTable>
          <div class="fresh">
            <ElSelect v-model="row.direction" aria-label="Direction of the new reading">
              <ElOption value="pressurise" label="up" />
              <ElOption value="depressurise" label="down" />
            </ElSelect>
            <ElInput
              v-model="row.pressure"
              aria-label="Pressure of the new reading, Pa"
              placeholder="Pa"
              inputmode="decimal"
              @keydown.enter="addRow"
            />
            <ElInput
              v-model="row.flow"
              :aria-label="`Flow of the new reading, ${unitOf('flow').unit}`"
              :placeholder="unitOf('flow').unit"
              inputmode="decimal"
              @keydown.enter="addRow"
            />
            <ElButton link @click="addRow">add</ElButton>
          </div>
          <LeaksFound v-model="edited" @change="save" />
          <p><ElButton link @click="remove(test.uid)">Remove this test</ElButton></p>
        </section>
      </div>
    </template>

    <template #margin>
      <template v-if="result">
        <h3 v-if="result.n50">n50 {{ between(result.n50, 2) }} 1/h</h3>
        <h3 v-else>n50 needs the heated volume</h3>
        <p v-if="result.n50">
          95 % confidence of the fit, mean of the directions measured. The volume
          {{ show(test?.volume_m3, 'volume') }} of the line it was measured in is as uncertain as it was measured.
        </p>
        <p>
          At 50 Pa {{ show(result.q50.value, 'flow')
          }}<template v-if="result.q_envelope_50"
            >; through each part of the envelope {{ show(result.q_envelope_50.value, 'airFlowArea') }}</template
          >. Leakage area {{ show(result.leakage_area_4pa_cm2, 'leakArea') }} at 4 Pa,
          {{ show(result.leakage_area_10pa_cm2, 'leakArea') }} at 10 Pa.
        </p>
        <p v-if="same" class="within">This n50 is the project’s as found.</p>
        <ElButton v-else-if="result.n50" @click="takeN50"> Take it as the air changes as found </ElButton>
        <h3>{{ unmet.length ? 'Not a valid test' : 'A valid test' }}</h3>
        <p v-if="test?.instrument.includes('simulated')" class="marginal">
          The gauge is simulated: these readings are made up.
        </p>
        <ul class="checks">
          <li v-for="c in result.checks" :key="c.name" :class="{ over: !c.met }">
            <span aria-hidden="true">{{ c.met ? '○' : '×' }}</span> {{ c.name }}: {{ said(c.words) }}
          </li>
        </ul>
      </template>
      <p v-else class="soft">
        Paste the readings, or open the gauge’s CSV{{
          session.standIns ? ', or read the simulated gauge that ships' : ''
        }}.
      </p>
      <h3>Caution</h3>
      <p class="soft">
        Before the fan runs: ash out of the hearths, flued heaters off, asbestos and loose lagging known, people warned.
        A tighter house needs combustion air and ventilation settled first.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: center;
}
.pick {
  margin-left: auto;
}
.paste {
  margin: 8px 0;
}
.paste .el-button {
  margin-top: 6px;
}
.unit {
  max-width: 120px;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.7fr) minmax(250px, 1fr);
  gap: 22px;
}
h2 {
  margin: 14px 0 6px;
}
.fresh {
  display: flex;
  gap: 6px;
  margin-top: 4px;
}
.fresh .el-input {
  width: 76px;
}
.points :deep(.el-table__cell) {
  padding: 2px 0;
}
.fresh .el-select {
  width: 84px;
  margin: 0;
}
.checks {
  list-style: none;
  padding: 0;
  margin: 4px 0 12px;
  font-size: 13px;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
