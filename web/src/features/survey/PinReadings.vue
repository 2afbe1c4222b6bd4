<script setup lang="ts">
/** What instruments showed at a pin: surface, air, wood. */
import type { Schemas } from '@/api/client'
import QuantityInput from '@/shared/QuantityInput.vue'
import SelectField from '@/shared/SelectField.vue'
import type { Pin } from './useEvidence'

const props = defineProps<{ readings: Pin['readings']; species: Schemas['EvidencePage']['species'] }>()
const emit = defineEmits<{ change: [readings: Pin['readings']] }>()
function read(key: 'surface_c' | 'air_c' | 'air_rh' | 'surface_rh', value: number | null): void {
  emit('change', { ...props.readings, [key]: value })
}
function wood(change: Partial<NonNullable<Pin['readings']['wood']>>): void {
  const now = props.readings.wood ?? {
    shown_percent: 0,
    wood_temperature_c: 10,
    species: 'softwood',
    offset_percent: null,
    salty_or_treated: false,
  }
  emit('change', { ...props.readings, wood: { ...now, ...change } })
}
function shown(value: number | null): void {
  if (value === null) emit('change', { ...props.readings, wood: null })
  else wood({ shown_percent: value })
}
const percent = (v: number | null | undefined): number | null => (v === null || v === undefined ? null : v * 100)
</script>

<template>
  <div>
    <QuantityInput
      :model-value="readings.surface_c"
      label="Surface"
      quantity="temperature"
      :least="-60"
      :most="90"
      optional
      @update:model-value="(v) => read('surface_c', v)"
    />
    <QuantityInput
      :model-value="percent(readings.surface_rh)"
      label="RH at the surface, %"
      quantity="plain"
      :digits="0"
      :least="0"
      :most="100"
      optional
      @update:model-value="(v) => read('surface_rh', v === null ? null : v / 100)"
    />
    <QuantityInput
      :model-value="readings.air_c"
      label="Air"
      quantity="temperature"
      :least="-60"
      :most="90"
      optional
      @update:model-value="(v) => read('air_c', v)"
    />
    <QuantityInput
      :model-value="percent(readings.air_rh)"
      label="RH of the air, %"
      quantity="plain"
      :digits="0"
      :least="0"
      :most="100"
      optional
      @update:model-value="(v) => read('air_rh', v === null ? null : v / 100)"
    />
    <QuantityInput
      :model-value="readings.wood?.shown_percent"
      label="Wood moisture shown, %"
      quantity="plain"
      :least="0"
      :most="200"
      optional
      @update:model-value="shown"
    />
    <template v-if="readings.wood">
      <QuantityInput
        :model-value="readings.wood.wood_temperature_c"
        label="Wood at"
        quantity="temperature"
        :least="-20"
        :most="60"
        @update:model-value="(v) => v !== null && wood({ wood_temperature_c: v })"
      />
      <SelectField label="Species" :model-value="readings.wood.species" @change="wood({ species: $event })">
        <ElOption v-for="s in species" :key="s.id" :value="s.id" :label="s.name" />
      </SelectField>
      <ElCheckbox
        class="check"
        :model-value="readings.wood.salty_or_treated"
        @change="wood({ salty_or_treated: $event === true })"
        >salts or preservative</ElCheckbox
      >
    </template>
  </div>
</template>

<style scoped>
.check {
  display: flex;
  gap: 6px;
  align-items: center;
}
@media (max-width: 900px), (pointer: coarse) {
  .check {
    min-height: 46px;
    padding: 8px 12px;
  }
}
</style>
