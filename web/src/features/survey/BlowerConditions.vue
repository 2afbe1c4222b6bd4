<script setup lang="ts">
/** What a blower-door test was done with and in: day, instrument, temperatures, pressures, wind. */
import DateField from '@/shared/DateField.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'
import type { MeasurementBody } from './useMeasurements'

const body = defineModel<MeasurementBody>({ required: true })
const emit = defineEmits<{ change: [] }>()
</script>

<template>
  <ElForm class="grid" @change="emit('change')" @submit.prevent>
    <SelectField label="Stage" v-model="body.stage" name="stage" @change="emit('change')">
      <ElOption v-for="s in ['as found', 'during the works', 'at the end'] as const" :key="s" :value="s" :label="s" />
    </SelectField>
    <DateField label="Measured on" v-model="body.measured_on" @update:model-value="emit('change')" />
    <TextField label="Instrument" v-model.lazy="body.instrument" maxlength="120" />
    <TextField label="Fan in" v-model.lazy="body.place" maxlength="200" />
    <QuantityInput
      v-model="body.blower_door!.inside_c"
      label="Inside"
      quantity="temperature"
      :least="-40"
      :most="50"
      @update:model-value="emit('change')"
    />
    <QuantityInput
      v-model="body.blower_door!.outside_c"
      label="Outside"
      quantity="temperature"
      :least="-60"
      :most="50"
      @update:model-value="emit('change')"
    />
    <QuantityInput
      v-model="body.blower_door!.barometer_pa"
      label="Barometer"
      quantity="pressure"
      :digits="0"
      :least="60000"
      :most="110000"
      @update:model-value="emit('change')"
    />
    <QuantityInput
      v-model="body.blower_door!.zero_before_pa"
      label="Zero pressure before"
      quantity="pressure"
      :least="-50"
      :most="50"
      @update:model-value="emit('change')"
    />
    <QuantityInput
      v-model="body.blower_door!.zero_after_pa"
      label="Zero pressure after"
      quantity="pressure"
      :least="-50"
      :most="50"
      @update:model-value="emit('change')"
    />
    <QuantityInput
      :model-value="body.blower_door!.wind_m_s"
      label="Wind"
      quantity="speed"
      :digits="1"
      :least="0"
      :most="40"
      optional
      @update:model-value="(v) => ((body.blower_door!.wind_m_s = v), emit('change'))"
    />
    <QuantityInput
      :model-value="body.blower_door!.height_m"
      label="Height of the building"
      quantity="length"
      :least="1"
      :most="200"
      optional
      @update:model-value="(v) => ((body.blower_door!.height_m = v), emit('change'))"
    />
    <TextField class="wide" label="What was taped or shut" v-model.lazy="body.note" maxlength="2000" />
  </ElForm>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 12px;
}
.wide {
  grid-column: 1 / -1;
}
</style>
