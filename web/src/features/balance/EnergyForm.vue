<script setup lang="ts">
/** What heats it, what a kWh costs and emits, and the bills of some months. */
import { reactive } from 'vue'
import type { Schemas } from '@/api/client'
import { copy } from '@/shared/copy'
import { MONTHS } from '@/shared/dates'
import DateField from '@/shared/DateField.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import TextField from '@/shared/TextField.vue'

const props = defineProps<{ energy: Schemas['Energy']; busy: boolean; cooled: boolean }>()
const emit = defineEmits<{ keep: [energy: Schemas['Energy']] }>()
const body = reactive(copy(props.energy) as Required<Schemas['Energy']>)
function add(): void {
  const last = body.bills.at(-1)
  body.bills.push({ month: last ? (last.month % 12) + 1 : 1, kwh: 0, degree_days: null })
}
</script>

<template>
  <details class="energy" :open="body.bills.length > 0">
    <summary>What heats it, prices, bills</summary>
    <ElForm class="grid" @submit.prevent="emit('keep', copy(body) as Schemas['Energy'])">
      <TextField v-model="body.carrier" label="Heated by" maxlength="60" placeholder="oil, gas, wood, electricity" />
      <QuantityInput
        v-model="body.efficiency_before"
        label="Heat for a kWh of it, as found"
        quantity="plain"
        :digits="2"
        :least="0.2"
        :most="6"
      />
      <QuantityInput
        v-model="body.efficiency_after"
        label="after the works"
        quantity="plain"
        :digits="2"
        :least="0.2"
        :most="6"
      />
      <TextField
        v-model="body.carrier_after"
        label="Heated after by (empty: the same)"
        maxlength="60"
        placeholder="heat pump"
      />
      <QuantityInput
        v-model="body.base_c"
        label="Heated below, daily mean"
        quantity="temperature"
        :least="5"
        :most="22"
      />
      <QuantityInput
        v-model="body.price_kwh"
        label="Price of a kWh"
        quantity="plain"
        :digits="3"
        :least="0"
        :most="100"
        optional
      />
      <TextField v-model="body.currency" label="Money" maxlength="8" />
      <DateField
        :model-value="body.price_on || null"
        label="Asked on"
        @update:model-value="(v) => (body.price_on = v ?? '')"
      />
      <TextField v-model="body.price_source" label="Source" maxlength="200" />
      <QuantityInput
        v-model="body.carbon_kg_kwh"
        label="kg CO₂ a kWh"
        quantity="plain"
        :digits="3"
        :least="0"
        :most="5"
        optional
      />
      <TextField v-model="body.carbon_source" label="Source of it, with its year" maxlength="200" />
      <template v-if="body.carrier_after.trim() && body.carrier_after !== body.carrier">
        <QuantityInput
          v-model="body.price_after_kwh"
          label="Price of a kWh of that"
          quantity="plain"
          :digits="3"
          :least="0"
          :most="100"
          optional
        />
        <QuantityInput
          v-model="body.carbon_after_kg_kwh"
          label="kg CO₂ a kWh of that"
          quantity="plain"
          :digits="3"
          :least="0"
          :most="5"
          optional
        />
      </template>
      <template v-if="cooled">
        <QuantityInput
          v-model="body.cooling_efficiency"
          label="Cooling for a kWh of electricity"
          quantity="plain"
          :digits="1"
          :least="0.5"
          :most="10"
        />
        <QuantityInput
          v-model="body.cooling_price_kwh"
          label="Price of that kWh"
          quantity="plain"
          :digits="3"
          :least="0"
          :most="100"
          optional
        />
        <QuantityInput
          v-model="body.cooling_carbon_kg_kwh"
          label="kg CO₂ of that kWh"
          quantity="plain"
          :digits="3"
          :least="0"
          :most="5"
          optional
        />
      </template>
      <h3 class="wide">Bills, month by month</h3>
      <template v-for="(bill, i) in body.bills" :key="i">
        <ElSelect v-model="bill.month" :aria-label="`Bill ${i + 1}, month`">
          <ElOption v-for="(m, k) in MONTHS" :key="m" :value="k + 1" :label="m" />
        </ElSelect>
        <QuantityInput
          v-model="bill.kwh"
          :label="`Bill ${i + 1}, kWh of fuel`"
          quantity="plain"
          :digits="0"
          :least="0"
          :most="1e7"
        />
        <QuantityInput
          v-model="bill.degree_days"
          label="degree days, where known"
          quantity="plain"
          :digits="0"
          :least="0"
          :most="2000"
          optional
        />
        <ElButton link :aria-label="`Remove bill ${i + 1}`" @click="body.bills.splice(i, 1)">remove</ElButton>
      </template>
      <span class="wide">
        <ElButton link @click="add">Add a month</ElButton>
        <ElButton type="primary" native-type="submit" :disabled="busy">Keep it</ElButton>
      </span>
    </ElForm>
  </details>
</template>

<style scoped>
.energy {
  margin-top: 16px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 8px 14px;
  align-items: end;
  max-width: 900px;
}
.wide {
  grid-column: 1 / -1;
}
h3 {
  font-size: 14px;
  margin-top: 8px;
}
</style>
