<script setup lang="ts">
/** Fields of a water uptake: the layer, the wetted area, and what was drawn by when. */
import { watchEffect } from 'vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import type { Schemas } from '@/api/client'
import SelectField from '@/shared/SelectField.vue'

const reading = defineModel<Schemas['UptakeReading']>({ required: true })
const props = defineProps<{ layers: Schemas['UptakeLayer'][] }>()
watchEffect(() => {
  if (!props.layers.some((l) => l.layer_id === reading.value.layer))
    reading.value.layer = props.layers[0]?.layer_id ?? ''
})
function add(): void {
  const last = reading.value.rows.at(-1) ?? [0, 0]
  reading.value.rows.push([last[0] + 15, null as unknown as number])
}
</script>

<template>
  <SelectField label="Layer that was wetted" v-model="reading.layer" :disabled="!layers.length">
    <ElOption v-for="l in layers" :key="l.layer_id" :value="l.layer_id" :label="l.name" />
  </SelectField>
  <QuantityInput
    v-model="reading.area_cm2"
    label="Wetted area"
    quantity="leakArea"
    :digits="1"
    :least="0.5"
    :most="20000"
  />
  <span />
  <p v-if="!layers.length" class="soft wide">
    Choose an element with a stated layer of stone, brick, mortar or render.
  </p>
  <div class="wide">
    <div v-for="(row, i) in reading.rows" :key="i" class="row">
      <ElInputNumber
        :model-value="row[0] ?? undefined"
        :min="0.1"
        :step="0.1"
        :max="1440"
        :controls="false"
        :aria-label="`Minutes from the first wetting, reading ${i + 1}`"
        @update:model-value="(v: number | undefined) => (row[0] = v ?? row[0])"
      />
      min
      <ElInputNumber
        :model-value="row[1] ?? undefined"
        :min="0.01"
        :step="0.01"
        :max="10000"
        :controls="false"
        :aria-label="`Millilitres taken up in all, reading ${i + 1}`"
        @update:model-value="(v: number | undefined) => (row[1] = v ?? row[1])"
      />
      ml in all
      <ElButton v-if="reading.rows.length > 1" link @click="reading.rows.splice(i, 1)">remove</ElButton>
    </div>
    <ElButton size="small" :disabled="reading.rows.length >= 60" @click="add">Add a reading</ElButton>
  </div>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
.row {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 4px;
}
.row .el-input-number {
  width: 90px;
}
</style>
