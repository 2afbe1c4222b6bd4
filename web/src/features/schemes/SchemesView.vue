<script setup lang="ts">
/** Schemes of the whole building side by side; the phases of the one that is shown, with the heat that is left after each. */
import { ElMessageBox } from 'element-plus'
import 'element-plus/theme-chalk/el-message-box.css'
import 'element-plus/theme-chalk/el-overlay.css'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import RuledTable from '@/shared/RuledTable.vue'
import SelectField from '@/shared/SelectField.vue'
import HeatTabs from '@/shared/HeatTabs.vue'
import SheetPage from '@/shared/SheetPage.vue'
import WhichFigures from '@/shared/WhichFigures.vue'
import type { Column } from '@/shared/table'
import { range } from '@/shared/money'
import TextField from '@/shared/TextField.vue'
import { bare, said, show, unitOf } from '@/shared/units'
import ChoicesTable from './ChoicesTable.vue'
import HeatStair from './HeatStair.vue'
import PhasesForm from './PhasesForm.vue'
import StagesTable from './StagesTable.vue'
import { useSchemes, type Scheme } from './useSchemes'

const route = useRoute()
const projectId = computed(() => Number(route.params.project))
const state = useSchemes(projectId)
const { data, complaint, busy, shown } = state
const name = ref('')
const copyOf = ref<number | 0>(0)

const money = computed(() => data.value?.schemes.find((s) => s.currency)?.currency ?? '')
const columns = computed<Column<Scheme>[]>(() => [
  { name: 'name', head: 'Scheme' },
  { name: 'chosen', head: 'chosen', figure: true, text: (s) => `${s.chosen} of ${s.of}` },
  { name: 'w_k', head: `loss, ${unitOf('coefficient').unit}`, figure: true, text: (s) => bare(s.w_k, 'coefficient') },
  { name: 'cut', head: 'less than found', figure: true, text: cutWords },
  { name: 'load', head: `load, ${unitOf('power').unit}`, figure: true, text: (s) => bare(s.load_w, 'power') },
  { name: 'verdicts', head: 'verdicts', text: verdicts },
  {
    name: 'floor',
    head: `floor lost, ${unitOf('area').unit}`,
    figure: true,
    text: (s) => bare(s.floor_lost_m2, 'area'),
  },
  {
    name: 'cost',
    head: `cost${money.value ? `, thousand ${money.value}` : ''}`,
    figure: true,
    text: (s) =>
      s.cost_high ? `${s.unpriced ? 'at least ' : ''}${range(s.cost_low / 1000, s.cost_high / 1000, 1)}` : 'not priced',
  },
  { name: 'carbon', head: 't CO₂e', figure: true, text: (s) => range(s.carbon_low / 1000, s.carbon_high / 1000, 1) },
])
/** Of its choices: how many are over a limit, marginal, not run; the rest is within. */
function verdicts(s: Scheme): string {
  const parts = [
    [s.over, 'over a limit'],
    [s.marginal, 'marginal'],
    [s.not_run, 'not run'],
    [s.chosen - s.over - s.marginal - s.not_run, 'within'],
  ] as const
  return (
    parts
      .filter(([n]) => n)
      .map(([n, words]) => `${n} ${words}`)
      .join(', ') || '–'
  )
}
/** Against the same rooms as found: where the line moves, like for like. */
function cutWords(s: Scheme): string {
  const before = s.moved ? s.like_for_like_w_k : data.value?.before_w_k
  return before ? `${Math.round((1 - s.w_k / before) * 100)} %${s.moved ? ', like for like' : ''}` : '–'
}
const chosen = computed(() => data.value?.choices.filter((c) => c.option) ?? [])

async function make(): Promise<void> {
  if (!name.value.trim()) return
  if (await state.make(name.value.trim(), copyOf.value || null)) name.value = ''
}
async function rename(s: Scheme): Promise<void> {
  try {
    const { value } = await ElMessageBox.prompt('Its name', 'Rename the scheme', {
      inputValue: s.name,
      inputValidator: (text) => !!text?.trim() || 'A name is needed.',
      confirmButtonText: 'Rename it',
      cancelButtonText: 'Leave it',
    })
    await state.change(s, value.trim(), s.note)
  } catch {
    // left as it was
  }
}
async function removeAsked(s: Scheme): Promise<void> {
  try {
    await ElMessageBox.confirm(
      `“${s.name}” goes with its ${s.chosen} choices and their reasons; what was chosen stays in the history.`,
      'Remove the scheme',
      { confirmButtonText: 'Remove it', cancelButtonText: 'Keep it' },
    )
  } catch {
    return
  }
  await state.remove(s)
}
</script>

<template>
  <SheetPage title="Schemes and phases" written>
    <div class="page">
      <HeatTabs :project-id="projectId" view="schemes" title="Schemes and phases" />
      <p v-if="complaint" class="complaint" role="alert">
        {{ complaint }} <ElButton link @click="state.load()">Look again</ElButton>
      </p>
      <p v-if="!data && !complaint" class="soft">Adding up the schemes …</p>
      <template v-if="data">
        <p class="soft">
          As found {{ show(data.before_w_k, 'coefficient') }}, {{ show(data.before_kwh, 'energy') }}, design load
          {{ show(data.before_load_w, 'power') }}. Every view shows one scheme; a choice belongs to the one that is
          shown when it is made.
        </p>
        <div class="wide" tabindex="0" role="region" aria-label="Schemes side by side">
          <RuledTable
            :rows="data.schemes"
            :columns="columns"
            label="Schemes"
            :mark="(s) => (s.id === data!.shown_id ? 'shown' : '')"
          >
            <template #name="{ row: s }">
              <b>{{ s.name }}</b>
              <span v-if="s.id === data!.shown_id" class="soft"> shown</span>
              <span v-if="!s.complete" class="soft">, survey incomplete</span>
              <div v-if="s.aim" :class="s.aim.met === false ? 'over' : 'soft'" data-aim>{{ said(s.aim.words) }}</div>
              <div class="acts">
                <ElButton v-if="s.id !== data!.shown_id" link :disabled="busy" @click="state.show(s.id)"
                  >Show it</ElButton
                >
                <ElButton link @click="rename(s)">Rename</ElButton>
                <ElButton v-if="data!.schemes.length > 1" link @click="removeAsked(s)">Remove</ElButton>
              </div>
            </template>
          </RuledTable>
        </div>
        <ElForm class="new" @submit.prevent="make">
          <TextField v-model="name" label="A new scheme" maxlength="120" placeholder="Outside only, five years …" />
          <SelectField v-model="copyOf" label="Begins with">
            <ElOption :value="0" label="no choices" />
            <ElOption v-for="s in data.schemes" :key="s.id" :value="s.id" :label="`what “${s.name}” has`" />
          </SelectField>
          <ElButton native-type="submit" :disabled="busy || !name.trim()">Make it</ElButton>
        </ElForm>
        <template v-if="shown">
          <h2>Phases of “{{ shown.name }}”</h2>
          <HeatStair v-if="shown.phases.length" :before="data.before_w_k" :phases="shown.phases" />
          <PhasesForm
            :key="shown.revision"
            :scheme="shown"
            :busy="busy"
            @keep="(phases) => state.phases(shown!, phases)"
          />
          <StagesTable v-if="shown.phases.length" :project-id="projectId" :schemes="data" />
          <h2>What it does</h2>
          <ChoicesTable
            v-if="chosen.length"
            :project-id="projectId"
            :scheme="shown"
            :rows="chosen"
            :busy="busy"
            @put-in="state.putIn"
            @between="state.putBetween"
            @run="state.runBetween"
          />
          <p v-else class="soft">Nothing is chosen in it yet: choose on the Compare sheet of an element.</p>
          <p v-if="data.moved.length" data-line>
            <b>The heated line moves:</b> {{ data.moved.join('; ') }}
            <ElSelect
              v-if="shown.phases.length"
              class="linephase"
              size="small"
              :model-value="data.line_phase_id ?? 0"
              aria-label="Phase of the heated line"
              @change="(id: number) => state.putLine(shown!, id || null)"
            >
              <ElOption :value="0" :label="`${shown.phases.at(-1)!.name} (the last)`" />
              <ElOption v-for="p in shown.phases" :key="p.id!" :value="p.id!" :label="p.name" />
            </ElSelect>
          </p>
        </template>
      </template>
    </div>
    <template #margin>
      <h3>How this is added up</h3>
      <p class="soft">
        Losses as under Heat, each scheme as if it were shown. The verdicts are those of its options' hourly years,
        where they are current. Costs and carbon: of what is new in the chosen options, from prices that somebody
        stated; see Compare for their days and sources. Floor lost: room lost times wall area over
        {{ show(2.5, 'length', 1) }} of height.
      </p>
      <p class="soft">
        Until its phase an element stands as found, or as an option that is put there: bare, drained, boarded over. Its
        years run from as found, and what stays of it starts the choice with the water it leaves. Between the phases
        leaks go with their elements; planned windows, the ventilation and the use after the works come with the last
        phase, and so do leaks of no element.
      </p>
      <WhichFigures :project-id="projectId" here="schemes" />
    </template>
  </SheetPage>
</template>

<style scoped>
.new {
  display: flex;
  gap: 12px;
  align-items: end;
  margin: 10px 0 4px;
}
.new :deep(.field) {
  width: 240px;
}
.acts {
  white-space: nowrap;
}
.wide {
  overflow-x: auto;
}
.wide :deep(thead th.el-table__cell) {
  top: 0;
}
.linephase {
  width: 200px;
  margin-left: 10px;
}
h2 {
  margin: 20px 0 4px;
}
:deep(.shown) {
  background: #f0ebdd;
}
</style>
