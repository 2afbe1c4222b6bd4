<script setup lang="ts">
/** Rooms of the building: the heat each needs on the coldest day, and which get too little fresh air, as found and after. */
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import HeatTabs from '@/shared/HeatTabs.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import PairBars from '@/shared/PairBars.vue'
import RuledTable from '@/shared/RuledTable.vue'
import SheetPage from '@/shared/SheetPage.vue'
import WhichFigures from '@/shared/WhichFigures.vue'
import type { Column } from '@/shared/table'
import { AIR_WH_M3K, bare, capital, said, show, unitOf } from '@/shared/units'
import RoomForm from './RoomForm.vue'
import { freshId, useRooms, USES, type Load, type Room } from './useRooms'

const route = useRoute()
const projectId = computed(() => Number(route.params.project))
const hands = useRooms(projectId)
const { rooms: all, complaint, busy } = hands
const opened = ref<string | null>(null)
const rooms = computed(() => all.value?.stated.rooms.rooms ?? [])
const loadOf = (which: 'before' | 'after', room: Room): Load | undefined =>
  all.value?.[which]?.loads.rooms.find((one) => one.id === room.id)
const both = (room: Room, of: (load: Load) => string): string =>
  [loadOf('before', room), loadOf('after', room)].map((one) => (one ? of(one) : '–')).join(' → ')
const most = computed(() =>
  Math.max(1, ...(['before', 'after'] as const).flatMap((w) => all.value?.[w]?.loads.rooms.map((r) => r.watts) ?? [])),
)
/** A room table of cooling too, where the rooms are cooled in summer. */
const cooled = computed(() =>
  (['before', 'after'] as const).some((w) => all.value?.[w]?.loads.rooms.some((r) => r.cooling_w !== null)),
)
const columns = computed<Column<Room>[]>(() => [
  { name: 'name', head: 'Room' },
  { name: 'floor', head: `floor, ${unitOf('area').unit}`, figure: true, text: (r) => bare(r.floor_m2, 'area', 1) },
  {
    name: 'set',
    head: 'at',
    figure: true,
    text: (r) => show((loadOf('after', r) ?? loadOf('before', r))?.set_c ?? null, 'temperature', 1),
  },
  { name: 'bar', head: 'Heat load', mark: 'bars' },
  { name: 'before', head: `as found, ${unitOf('power').unit}`, figure: true, text: (r) => watts(loadOf('before', r)) },
  { name: 'after', head: 'after', figure: true, mark: 'strong', text: (r) => watts(loadOf('after', r)) },
  {
    name: 'per',
    head: `after, ${unitOf('powerPerArea').unit}`,
    figure: true,
    text: (r) => {
      const load = loadOf('after', r)
      return bare(load ? load.watts / r.floor_m2 : null, 'powerPerArea')
    },
  },
  {
    name: 'fresh',
    head: `fresh air, ${unitOf('flow').unit}`,
    figure: true,
    text: (r) => both(r, (l) => bare(l.fresh_m3_h, 'flow')),
  },
  { name: 'needed', head: 'needed', figure: true, text: (r) => bare(r.people ? r.people * 25 : null, 'flow') },
  ...(cooled.value
    ? [
        {
          name: 'cooling',
          head: `cooling, ${unitOf('power').unit}`,
          figure: true,
          text: (r: Room) => both(r, (l) => bare(l.cooling_w ?? null, 'power', 2)),
        },
      ]
    : []),
])
const watts = (load: Load | undefined): string => bare(load?.watts ?? null, 'power', 2)
const useOf = (room: Room): string => USES.find(([value]) => value === room.use)?.[1] ?? ''
interface Lack {
  room: string
  words: string
  was: boolean
}
/** What the air of rooms lacks after the works, and whether it did as found. */
const lacking = computed<Lack[]>(() =>
  rooms.value.flatMap((room) => {
    const was = (loadOf('before', room)?.lacking ?? []).length > 0
    return (loadOf('after', room)?.lacking ?? []).map((words) => ({ room: room.name, words: said(words), was }))
  }),
)
const left = computed(() => {
  const side = all.value?.after ?? all.value?.before
  return rooms.value.length ? (side?.left ?? []) : []
})
const add = (): Promise<boolean> => {
  const id = freshId(rooms.value)
  opened.value = id
  return hands.write(
    (stated) =>
      void stated.rooms.rooms!.push({
        id,
        name: `Room ${stated.rooms.rooms!.length + 1}`,
        use: 'other',
        floor_m2: 12,
        height_m: 2.5,
        set_c: null,
        people: 0,
        stands: 'both',
        faces: [],
        leaks: [],
      }),
  )
}
const design = (value: number | null): Promise<boolean> => hands.write((stated) => void (stated.rooms.design_c = value))
const toggle = (id: string): void => void (opened.value = opened.value === id ? null : id)
</script>

<template>
  <SheetPage title="Rooms" written>
    <HeatTabs :project-id="projectId" view="rooms" title="Rooms" />
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <p v-if="!all && !complaint" class="soft">Reckoning the rooms …</p>
    <template v-if="all">
      <p v-if="all.refused" class="complaint">{{ all.refused }}</p>
      <template v-if="!rooms.length">
        <p>
          No room is stated yet. The shape gives one for each storey of each part, with what bounds it; name them, and
          split a part off for each bedroom, kitchen, bath.
        </p>
        <ElButton type="primary" :disabled="busy" @click="hands.propose"
          >Take rooms by storey out of the shape</ElButton
        >
      </template>
      <template v-else>
        <RuledTable
          class="rooms"
          label="Rooms"
          sums
          :rows="rooms"
          :columns="columns"
          :key-of="(r) => r.id"
          :opened="(r) => r.id === opened"
        >
          <template #name="{ row }">
            <ElButton link :aria-expanded="opened === row.id" @click="toggle(row.id)">{{ row.name }}</ElButton>
            <span v-if="row.use !== 'other' && !row.name.toLowerCase().includes(useOf(row))" class="soft">
              {{ useOf(row) }}</span
            >
            <span v-if="row.stands !== 'both'" class="soft">{{
              row.stands === 'before' ? ' as found only' : ' after only'
            }}</span>
          </template>
          <template #bar="{ row }">
            <PairBars
              :before="loadOf('before', row)?.watts ?? null"
              :after="loadOf('after', row)?.watts ?? null"
              :most="most"
            />
          </template>
          <template #below="{ row }">
            <RoomForm :room="row" :all="all" :hands="hands" @gone="opened = null" />
          </template>
          <template #sum-name>All rooms</template>
          <template #sum-floor>{{
            bare(
              rooms.reduce((sum, r) => sum + r.floor_m2, 0),
              'area',
              0,
            )
          }}</template>
          <template #sum-before>{{ bare(all.before?.loads.watts ?? null, 'power', 1) }}</template>
          <template #sum-after>{{ bare(all.after?.loads.watts ?? null, 'power', 1) }}</template>
        </RuledTable>
        <template v-if="lacking.length">
          <h2>Air that is missing after the works</h2>
          <ul class="list" data-lacking>
            <li v-for="one in lacking" :key="one.room + one.words">
              <b>{{ one.room }}</b> {{ one.words
              }}<span class="soft">{{ one.was ? '; as found too little as well' : '; as found it had enough' }}</span>
            </li>
          </ul>
        </template>
        <template v-if="left.length">
          <h2>In no room, or in two</h2>
          <ul class="list">
            <li v-for="one in left" :key="one.words.metric">
              {{ capital(said(one.words)) }}: {{ show(one.watts, 'power', 2) }}
            </li>
          </ul>
        </template>
      </template>
      <p class="more"><ElButton link :disabled="busy" @click="add">Add a room</ElButton></p>
    </template>
    <template #margin>
      <template v-if="all?.before && all.after">
        <h2 v-if="rooms.length" class="big">
          {{ bare(all.before.loads.watts, 'power', 1) }} → {{ show(all.after.loads.watts, 'power', 1) }}
        </h2>
        <p v-if="rooms.length">
          Heat load of the rooms together. By H and one set-point, as Loss shows it, the whole loses
          {{ bare(all.before.whole_w, 'power', 1) }} → {{ show(all.after.whole_w, 'power', 1) }}: the ground and the air
          of the coldest day are reckoned differently there.
        </p>
        <ElForm @submit.prevent>
          <QuantityInput
            :model-value="all.stated.rooms.design_c ?? null"
            :label="`Outside (empty: coldest day, ${show(all.after.loads.design_c, 'temperature', 1)})`"
            quantity="temperature"
            :digits="1"
            :least="-60"
            :most="20"
            optional
            @update:model-value="design"
          />
        </ElForm>
        <p v-if="all.after.loads.unit_m3_h > 0 && rooms.length" class="soft">
          The unit brings {{ show(all.after.loads.unit_m3_h, 'flow', 0) }} after;
          {{ show(all.after.loads.supplied_m3_h, 'flow', 0) }} of it are given to rooms.
        </p>
        <h3 class="apart">How it is reckoned</h3>
        <p class="soft">
          After EN 12831-1, as far as it is certain: area × U × the difference that counts; on the ground 1.45 × the
          difference to the year's mean; air {{ show(AIR_WH_M3K, 'airHeat', 3) }} of what leaks, airing and supply bring
          on the coldest day, at least half a change an hour where people stay.
        </p>
        <h3>What is not in it</h3>
        <ul class="list soft">
          <li>heat between rooms of different temperature</li>
          <li>joints: allow for them until they are reckoned</li>
          <li>reheat after a set-back, a margin, hot water</li>
          <li>air that comes through other rooms or a cold space: it is no fresh air</li>
        </ul>
        <p class="soft">
          Fresh air: {{ show(25, 'flow', 0) }} for a person. The heating designer decides the load; local code rules.
        </p>
      </template>
      <WhichFigures :project-id="projectId" here="rooms" />
    </template>
  </SheetPage>
</template>

<style scoped>
.rooms {
  margin-top: 8px;
}
.rooms :deep(.bars) {
  width: 16%;
}
.rooms :deep(.strong) {
  font-weight: 600;
}
.rooms ~ h2 {
  margin: 18px 0 4px;
}
.list {
  padding-left: 16px;
  margin: 0;
}
.more {
  margin-top: 10px;
}
.apart {
  margin-top: 14px;
}
.big {
  margin-bottom: 4px;
}
</style>
