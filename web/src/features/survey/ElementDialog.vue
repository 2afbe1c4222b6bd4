<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { Problem, sentence } from '@/api/client'
import QuantityInput from '@/shared/QuantityInput.vue'
import { useProject } from '@/shared/project'
import { FACINGS, usualFactor, usualSlope, type ElementFields } from './elements'
import NamedLimits from './NamedLimits.vue'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'
import { copy } from '@/shared/copy'
import { useForm } from '@/shared/form'

const props = defineProps<{
  fields: ElementFields
  fresh: boolean
  keep: (fields: ElementFields, over: boolean) => Promise<void>
}>()
const emit = defineEmits<{ leave: []; theirs: [] }>()
const project = useProject()
const rooms = computed(() => (project.library?.indoor ?? []).filter((one) => !one.name.startsWith('own-')))
const e = reactive<ElementFields>(copy({ ...props.fields }) as ElementFields)
const complaint = ref('')
/** Another window kept the element since this edit began. */
const clash = ref(false)
const glazed = computed(() => e.kind === 'window' || e.kind === 'door')
watch(
  () => e.kind,
  (kind) => (e.slope_deg = usualSlope(kind)),
)
watch(
  () => e.adjoining,
  (adjoining) => (e.factor_b = usualFactor(adjoining ?? 'outside')),
)
async function enter(over = false): Promise<void> {
  complaint.value = ''
  clash.value = false
  if (!e.name.trim()) complaint.value = 'An element needs a name.'
  else if (!(e.area_m2 > 0)) complaint.value = 'An element needs an area above 0.'
  else if (glazed.value && !e.u_w_m2k) complaint.value = `A ${e.kind} needs its U-value, frame and glass together.`
  if (complaint.value) return
  try {
    await props.keep({ ...e, name: e.name.trim() }, over)
  } catch (error) {
    clash.value = error instanceof Problem && error.code === 'changed_meanwhile'
    complaint.value = sentence(error)
  }
}
const whenRight = useForm()
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="fresh ? 'Add an element' : 'Edit the element'"
    width="620"
    align-center
    @close="emit('leave')"
  >
    <ElForm
      id="element"
      class="grid"
      ref="form"
      :model="{}"
      hide-required-asterisk
      @submit.prevent="whenRight(() => enter())"
    >
      <TextField
        class="two"
        label="Name"
        v-model="e.name"
        name="element-name"
        must="An element needs a name."
        maxlength="120"
      />
      <SelectField label="Kind" v-model="e.kind" name="element-kind" :disabled="!fresh">
        <ElOption v-for="kind in ['wall', 'roof', 'floor', 'window', 'door']" :key="kind" :value="kind" :label="kind" />
      </SelectField>
      <QuantityInput v-model="e.area_m2" label="Area" quantity="area" :least="0.01" :most="100000" />
      <SelectField v-if="e.kind !== 'floor'" label="Faces" v-model="e.facing_deg">
        <ElOption v-for="(word, i) in FACINGS" :key="word" :value="i * 45" :label="word" />
      </SelectField>
      <QuantityInput
        v-if="e.kind === 'roof'"
        v-model="e.slope_deg!"
        label="Slope, °"
        quantity="plain"
        :digits="0"
        :least="0"
        :most="90"
      />
      <SelectField label="Adjoins" v-model="e.adjoining">
        <ElOption value="outside" label="outside air" />
        <ElOption value="ground" label="ground" />
        <ElOption value="unheated" label="unheated space" />
      </SelectField>
      <QuantityInput
        v-if="e.adjoining !== 'outside'"
        v-model="e.factor_b!"
        label="Factor b, typed"
        quantity="plain"
        :digits="2"
        :least="0"
        :most="1"
      />
      <SelectField v-if="e.kind === 'wall' && e.adjoining === 'outside'" label="Driven rain" v-model="e.exposure">
        <ElOption
          v-for="word in ['sheltered', 'moderate', 'exposed', 'severe']"
          :key="word"
          :value="word"
          :label="word"
        />
      </SelectField>
      <template v-if="glazed">
        <QuantityInput
          v-model="e.u_w_m2k!"
          label="U, frame and glass"
          quantity="transmittance"
          :least="0.1"
          :most="10"
          optional
        />
        <QuantityInput v-model="e.g_value!" label="g" quantity="plain" :digits="2" :least="0" :most="1" optional />
        <QuantityInput
          v-model="e.planned_u_w_m2k!"
          label="U after, planned"
          quantity="transmittance"
          :least="0.1"
          :most="10"
          optional
        />
        <QuantityInput
          v-model="e.planned_g_value!"
          label="g after"
          quantity="plain"
          :digits="2"
          :least="0"
          :most="1"
          optional
        />
      </template>
      <template v-else>
        <SelectField label="Room behind it" v-model="e.occupancy" name="element-room">
          <ElOption value="" label="as the project" />
          <ElOption v-for="one in rooms" :key="one.name" :value="one.name" :label="one.label" />
        </SelectField>
        <QuantityInput
          v-model="e.set_point_c!"
          label="Set-point there"
          quantity="temperature"
          :least="5"
          :most="30"
          optional
        />
        <QuantityInput
          v-if="e.adjoining === 'outside'"
          v-model="e.absorptance!"
          label="Sun taken up, 0 to 1"
          quantity="plain"
          :digits="2"
          :least="0"
          :most="1"
          optional
        />
        <template v-if="e.adjoining === 'ground'">
          <SelectField label="Soil against it" v-model="e.ground">
            <ElOption value="moist" label="moist" />
            <ElOption value="wet" label="wet, draws water" />
          </SelectField>
          <QuantityInput
            v-if="e.kind === 'floor'"
            v-model="e.perimeter_m!"
            label="Exposed perimeter"
            quantity="length"
            :least="0.1"
            :most="1000"
            optional
          />
          <QuantityInput
            v-model="e.depth_m!"
            label="Depth below ground"
            quantity="length"
            :least="0"
            :most="10"
            optional
          />
        </template>
        <QuantityInput
          v-model="e.room_limit_mm!"
          label="May take of the room"
          quantity="thickness"
          :least="0"
          :most="2000"
          optional
        />
        <QuantityInput
          v-model="e.outside_limit_mm!"
          label="May grow outside"
          quantity="thickness"
          :least="0"
          :most="2000"
          optional
        />
        <QuantityInput
          v-model="e.target_u_w_m2k!"
          label="Target U"
          quantity="transmittance"
          :least="0.05"
          :most="5"
          optional
        />
        <NamedLimits v-model="e.named_limits!" class="all" />
      </template>
    </ElForm>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <p v-if="clash" class="clash">
      <ElButton size="small" @click="emit('theirs')">Take theirs</ElButton>
      <ElButton size="small" @click="enter(true)">Write mine over it</ElButton>
    </p>
    <template #footer>
      <ElButton @click="emit('leave')">Leave it</ElButton>
      <ElButton type="primary" native-type="submit" form="element">{{ fresh ? 'Add it' : 'Keep it' }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 12px 16px;
  align-items: start;
}
.all {
  grid-column: 1 / -1;
}
.two {
  grid-column: span 2;
}
</style>
