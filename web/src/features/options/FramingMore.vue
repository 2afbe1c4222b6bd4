<script setup lang="ts">
/** Members by spacing and width, from which their share follows; a metal stud by its flange and web. */
import { computed } from 'vue'
import CountInput from '@/shared/CountInput.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import { useProject } from '@/shared/project'
import type { SheetState } from './useSheet'

const props = defineProps<{ state: SheetState }>()
const project = useProject()
const framing = computed(() => props.state.selected.value?.framing)
const metal = computed(() => (project.materials.get(framing.value?.material ?? '')?.conductivity_w_mk ?? 0) > 10)
type Part = Partial<NonNullable<(typeof framing)['value']>>
/** What is usual stands in the fields as soon as one of them is filled. */
function change(part: Part): void {
  const now = { ...framing.value!, ...part }
  const full = metal.value
    ? {
        ...now,
        spacing_mm: now.spacing_mm ?? 600,
        flange_mm: now.flange_mm ?? 50,
        web_mm: now.web_mm ?? 0.6,
        width_mm: null,
        plates: 0,
      }
    : { ...now, spacing_mm: now.spacing_mm ?? 600, width_mm: now.width_mm ?? 45 }
  void props.state.change({ framing: full })
}
const byShare = (): unknown =>
  props.state.change({
    framing: { ...framing.value!, spacing_mm: null, width_mm: null, flange_mm: null, web_mm: null, plates: 0 },
  })
</script>

<template>
  <span v-if="framing" class="framing" role="group" aria-label="Members by spacing">
    <QuantityInput
      :model-value="framing.spacing_mm ?? null"
      label="every"
      quantity="thickness"
      :least="50"
      :most="3000"
      optional
      @update:model-value="(spacing_mm: number | null) => (spacing_mm ? change({ spacing_mm }) : byShare())"
    />
    <template v-if="metal">
      <QuantityInput
        :model-value="framing.flange_mm ?? null"
        label="flange"
        quantity="thickness"
        :least="10"
        :most="120"
        optional
        @update:model-value="(flange_mm: number | null) => flange_mm && change({ flange_mm })"
      />
      <QuantityInput
        :model-value="framing.web_mm ?? null"
        label="web"
        quantity="thickness"
        :digits="1"
        :least="0.3"
        :most="10"
        optional
        @update:model-value="(web_mm: number | null) => web_mm && change({ web_mm })"
      />
    </template>
    <template v-else>
      <QuantityInput
        :model-value="framing.width_mm ?? null"
        label="wide"
        quantity="thickness"
        :least="1"
        :most="1000"
        optional
        @update:model-value="(width_mm: number | null) => width_mm && change({ width_mm })"
      />
      <template v-if="framing.spacing_mm">
        <CountInput
          :model-value="Math.round((framing.plates ?? 0) * 1000) / 10"
          label="plates and headers, %"
          spoken="plates and headers, percent of the face"
          :most="30"
          :step="0.5"
          :width="84"
          @update:model-value="(percent: number) => change({ plates: percent / 100 })"
        />
        <b>= {{ (framing.share * 100).toFixed(1) }} % of the face</b>
      </template>
    </template>
  </span>
</template>

<style scoped>
.framing {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: end;
}
.framing :deep(.field) {
  width: 92px;
}
</style>
