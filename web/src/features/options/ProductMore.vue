<script setup lang="ts">
/** How a layer of insulation differs from its label: squeezed, settled, aged. */
import { computed } from 'vue'
import CountInput from '@/shared/CountInput.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import { useProject } from '@/shared/project'
import type { SheetState } from './useSheet'

const props = defineProps<{ state: SheetState }>()
const project = useProject()
const layer = computed(() => props.state.selected.value!)
const family = computed(() => project.materials.get(layer.value.material)?.family ?? '')
const FIBRE = ['fibrous insulation', 'plant and animal fibre', 'wood fibre']
const product = computed(() => layer.value.product ?? { labelled_mm: null, settled: 0, ageing: 1 })
function change(part: Partial<NonNullable<typeof layer.value.product>>): void {
  const now = { ...product.value, ...part }
  const plain = !now.labelled_mm && !now.settled && now.ageing === 1
  void props.state.change({ product: plain ? null : now })
}
</script>

<template>
  <span class="product" role="group" aria-label="How it differs from its label">
    <QuantityInput
      v-if="FIBRE.includes(family)"
      :model-value="product.labelled_mm ?? null"
      label="sold in, before it is squeezed"
      quantity="thickness"
      :least="layer.thickness_mm ?? 1"
      :most="1000"
      optional
      @update:model-value="(labelled_mm: number | null) => change({ labelled_mm })"
    />
    <CountInput
      :model-value="Math.round(product.settled * 100)"
      label="settled, % of the height"
      spoken="settled, percent of the height"
      :most="40"
      @update:model-value="(percent: number) => change({ settled: percent / 100 })"
    />
    <CountInput
      :model-value="Math.round((product.ageing - 1) * 100)"
      label="aged, λ higher by %"
      spoken="aged, conductivity higher by percent"
      :most="60"
      @update:model-value="(percent: number) => change({ ageing: 1 + percent / 100 })"
    />
  </span>
</template>

<style scoped>
.product {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: end;
}
.product :deep(.field) {
  width: 190px;
}
</style>
