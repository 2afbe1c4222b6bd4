<script setup lang="ts">
/** Who lives there, what gives off vapour, what brings fresh air, the cold spaces: as found, or after the works. */
import { computed, reactive, ref, watch } from 'vue'
import { copy } from '@/shared/copy'
import { show } from '@/shared/units'
import ChoiceBar from '@/shared/ChoiceBar.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import type { Air, AirHands, Stated } from './useAir'

const props = defineProps<{ air: Air; hands: AirHands }>()
const emit = defineEmits<{ kept: [] }>()
const after = ref<'found' | 'after'>('found')
const draft = reactive<{ stated: Stated }>({ stated: copy(props.air.before.stated) as Stated })
const fill = (): void => {
  const kept = copy((after.value === 'after' ? props.air.after : props.air.before).stated) as Stated
  for (const s of props.air.spaces)
    if (!kept.spaces!.some((one) => one.id === s.id))
      kept.spaces!.push({
        id: s.id,
        air_changes: null,
        vents_m2: null,
        vents_apart_m: 0,
        sheet: null,
        stored_kg_day: 0,
        roof_u_w_m2k: null,
        wall_u_w_m2k: null,
      })
  draft.stated = kept
}
watch([after, () => props.air], fill, { immediate: true })
const edgeOf = (key: string) => draft.stated.edges!.find((one) => one.key === key)?.strip
/** Where the strip lies; nothing: none. */
function setEdge(key: string, way: string): void {
  const kept = draft.stated.edges!.filter((one) => one.key !== key)
  if (way !== 'none') {
    const was = edgeOf(key) ?? { reach_m: 0.6, thickness_m: 0.08, conductivity_w_mk: 0.036 }
    kept.push({ key, strip: { ...was, upright: way === 'upright' } })
  }
  draft.stated.edges = kept
}
const floors = computed(() =>
  props.air.floors.filter((f) => f.stands === 'both' || f.stands === (after.value === 'after' ? 'after' : 'before')),
)
const spaceOf = (id: string) => draft.stated.spaces!.find((one) => one.id === id)!
async function keep(): Promise<void> {
  const now = copy(draft.stated) as Stated
  const bare = (s: (typeof now.spaces & object)[number]): boolean =>
    s.air_changes === null &&
    s.vents_m2 == null &&
    s.sheet === null &&
    !s.stored_kg_day &&
    s.roof_u_w_m2k === null &&
    s.wall_u_w_m2k === null
  now.spaces = now.spaces!.filter((s) => !bare(s))
  if (
    await props.hands.write(after.value === 'after', (stated) =>
      Object.assign(stated, { ...now, ledger: stated.ledger }),
    )
  )
    emit('kept')
}
const USE = [
  ['people', 'People', 'plain', 1],
  ['hours_home', 'Hours a day at home', 'plain', 0],
  ['cooking_kg_day', 'Cooking and washing up, water a day', 'mass', 1],
  ['baths_day', 'Baths or showers a day', 'plain', 1],
  ['laundry_week', 'Loads of laundry dried inside, a week', 'plain', 0],
  ['plants', 'Large plants', 'plain', 0],
  ['other_kg_day', 'Other vapour a day (boiler room, dryer, aquarium)', 'mass', 1],
  ['appliances_w_m2', 'Appliances and light, of floor, mean', 'powerPerArea', 1],
] as const
</script>

<template>
  <section class="stated">
    <div class="top">
      <h2>Use, fresh air, cold spaces</h2>
      <ChoiceBar
        v-model="after"
        label="State"
        :options="[
          ['found', 'As found'],
          ['after', 'After the works'],
        ]"
      />
    </div>
    <p v-if="after === 'after' && air.same_after" class="soft">
      Nothing is stated of the scheme yet: as found is taken.
    </p>
    <ElForm class="grid" @submit.prevent="keep">
      <QuantityInput
        v-for="[key, label, quantity, digits] in USE"
        :key="key"
        v-model="draft.stated.use![key]"
        :label="label"
        :quantity="quantity"
        :digits="digits"
        :least="0"
        :most="500"
      />
      <QuantityInput
        v-model="draft.stated.use!.heat_to_c"
        label="Rooms heated to (empty: the project's)"
        quantity="temperature"
        :least="5"
        :most="30"
        optional
      />
      <QuantityInput
        v-model="draft.stated.use!.cool_to_c"
        label="Rooms cooled to (empty: not cooled)"
        quantity="temperature"
        :least="15"
        :most="35"
        optional
      />
      <QuantityInput
        v-model="draft.stated.use!.warm_c"
        label="Too warm above"
        quantity="temperature"
        :least="20"
        :most="40"
      />
      <h3 class="wide">Fresh air beside the leaks</h3>
      <QuantityInput
        v-model="draft.stated.ventilation!.airing_m3_h"
        label="Airing in winter, mean"
        quantity="flow"
        :least="0"
        :most="20000"
      />
      <QuantityInput
        v-model="draft.stated.ventilation!.summer_airing_m3_h"
        label="Windows on warm days"
        quantity="flow"
        :least="0"
        :most="20000"
      />
      <QuantityInput
        v-model="draft.stated.ventilation!.extract_m3_h"
        label="Extract fans, mean"
        quantity="flow"
        :least="0"
        :most="20000"
      />
      <QuantityInput
        v-model="draft.stated.ventilation!.balanced_m3_h"
        label="Unit with recovery"
        quantity="flow"
        :least="0"
        :most="20000"
      />
      <QuantityInput
        :model-value="draft.stated.ventilation!.heat_recovered! * 100"
        label="Heat it gives back, %"
        quantity="plain"
        :digits="0"
        :least="0"
        :most="100"
        @update:model-value="(v) => (draft.stated.ventilation!.heat_recovered = (v ?? 0) / 100)"
      />
      <QuantityInput
        :model-value="draft.stated.ventilation!.moisture_recovered! * 100"
        label="Moisture it gives back, %"
        quantity="plain"
        :digits="0"
        :least="0"
        :most="100"
        @update:model-value="(v) => (draft.stated.ventilation!.moisture_recovered = (v ?? 0) / 100)"
      />
      <QuantityInput
        v-model="draft.stated.ventilation!.kitchen_fan_m3_h"
        label="Largest fan (kitchen, dryer)"
        quantity="flow"
        :least="0"
        :most="20000"
      />
      <span class="checks">
        <ElCheckbox v-model="draft.stated.ventilation!.open_flue">an appliance with an open flue</ElCheckbox>
        <ElCheckbox v-model="draft.stated.ventilation!.radon">radon is known here</ElCheckbox>
      </span>
      <template v-for="s in air.spaces" :key="s.id">
        <h3 class="wide">
          {{ s.name }} <span class="soft">{{ show(s.volume_m3, 'volume') }}</span>
        </h3>
        <QuantityInput
          v-model="spaceOf(s.id).air_changes"
          :label="`Air changes with outside, 1/h (empty: ${s.usual_changes})`"
          quantity="plain"
          :least="0"
          :most="60"
          optional
        />
        <QuantityInput
          :model-value="spaceOf(s.id).vents_m2 == null ? null : spaceOf(s.id).vents_m2! * 1e4"
          label="Free area of its vents (empty: by air changes)"
          quantity="leakArea"
          :least="0"
          :most="1e6"
          optional
          @update:model-value="(v) => (spaceOf(s.id).vents_m2 = v === null ? null : v / 1e4)"
        />
        <QuantityInput
          v-if="spaceOf(s.id).vents_m2 != null"
          v-model="spaceOf(s.id).vents_apart_m"
          label="High vents above low ones"
          quantity="length"
          :least="0"
          :most="40"
        />
        <QuantityInput
          v-model="spaceOf(s.id).stored_kg_day"
          label="Vapour of what lies in it, a day"
          quantity="mass"
          :digits="1"
          :least="0"
          :most="100"
        />
        <span class="checks">
          <ElCheckbox
            v-if="s.earth_m2 > 0"
            :model-value="spaceOf(s.id).sheet ?? s.kind !== 'void'"
            @update:model-value="(v) => (spaceOf(s.id).sheet = !!v)"
            >a sheet or slab on its earth</ElCheckbox
          >
        </span>
      </template>
      <template v-for="f in floors" :key="f.key">
        <h3 class="wide">{{ f.name }} <span class="soft">edge insulation (ISO 13370)</span></h3>
        <ChoiceBar
          :model-value="edgeOf(f.key) ? (edgeOf(f.key)!.upright ? 'upright' : 'flat') : 'none'"
          :label="`Edge of ${f.name}`"
          :options="[
            ['none', 'None'],
            ['flat', 'Horizontal'],
            ['upright', 'Vertical'],
          ]"
          @update:model-value="(way) => setEdge(f.key, way ?? 'none')"
        />
        <template v-if="edgeOf(f.key)">
          <QuantityInput
            v-model="edgeOf(f.key)!.reach_m"
            :label="edgeOf(f.key)!.upright ? 'How deep' : 'How wide'"
            quantity="length"
            :least="0.1"
            :most="5"
          />
          <QuantityInput
            :model-value="edgeOf(f.key)!.thickness_m * 1000"
            label="Thickness"
            quantity="thickness"
            :least="10"
            :most="500"
            @update:model-value="(v) => (edgeOf(f.key)!.thickness_m = (v ?? 80) / 1000)"
          />
          <QuantityInput
            v-model="edgeOf(f.key)!.conductivity_w_mk"
            label="Conductivity in the ground"
            quantity="conductivity"
            :digits="3"
            :least="0.015"
            :most="0.2"
          />
        </template>
      </template>
      <p v-if="hands.complaint.value" class="complaint wide" role="alert">{{ hands.complaint.value }}</p>
      <span class="wide"
        ><ElButton type="primary" native-type="submit" :disabled="hands.busy.value">{{
          after === 'after' ? 'Keep it for the scheme' : 'Keep it as found'
        }}</ElButton></span
      >
    </ElForm>
  </section>
</template>

<style scoped>
.stated {
  margin-top: 20px;
}
.top {
  display: flex;
  gap: 18px;
  align-items: baseline;
}
.grid {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 8px 14px;
  align-items: end;
}
.wide {
  grid-column: 1 / -1;
}
h3 {
  font-size: 14px;
  margin-top: 8px;
}
.checks {
  display: flex;
  flex-direction: column;
}
@media (max-width: 1100px) {
  .grid {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
