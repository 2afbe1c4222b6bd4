<script setup lang="ts">
/** One reading: a surface temperature, wood moisture or an uptake, with where and when. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import DateField from '@/shared/DateField.vue'
import { useForm } from '@/shared/form'
import { useProject } from '@/shared/project'
import QuantityInput from '@/shared/QuantityInput.vue'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'
import UptakeFields from './UptakeFields.vue'
import type { MeasurementBody } from './useMeasurements'

const body = defineModel<MeasurementBody>({ required: true })
defineProps<{
  title: string
  complaint: string
  species: Schemas['MeasurementPage']['species']
  layers: Schemas['MeasurementPage']['layers']
}>()
const emit = defineEmits<{ keep: []; leave: [] }>()
const project = useProject()
const whenRight = useForm()
/** A reading is kept once everything that makes it one was typed. */
const read = computed(() => {
  const { thermal, moisture, uptake } = body.value
  const values = [
    ...(thermal ? [thermal.inside_air_c, thermal.surface_c, thermal.outside_air_c] : []),
    ...(moisture ? [moisture.shown_percent, moisture.wood_temperature_c] : []),
    ...(uptake ? uptake.rows.flat() : []),
  ]
  return values.every((value) => value !== null && value !== undefined)
})
</script>

<template>
  <ElDialog :model-value="true" :title="title" width="640" align-center @close="emit('leave')">
    <ElForm
      id="reading"
      class="grid"
      ref="form"
      :model="{}"
      hide-required-asterisk
      @submit.prevent="whenRight(() => emit('keep'))"
    >
      <SelectField
        label="Element"
        :model-value="body.element_id ?? ''"
        @update:model-value="(now) => (body.element_id = now === '' ? null : now)"
        name="reading-element"
      >
        <ElOption value="" label="none" />
        <ElOption v-for="e in project.elements" :key="e.id" :value="e.id" :label="e.name" />
      </SelectField>
      <TextField label="Place" v-model="body.place" maxlength="200" />
      <DateField label="Measured on" v-model="body.measured_on" />
      <template v-if="body.thermal">
        <QuantityInput
          v-model="body.thermal.inside_air_c"
          label="Air inside"
          quantity="temperature"
          :least="-40"
          :most="60"
        />
        <QuantityInput
          v-model="body.thermal.surface_c"
          label="Surface inside"
          quantity="temperature"
          :least="-40"
          :most="60"
        />
        <QuantityInput
          v-model="body.thermal.outside_air_c"
          label="Air outside"
          quantity="temperature"
          :least="-60"
          :most="60"
        />
        <QuantityInput
          v-model="body.thermal!.hours_since_sun"
          label="Hours since sun"
          quantity="plain"
          :digits="0"
          :least="0"
          :most="1000"
          optional
        />
        <QuantityInput
          v-model="body.thermal!.steady_hours"
          label="Hours of steady heating"
          quantity="plain"
          :digits="0"
          :least="0"
          :most="1000"
          optional
        />
        <span />
        <ElCheckbox class="check" v-model="body.thermal.wet_or_raining">face wet or rain</ElCheckbox>
        <ElCheckbox class="check" v-model="body.thermal.shiny">shiny surface</ElCheckbox>
        <ElCheckbox class="check" v-model="body.thermal.near_heater">heater near</ElCheckbox>
      </template>
      <template v-if="body.moisture">
        <QuantityInput v-model="body.moisture.shown_percent" label="Shown, %" quantity="plain" :least="0" :most="200" />
        <QuantityInput
          v-model="body.moisture.wood_temperature_c"
          label="Wood at"
          quantity="temperature"
          :least="-20"
          :most="60"
        />
        <SelectField label="Species" v-model="body.moisture.species">
          <ElOption v-for="s in species" :key="s.id" :value="s.id" :label="s.name" />
        </SelectField>
        <QuantityInput
          v-model="body.moisture!.offset_percent"
          label="Maker’s correction, points"
          quantity="plain"
          :least="-20"
          :most="20"
          optional
        />
        <ElCheckbox class="check" v-model="body.moisture.salty_or_treated">salts or preservative</ElCheckbox>
      </template>
      <UptakeFields v-if="body.uptake" v-model="body.uptake" :layers="layers" />
    </ElForm>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <template #footer>
      <ElButton @click="emit('leave')">Leave it</ElButton>
      <span v-if="!read" class="soft unread">Type what was read.</span>
      <ElButton type="primary" native-type="submit" form="reading" :disabled="!read">Keep it</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 10px 14px;
  align-items: end;
}
.unread {
  margin: 0 12px;
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 30px;
}
@media (max-width: 900px) {
  .grid {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
