<script setup lang="ts">
/** A background that is not flat, what it meets, and what levels it. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import CountInput from '@/shared/CountInput.vue'
import { useProject } from '@/shared/project'
import type { SheetState } from './useSheet'

type Uneven = NonNullable<Schemas['Uneven']>
type Meets = NonNullable<Schemas['BuildUpLayer']['meets']>
const props = defineProps<{ state: SheetState }>()
const project = useProject()
const layer = computed(() => props.state.selected.value!)
const uneven = computed<Uneven>(() => ({
  hollow_mm: 0,
  share: 0,
  proud_mm: 0,
  proud_outside_mm: 0,
  chamfered: false,
  ...layer.value.uneven,
}))
const MEETS: Exclude<Meets, ''>[] = ['stone', 'brick', 'concrete', 'timber', 'steel']
function change(part: Partial<Uneven>): void {
  const next = { ...uneven.value, ...part }
  const flat = !(next.hollow_mm && next.share) && !next.hollow_mm && !next.proud_mm && !next.proud_outside_mm
  void props.state.change({ uneven: flat ? null : next })
}
const mean = computed(() => (uneven.value.hollow_mm ?? 0) * (uneven.value.share ?? 0))
const option = computed(() => props.state.work.value?.role !== 'as_found')
/** The parge that fills the hollows, as a mean over the face, to the next 5 mm. */
async function level(): Promise<void> {
  const parge = project.materials.get('parge_coat')
  if (!parge) return
  await props.state.insert(parge)
  await props.state.change({ thickness_mm: Math.max(5, Math.ceil(mean.value / 5) * 5) })
}
</script>

<template>
  <CountInput
    :model-value="uneven.hollow_mm ?? 0"
    label="hollows, mm deep"
    spoken="how far its hollows stand back, mm"
    :most="200"
    :step="5"
    :width="84"
    @update:model-value="(n: number) => change({ hollow_mm: n, share: n && !uneven.share ? 0.3 : uneven.share })"
  />
  <CountInput
    v-if="uneven.hollow_mm"
    :model-value="Math.round((uneven.share ?? 0) * 100)"
    label="% of the face"
    spoken="share of the face that stands back, percent"
    :most="90"
    :step="5"
    :width="80"
    @update:model-value="(n: number) => change({ share: n / 100 })"
  />
  <ElButton v-if="option && mean >= 3" size="small" @click="level">level it with parge</ElButton>
  <CountInput
    :model-value="uneven.proud_mm ?? 0"
    label="foot inside, mm"
    spoken="how far its foot or plinth stands proud, mm"
    :most="400"
    :step="5"
    :width="84"
    @update:model-value="(n: number) => change({ proud_mm: n })"
  />
  <CountInput
    :model-value="uneven.proud_outside_mm ?? 0"
    label="plinth outside, mm"
    spoken="how far its plinth stands proud outside, mm"
    :most="400"
    :step="5"
    :width="84"
    @update:model-value="(n: number) => change({ proud_outside_mm: n })"
  />
  <ElCheckbox
    v-if="uneven.proud_mm || uneven.proud_outside_mm"
    :model-value="uneven.chamfered"
    @update:model-value="(v: unknown) => change({ chamfered: Boolean(v) })"
    >what is put on follows it</ElCheckbox
  >
  <span
    ><span class="soft">meets </span>
    <ElSelect
      :model-value="layer.meets ?? ''"
      size="small"
      placeholder="nothing else"
      aria-label="another background in the same face"
      style="width: 120px"
      @update:model-value="(meets: Meets) => void state.change({ meets })"
    >
      <ElOption value="" label="nothing else" />
      <ElOption v-for="m in MEETS" :key="m" :value="m" /> </ElSelect
  ></span>
</template>
