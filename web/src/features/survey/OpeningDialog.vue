<script setup lang="ts">
/** Like windows or doors in one face: size, place, frame, glazing, shading, reveal. */
import { computed, ref } from 'vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import { copy } from '@/shared/copy'
import { FRAMES, GLAZING, LETTERS, SECONDARY, SHADING, type Opening, type Shape } from './shapes'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'
import { useForm } from '@/shared/form'

const props = defineProps<{ opening: Opening; shape: Shape; fresh: boolean }>()
const emit = defineEmits<{ keep: [opening: Opening]; leave: [] }>()
const o = ref<Opening>(copy(props.opening))
const body = computed(() => props.shape.bodies.find((b) => b.id === o.value.body))
const storeys = computed(() => [
  ...(body.value?.storeys.map((s) => s.name) ?? []),
  ...(body.value?.roof.room ? ['under the roof'] : []),
])
function kind(now: NonNullable<Opening['kind']>): void {
  o.value.kind = now
  if (o.value.kind === 'door') {
    o.value.sill_m = 0
    o.value.glazing = 'boards'
    if (o.value.name === 'Windows') o.value.name = 'Door'
    if (o.value.height_m < 1.9) o.value.height_m = 2.1
  }
}
const whenRight = useForm()
</script>

<template>
  <ElDialog :model-value="true" :title="fresh ? 'New opening' : o.name" width="760" align-center @close="emit('leave')">
    <ElForm
      id="opening"
      class="grid"
      ref="form"
      :model="{}"
      hide-required-asterisk
      @submit.prevent="whenRight(() => emit('keep', o))"
    >
      <TextField
        class="two"
        label="Name"
        v-model="o.name"
        name="opening-name"
        maxlength="80"
        must="The opening needs a name."
      />
      <SelectField label="Kind" :model-value="o.kind" name="opening-kind" @change="kind">
        <ElOption value="window" label="window" />
        <ElOption value="door" label="door" />
      </SelectField>
      <QuantityInput v-model="o.count" label="How many alike" quantity="plain" :digits="0" :least="1" :most="60" />
      <SelectField label="Part" v-model="o.body">
        <ElOption v-for="b in shape.bodies" :key="b.id" :value="b.id" :label="b.name" />
      </SelectField>
      <SelectField label="Face" v-model="o.face">
        <ElOption v-for="i in body?.outline.length ?? 0" :key="i" :value="LETTERS[i - 1]!" :label="LETTERS[i - 1]" />
      </SelectField>
      <SelectField label="Storey" v-model="o.storey">
        <ElOption v-for="(name, i) in storeys" :key="i" :value="i" :label="name" />
      </SelectField>
      <ElCheckbox v-if="o.kind === 'window'" v-model="o.in_roof" class="check">in the roof over this face</ElCheckbox>
      <QuantityInput v-model="o.at_m" label="From the left corner" quantity="length" :least="0" :most="200" optional />
      <QuantityInput v-model="o.width_m" label="Width" quantity="length" :least="0.1" :most="20" />
      <QuantityInput v-model="o.height_m" label="Height" quantity="length" :least="0.1" :most="20" />
      <QuantityInput
        v-if="o.kind === 'window'"
        v-model="o.sill_m"
        label="Sill above the floor"
        quantity="length"
        :least="0"
        :most="20"
      />
      <SelectField label="Frame" v-model="o.frame">
        <ElOption v-for="[v, words] in FRAMES" :key="v" :value="v" :label="words" />
      </SelectField>
      <SelectField label="Glazing" v-model="o.glazing">
        <ElOption v-for="[v, words] in GLAZING" :key="v" :value="v" :label="words" />
      </SelectField>
      <SelectField label="Secondary glazing" v-model="o.secondary">
        <ElOption v-for="[v, words] in SECONDARY" :key="v" :value="v" :label="words" />
      </SelectField>
      <SelectField label="Shading" v-model="o.shading">
        <ElOption v-for="[v, words] in SHADING" :key="v" :value="v" :label="words" />
      </SelectField>
      <QuantityInput v-model="o.reveal_mm" label="Reveal depth" quantity="thickness" :least="0" :most="2000" />
      <QuantityInput v-model="o.overhang_m" label="Overhang above it" quantity="length" :least="0" :most="10" />
      <QuantityInput
        v-model="o.horizon_deg"
        label="Horizon in front, degrees"
        quantity="plain"
        :digits="0"
        :least="0"
        :most="80"
      />
      <QuantityInput
        v-model="o.margin_mm"
        label="Frame seen beside the reveal"
        quantity="thickness"
        :least="0"
        :most="1000"
      />
      <QuantityInput
        v-model="o.u_w_m2k"
        label="U, if known"
        quantity="transmittance"
        :least="0.1"
        :most="10"
        optional
      />
      <QuantityInput
        v-model="o.g_value"
        label="g, if known"
        quantity="plain"
        :digits="2"
        :least="0"
        :most="1"
        optional
      />
    </ElForm>
    <p class="soft">U and g are estimated from frame and glazing until typed (± 15 %).</p>
    <template #footer>
      <ElButton @click="emit('leave')">Leave it</ElButton>
      <ElButton type="primary" native-type="submit" form="opening">{{ fresh ? 'Add it' : 'Keep it' }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 10px 14px;
  align-items: end;
}
.two {
  grid-column: span 2;
}
</style>
