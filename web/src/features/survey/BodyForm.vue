<script setup lang="ts">
/** The few dimensions of one body: plan, storeys, roof, what lies below. */
import { computed } from 'vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import { BELOW, LETTERS, rectangle, ROOFS, setRectangle, type Body } from './shapes'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'

const body = defineModel<Body>({ required: true })
const rect = computed(() => rectangle(body.value))
function rectField(name: 'x' | 'y' | 'width' | 'depth', value: number | null): void {
  if (rect.value && value !== null) setRectangle(body.value, { ...rect.value, [name]: value })
}
function corner(index: number, axis: 0 | 1, value: number | null): void {
  if (value === null) return
  const next = [...(body.value.outline[index] as [number, number])] as [number, number]
  next[axis] = value
  body.value.outline.splice(index, 1, next)
}
function addCorner(): void {
  const points = body.value.outline as [number, number][]
  const [x0, y0] = points.at(-1)!
  const [x1, y1] = points[0]!
  body.value.outline.push([Math.round((x0 + x1) * 50) / 100, Math.round((y0 + y1) * 50) / 100])
}
function roofForm(form: Body['roof']['form']): void {
  const roof = body.value.roof
  roof.form = form
  if (form === 'lean_to' && !roof.low_side) roof.low_side = 'a'
  if (form === 'lean_to' && roof.pitch_deg > 30) roof.pitch_deg = 15
  if (form === 'mansard') {
    roof.pitch_deg = Math.max(roof.pitch_deg, 65)
    roof.break_height_m ??= 2.2
    roof.upper_pitch_deg ??= 25
  }
  if (form === 'flat') roof.pitch_deg = 0
  else if (roof.pitch_deg === 0) roof.pitch_deg = 40
}
</script>

<template>
  <div class="form">
    <TextField class="wide" label="Name" v-model.lazy="body.name" maxlength="80" name="body-name" />
    <template v-if="rect">
      <QuantityInput
        :model-value="rect.width"
        label="Width, face a"
        quantity="length"
        :least="0.5"
        :most="200"
        @update:model-value="(v) => rectField('width', v)"
      />
      <QuantityInput
        :model-value="rect.depth"
        label="Depth, face b"
        quantity="length"
        :least="0.5"
        :most="200"
        @update:model-value="(v) => rectField('depth', v)"
      />
      <QuantityInput
        :model-value="rect.x"
        label="Left corner at"
        quantity="length"
        :least="-200"
        :most="200"
        @update:model-value="(v) => rectField('x', v)"
      />
      <QuantityInput
        :model-value="rect.y"
        label="Lower corner at"
        quantity="length"
        :least="-200"
        :most="200"
        @update:model-value="(v) => rectField('y', v)"
      />
    </template>
    <div class="wide corners">
      <template v-if="!rect">
        <div v-for="(p, i) in body.outline" :key="i" class="corner">
          <b>{{ LETTERS[i] }}</b>
          <QuantityInput
            :model-value="p[0]!"
            :label="`Corner ${i + 1}, right`"
            quantity="length"
            :least="-200"
            :most="200"
            @update:model-value="(v) => corner(i, 0, v)"
          />
          <QuantityInput
            :model-value="p[1]!"
            :label="`Corner ${i + 1}, up`"
            quantity="length"
            :least="-200"
            :most="200"
            @update:model-value="(v) => corner(i, 1, v)"
          />
          <ElButton
            link
            v-if="body.outline.length > 3"
            :aria-label="`Remove corner ${i + 1}`"
            @click="body.outline.splice(i, 1)"
          >
            ×
          </ElButton>
        </div>
      </template>
      <ElButton link v-if="body.outline.length < 24" @click="addCorner">Add a corner</ElButton>
    </div>

    <h3 class="wide">Storeys, from below</h3>
    <div v-for="(s, i) in body.storeys" :key="i" class="wide storey">
      <TextField label="Name" v-model.lazy="s.name" maxlength="80" />
      <QuantityInput v-model="s.height_m" label="Height" quantity="length" :least="1.01" :most="30" />
      <ElCheckbox v-if="i" class="check" v-model="s.own_walls">walls made differently</ElCheckbox>
      <ElButton
        link
        v-if="body.storeys.length > 1"
        :aria-label="`Remove storey ${s.name}`"
        @click="body.storeys.splice(i, 1)"
      >
        remove
      </ElButton>
    </div>
    <ElButton link class="wide" @click="body.storeys.push({ name: 'upper floor', height_m: 2.5, own_walls: false })">
      Add a storey
    </ElButton>

    <h3 class="wide">Roof</h3>
    <SelectField label="Form" :model-value="body.roof.form" name="roof-form" @change="roofForm">
      <ElOption v-for="[form, words] in ROOFS" :key="form" :value="form" :label="words" />
    </SelectField>
    <QuantityInput
      v-if="body.roof.form !== 'flat'"
      v-model="body.roof.pitch_deg"
      label="Pitch, °"
      quantity="plain"
      :least="1"
      :most="80"
    />
    <SelectField
      v-if="body.roof.form === 'gable' || body.roof.form === 'mansard'"
      label="Ridge"
      v-model="body.roof.ridge"
    >
      <ElOption value="along" label="along the longer side" />
      <ElOption value="across" label="across it" />
    </SelectField>
    <SelectField v-if="body.roof.form === 'lean_to'" label="Low side" v-model="body.roof.low_side">
      <ElOption v-for="i in body.outline.length" :key="i" :value="LETTERS[i - 1]!" :label="LETTERS[i - 1]" />
    </SelectField>
    <template v-if="body.roof.form === 'mansard'">
      <QuantityInput
        v-model="body.roof.break_height_m"
        label="Break above eaves"
        quantity="length"
        :least="0.1"
        :most="20"
      />
      <QuantityInput
        v-model="body.roof.upper_pitch_deg"
        label="Upper pitch, °"
        quantity="plain"
        :least="1"
        :most="60"
      />
    </template>
    <QuantityInput
      v-model="body.roof.eaves_overhang_m"
      label="Overhang, eaves"
      quantity="length"
      :least="0"
      :most="5"
    />
    <QuantityInput
      v-model="body.roof.verge_overhang_m"
      label="Overhang, verge"
      quantity="length"
      :least="0"
      :most="5"
    />
    <ElCheckbox v-if="body.roof.form !== 'flat'" class="check" v-model="body.roof.room"
      >rooms under the slopes</ElCheckbox
    >

    <h3 class="wide">Below and levels</h3>
    <SelectField label="Below" v-model="body.below" name="body-below">
      <ElOption v-for="[below, words] in BELOW" :key="below" :value="below" :label="words" />
    </SelectField>
    <QuantityInput
      v-if="body.below !== 'slab'"
      v-model="body.below_height_m"
      label="Its height"
      quantity="length"
      :least="0.1"
      :most="20"
    />
    <QuantityInput v-model="body.level_m" label="Floor level" quantity="length" :least="-20" :most="100" />
    <QuantityInput v-model="body.ground_m" label="Ground level" quantity="length" :least="-20" :most="100" />
    <QuantityInput v-model="body.wall_mm" label="Outer walls" quantity="thickness" :least="1" :most="3000" />
    <ElCheckbox class="check" v-model="body.heated">heated</ElCheckbox>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 8px 12px;
  align-items: end;
}
.wide {
  grid-column: 1 / -1;
}
h3 {
  margin-top: 8px;
  font-size: 14px;
}
.storey,
.corner {
  display: grid;
  grid-template-columns: 2fr 1fr auto auto;
  gap: 10px;
  align-items: end;
}
.corner {
  grid-template-columns: 16px 1fr 1fr auto;
}
.corners {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 24px;
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 30px;
}
@media (max-width: 900px) {
  .form {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
