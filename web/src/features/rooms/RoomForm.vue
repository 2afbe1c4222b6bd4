<script setup lang="ts">
/** One room: its use and size, what of the elements bounds it with the heat through each, and its air as found and after. */
import { computed, reactive, ref, watch } from 'vue'
import { copy } from '@/shared/copy'
import QuantityInput from '@/shared/QuantityInput.vue'
import RuledTable from '@/shared/RuledTable.vue'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'
import type { Column } from '@/shared/table'
import { bare, capital, said, show, unitOf } from '@/shared/units'
import { freshId, split, USES, type Load, type Room, type RoomAir, type RoomHands, type RoomsOut } from './useRooms'

const props = defineProps<{ room: Room; all: RoomsOut; hands: RoomHands }>()
const emit = defineEmits<{ gone: [] }>()
const airOf = (list: readonly RoomAir[] | undefined): RoomAir =>
  copy(
    list?.find((one) => one.id === props.room.id) ?? {
      id: props.room.id,
      supply_m3_h: 0,
      extract_m3_h: 0,
      airing_m3_h: null,
    },
  )
const begin = () => ({
  room: copy(props.room) as Room,
  found: airOf(props.all.stated.air_found),
  after: airOf(props.all.stated.air_after),
})
const draft = reactive(begin())
watch(
  () => props.all,
  () => Object.assign(draft, begin()),
)
const loadOf = (which: 'before' | 'after'): Load | undefined =>
  props.all[which]?.loads.rooms.find((one) => one.id === props.room.id)
const before = computed(() => loadOf('before'))
const after = computed(() => loadOf('after'))
const wattsOf = (load: Load | undefined, key: string) => load?.faces.find((one) => one.key === key)
type Face = NonNullable<Room['faces']>[number]
const nameOf = (key: string): string => props.all.bounds.find((one) => one.key === key)?.name ?? `${key}, gone`
const columns = computed<Column<Face>[]>(() => [
  { name: 'name', head: 'Bounded by', text: (f) => nameOf(f.key) },
  { name: 'area', head: 'area' },
  {
    name: 'u',
    head: unitOf('transmittance').unit === 'R' ? 'R' : `U, ${unitOf('transmittance').unit}`,
    figure: true,
    text: (f) =>
      [before.value, after.value].map((one) => bare(wattsOf(one, f.key)?.u_w_m2k ?? null, 'transmittance')).join(' → '),
  },
  {
    name: 'kelvin',
    head: `difference, ${unitOf('kelvin').unit}`,
    figure: true,
    text: (f) =>
      [before.value, after.value].map((one) => bare(wattsOf(one, f.key)?.kelvin ?? null, 'kelvin')).join(' → '),
  },
  {
    name: 'watts',
    head: `heat, ${unitOf('power').unit}`,
    figure: true,
    text: (f) =>
      [before.value, after.value].map((one) => bare(wattsOf(one, f.key)?.watts ?? null, 'power', 2)).join(' → '),
  },
  {
    name: 'words',
    head: 'after',
    text: (f) => {
      const face = wattsOf(after.value, f.key) ?? wattsOf(before.value, f.key)
      return face ? said(face.words) : ''
    },
  },
  { name: 'out', head: '' },
])
const free = computed(() => props.all.bounds.filter((one) => !draft.room.faces!.some((face) => face.key === one.key)))
const picked = ref('')
/** What of an element no other room names yet, as found. */
function add(key: string): void {
  const whole = props.all.bounds.find((one) => one.key === key)!.area_m2
  const used = props.all.stated.rooms.rooms!.reduce(
    (sum, room) =>
      room.id === props.room.id ? sum : sum + (room.faces?.find((face) => face.key === key)?.area_m2 ?? 0),
    0,
  )
  draft.room.faces!.push({ key, area_m2: Math.round(Math.max(whole - used, 0.1) * 100) / 100 })
  picked.value = ''
}
const setAir = (list: RoomAir[], air: RoomAir): RoomAir[] => [...list.filter((one) => one.id !== air.id), copy(air)]
const keep = (): Promise<boolean> =>
  props.hands.write((stated) => {
    stated.rooms.rooms = stated.rooms.rooms!.map((one) => (one.id === props.room.id ? (copy(draft.room) as Room) : one))
    stated.air_found = setAir(stated.air_found ?? [], draft.found)
    stated.air_after = setAir(stated.air_after ?? [], draft.after)
  })
const share = ref<number | null>(50)
const apart = (): Promise<boolean> =>
  props.hands.write((stated) => {
    const rooms = stated.rooms.rooms!
    const at = rooms.findIndex((one) => one.id === props.room.id)
    rooms.splice(at, 1, ...split(rooms[at]!, (share.value ?? 50) / 100, freshId(rooms)))
  })
async function remove(): Promise<void> {
  if (
    await props.hands.write((stated) => {
      stated.rooms.rooms = stated.rooms.rooms!.filter((one) => one.id !== props.room.id)
    })
  )
    emit('gone')
}
const AIRS = [
  ['found', 'as found'],
  ['after', 'after'],
] as const
</script>

<template>
  <ElForm class="room" @submit.prevent="keep">
    <div class="grid">
      <TextField v-model="draft.room.name" label="Name" maxlength="80" must="A room needs a name." />
      <SelectField v-model="draft.room.use" label="Use">
        <ElOption v-for="[value, words] in USES" :key="value" :value="value!" :label="words" />
      </SelectField>
      <QuantityInput v-model="draft.room.floor_m2" label="Floor" quantity="area" :digits="1" :least="0.1" :most="1e4" />
      <QuantityInput v-model="draft.room.height_m" label="Height" quantity="length" :least="0.6" :most="30" />
      <QuantityInput
        v-model="draft.room.level_m"
        label="Its floor lies at (empty: not told)"
        quantity="length"
        :least="-30"
        :most="150"
        optional
      />
      <QuantityInput
        v-model="draft.room.set_c"
        :label="`Heated to (empty: ${draft.room.use === 'bath' ? show(24, 'temperature', 0) : 'as the house'})`"
        quantity="temperature"
        :digits="1"
        :least="5"
        :most="30"
        optional
      />
      <QuantityInput
        v-model="draft.room.people"
        label="People in it at once"
        quantity="plain"
        :digits="0"
        :least="0"
        :most="500"
      />
      <SelectField v-if="all.moved" v-model="draft.room.stands" label="Stands">
        <ElOption value="both" label="as found and after" />
        <ElOption value="before" label="as found only" />
        <ElOption value="after" label="after only" />
      </SelectField>
      <ElFormItem v-if="all.leaks.length" class="field" label="Leaks that open into it" label-position="top">
        <ElSelect v-model="draft.room.leaks" multiple aria-label="Leaks that open into it">
          <ElOption v-for="leak in all.leaks" :key="leak.key" :value="leak.key" :label="leak.name" />
        </ElSelect>
      </ElFormItem>
    </div>
    <RuledTable
      class="faces"
      :label="`What bounds ${room.name}`"
      :rows="draft.room.faces!"
      :columns="columns"
      :key-of="(f) => f.key"
    >
      <template #area="{ row }"
        ><QuantityInput
          v-model="row.area_m2"
          :label="`Area of ${nameOf(row.key)} in it`"
          quantity="area"
          :digits="1"
          :least="0.01"
          :most="1e4"
          bare
      /></template>
      <template #out="{ row }"
        ><ElButton
          link
          :aria-label="`leave out ${nameOf(row.key)}`"
          @click="draft.room.faces = draft.room.faces!.filter((f) => f.key !== row.key)"
          >leave out</ElButton
        ></template
      >
    </RuledTable>
    <div class="grid">
      <SelectField v-if="free.length" v-model="picked" label="Bounded by another element" @change="(key) => add(key)">
        <ElOption v-for="one in free" :key="one.key" :value="one.key" :label="one.name" />
      </SelectField>
    </div>
    <div v-for="[which, words] in AIRS" :key="which" class="grid air">
      <span class="soft">Air, {{ words }}</span>
      <QuantityInput
        v-model="draft[which].airing_m3_h"
        :label="`Airing, mean, ${words} (empty: by floor)`"
        quantity="flow"
        :least="0"
        :most="2e4"
        optional
      />
      <QuantityInput
        v-model="draft[which].supply_m3_h"
        :label="`Supply from the unit, ${words}`"
        quantity="flow"
        :least="0"
        :most="2e4"
      />
      <QuantityInput
        v-model="draft[which].extract_m3_h"
        :label="`Extract fan, running, ${words}`"
        quantity="flow"
        :least="0"
        :most="2e4"
      />
    </div>
    <p v-for="load in [after ?? before]" :key="load?.id" class="soft">
      <template v-if="load">
        Air at the coldest day: {{ show(load.air_m3_h, 'flow', 0) }}, {{ said(load.air_words) }}:
        {{ show(load.air_w, 'power', 2) }}. In the heating season leaks bring {{ show(load.leaks_in, 'flow', 0) }} in
        and take {{ show(load.leaks_out, 'flow', 0) }} out.
      </template>
    </p>
    <p v-for="words in [...(after?.unknown ?? []), ...(before?.unknown ?? [])]" :key="words.metric" class="over">
      {{ capital(said(words)) }}.
    </p>
    <span class="acts">
      <ElButton type="primary" native-type="submit" :disabled="hands.busy.value">Keep the room</ElButton>
      <ElPopover trigger="click" :width="260">
        <template #reference><ElButton :disabled="hands.busy.value">Split a part off</ElButton></template>
        <ElForm @submit.prevent="apart">
          <QuantityInput
            v-model="share"
            label="Share of floor and faces for the new room, %"
            quantity="plain"
            :digits="0"
            :least="1"
            :most="99"
          />
          <ElButton type="primary" native-type="submit">Split it</ElButton>
        </ElForm>
      </ElPopover>
      <ElButton link :disabled="hands.busy.value" @click="remove">Remove the room</ElButton>
    </span>
  </ElForm>
</template>

<style scoped>
.room {
  padding: 4px 0 10px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 6px 14px;
  align-items: end;
  margin-bottom: 6px;
}
.air > .soft {
  align-self: center;
}
.acts {
  display: flex;
  gap: 14px;
  align-items: center;
}
.faces :deep(.el-input) {
  max-width: 110px;
}
.faces {
  margin-bottom: 8px;
}
@media (max-width: 1100px) {
  .grid {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
