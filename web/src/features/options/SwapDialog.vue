<script setup lang="ts">
/** Swap a material by what can be had: pick an article, see what moves, then accept it. */
import { computed, ref, watch } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'
import { useProject } from '@/shared/project'
import { useAnswer } from '@/shared/query'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { said, show, uName } from '@/shared/units'
import type { SheetState } from './useSheet'
import { moves } from './swap'
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
    complaint.value = ''
  } catch (error) {
    complaint.value = sentence(error)
    after.value = null
  }
}
const moved = computed(() =>
  work.value && after.value ? moves(work.value.figures, after.value, uName.value, show, said) : [],
)
async function accept(): Promise<void> {
  if (changed.value) await props.state.change(changed.value)
  open.value = false
}
</script>

<template>
  <ElDialog v-model="open" :title="`${now?.name ?? ''}: what can be had`" width="640" align-center>
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
  max-height: 270px;
  overflow: auto;
}
:deep(.picked) {
  background: #f0ebdd;
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
