<script setup lang="ts">
/** Swap a material by what can be had: pick an article, see what moves, then accept it. */
import { computed, ref, watch } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'
import { useProject } from '@/shared/project'
import { useAnswer } from '@/shared/query'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { capital, said, show, uName } from '@/shared/units'
import type { SheetState } from './useSheet'
import StateMark from '@/shared/StateMark.vue'
import { jointMoves, moves, type Move } from './swap'
import type { Layer } from '@/drawing/scale'
import { drawn, swapped, type Figures } from './work'

type Article = Schemas['ArticleOut']
const props = defineProps<{ state: SheetState }>()
const open = defineModel<boolean>({ required: true })
const project = useProject()
const lists = useAnswer(
  () => ['suppliers'],
  () => take(api.GET('/api/library/suppliers')),
  { when: () => open.value },
)
const picked = ref<Article | null>(null)
const thick = ref<number | null>(null)
const after = ref<Figures | null>(null)
const complaint = ref('')
const layer = computed(() => props.state.selected.value)
const work = computed(() => props.state.work.value)
const now = computed(() => project.materials.get(layer.value?.material ?? ''))
const supplier = computed(() => lists.data.value?.[0])
/** What could stand in its place: of the same group and kind, its own family first. */
const articles = computed(() => {
  const fitting = (supplier.value?.articles ?? []).filter((a) => {
    const m = project.materials.get(a.material)
    return m && m.kind === now.value?.kind && m.group === now.value.group
  })
  const own = (a: Article): number => (project.materials.get(a.material)?.family === now.value?.family ? 0 : 1)
  return [...fitting].sort((a, b) => own(a) - own(b))
})
const columns = computed<Column<Article>[]>(() => [
  { name: 'name', head: 'Article' },
  { name: 'acts', head: 'acts as', text: (a) => project.materialName(a.material) },
  {
    name: 'sizes',
    head: 'sold in',
    text: (a) => a.thicknesses_mm.map((mm) => show(mm, 'thickness')).join(', ') || show(a.width_mm, 'thickness'),
  },
  { name: 'price', head: 'price, m²', figure: true, text: (a) => `${a.price_m2.toFixed(2)} ${a.currency}` },
  { name: 'lead', head: 'weeks', figure: true, text: (a) => a.lead_weeks },
])
/** The nearest thickness it is sold in that is not thinner; else its thickest. */
const nearest = (a: Article): number | null =>
  a.thicknesses_mm.length
    ? (a.thicknesses_mm.find((mm) => mm >= (layer.value?.thickness_mm ?? 0)) ?? a.thicknesses_mm.at(-1)!)
    : null
watch(open, () => {
  picked.value = null
  after.value = null
  complaint.value = ''
})
function pick(a: Article): void {
  picked.value = a
  thick.value = nearest(a)
  void look()
}
const changed = computed(() => {
  const material = picked.value && project.materials.get(picked.value.material)
  if (!material || !layer.value) return null
  return { ...swapped(layer.value, material), ...(thick.value ? { thickness_mm: thick.value } : {}) }
})
async function look(): Promise<void> {
  const w = work.value
  if (!w || !changed.value || !props.state.sheet.value) return
  const layers = w.layers.map((l) => (l.id === layer.value!.id ? { ...l, ...changed.value! } : l))
  try {
    after.value = await take(
      api.POST('/api/elements/{element_id}/preview', {
        params: { path: { element_id: props.state.sheet.value.element.id } },
        body: { build_up: { ...drawn(w), layers }, option_id: w.id },
      }),
    )
    await lookAtJoints(layers)
    complaint.value = ''
  } catch (error) {
    complaint.value = sentence(error)
    after.value = null
    joints.value = []
  }
}
const joints = ref<Move[]>([])
const moved = computed(() =>
  work.value && after.value
    ? [...moves(work.value.figures, after.value, uName.value, show, said), ...joints.value]
    : [],
)
/** Its joints as they are and as they would be. */
async function lookAtJoints(layers: Layer[]): Promise<void> {
  const w = work.value!
  const element_id = props.state.sheet.value!.element.id
  const of = (build_up: Schemas['BuildUp']) =>
    take(api.POST('/api/elements/{element_id}/joints', { params: { path: { element_id } }, body: { build_up } }))
  const [before, then] = await Promise.all([of(drawn(w)), of({ ...drawn(w), layers })])
  joints.value = jointMoves(before, then, said)
}
const studied = useAnswer(
  () => ['conditions', props.state.sheet.value?.element.id],
  () =>
    take(
      api.GET('/api/elements/{element_id}/conditions', {
        params: { path: { element_id: props.state.sheet.value!.element.id } },
      }),
    ),
  { when: () => open.value && !!props.state.sheet.value },
)
/** What it stands on today was found with what is there now. */
const conditions = computed(() => studied.data.value?.find((o) => o.option_id === work.value?.id)?.stands ?? [])

/** Three years of the option with the article in it, beside three as it is, before it is accepted. */
const trial = ref<Schemas['BatchOut'] | null>(null)
const trying = computed(() => !!trial.value && ['waiting', 'running'].includes(trial.value.status))
async function runTrial(): Promise<void> {
  const w = work.value!
  const layers = w.layers.map((l) => (l.id === layer.value!.id ? { ...l, ...changed.value! } : l))
  try {
    trial.value = await take(
      api.POST('/api/elements/{element_id}/batches', {
        params: { path: { element_id: props.state.sheet.value!.element.id } },
        body: { kind: 'trial', option_id: w.id, trial: { build_up: { ...drawn(w), layers } } },
      }),
    )
    const id = trial.value.id
    while (trying.value && open.value && trial.value?.id === id) {
      await new Promise((resolve) => setTimeout(resolve, 700))
      if (trial.value?.id === id)
        trial.value = await take(api.GET('/api/batches/{batch_id}', { params: { path: { batch_id: id } } }))
    }
  } catch (error) {
    complaint.value = sentence(error)
  }
}
watch(changed, () => (trial.value = null))
async function accept(): Promise<void> {
  if (changed.value) await props.state.change(changed.value)
  open.value = false
}
</script>

<template>
  <ElDialog v-model="open" :title="`${now?.name ?? ''}: what can be had`" width="700" align-center>
    <p class="soft">{{ supplier ? supplier.name : 'No supplier’s list is attached.' }}</p>
    <div v-if="articles.length" class="list" tabindex="0" role="region" aria-label="The list">
      <RuledTable
        :rows="articles"
        :columns="columns"
        label="What can be had"
        :mark="(a) => (a === picked ? 'picked' : '')"
      >
        <template #name="{ row: a }">
          <ElButton link @click="pick(a)">{{ a.name }}</ElButton>
        </template>
      </RuledTable>
    </div>
    <p v-else-if="supplier" class="soft">Nothing on the list could stand in its place.</p>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <div v-if="picked && after" role="status" data-moves>
      <p v-if="picked.thicknesses_mm.length">
        In
        <ElSelect v-model="thick" size="small" aria-label="Thickness it is sold in" style="width: 110px" @change="look">
          <ElOption v-for="mm in picked.thicknesses_mm" :key="mm" :value="mm" :label="show(mm, 'thickness')" />
        </ElSelect>
      </p>
      <p v-for="m in moved" :key="m.words" :class="{ over: m.worse }">{{ m.words }}</p>
      <p v-if="!moved.length" class="soft">No steady figure moves.</p>
      <template v-if="after.case_hash !== work?.figures.case_hash && !after.transient_refused">
        <p v-if="!trial">
          <ElButton link @click="runTrial">Run its years before accepting</ElButton>
        </p>
        <p v-else-if="trying" class="soft">
          Its years are being computed …
          <progress :value="trial.done" :max="trial.total" aria-label="runs done" />
        </p>
        <p v-for="run in trying ? [] : (trial?.runs ?? [])" :key="run.id" data-trial>
          {{ capital(run.label) }}:
          <StateMark v-if="run.brief" :state="run.brief.state" :words="said(run.brief.headline)" />
          <span v-if="run.brief" class="sentence">{{ said(run.brief.sentence) }}</span>
          <span v-else class="over">{{ run.error || run.status }}</span>
        </p>
      </template>
      <template v-if="conditions.length">
        <p class="soft">Found with what is there now, and to be found again:</p>
        <p v-for="c in conditions" :key="c.condition.name" class="soft">{{ said(c.condition.words) }}</p>
      </template>
      <p class="soft">
        {{
          after.case_hash === work?.figures.case_hash
            ? 'The hourly years stay as they are.'
            : 'Its hourly years, tests and verdict are out of date then, until they are run again.'
        }}
      </p>
    </div>
    <div class="actions">
      <ElButton @click="open = false">Leave it</ElButton>
      <ElButton type="primary" :disabled="!picked || !after" @click="accept">Swap it</ElButton>
    </div>
  </ElDialog>
</template>

<style scoped>
.list {
  max-height: 230px;
  overflow: auto;
}
.list :deep(thead th.el-table__cell) {
  top: 0;
  background: var(--sheet);
}
:deep(.picked) {
  background: #f0ebdd;
}
.sentence {
  margin-left: 6px;
}
.actions {
  display: flex;
  justify-content: flex-end;
  gap: 8px;
}
p {
  margin: 3px 0;
}
</style>
