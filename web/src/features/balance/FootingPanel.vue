<script setup lang="ts">
/** Frost at the footing, once the heat is held back inside: the soil under the foot, as found and after. */
import { reactive, ref } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { copy } from '@/shared/copy'
import { MONTHS } from '@/shared/dates'
import { useAct } from '@/shared/query'
import QuantityInput from '@/shared/QuantityInput.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { said, show } from '@/shared/units'

const props = defineProps<{ projectId: number }>()
type Asked = { before: Required<Schemas['Footing']>; after: Required<Schemas['Footing']> }
const asked = reactive<{ now: Asked | null }>({ now: null })
const rows = ref<Schemas['FootingRow'][]>([])
const note = ref<Schemas['Said'] | null>(null)
const { complaint, busy, act } = useAct()
const here = () => ({ params: { path: { project_id: props.projectId } } })
const begin = (): Promise<boolean> =>
  act(async () => {
    asked.now = await takeAs<Asked>(api.GET('/api/projects/{project_id}/footing', here()))
  })
const find = (): Promise<boolean> =>
  act(async () => {
    rows.value = []
    const found = await takeAs<Schemas['FootingOut']>(
      api.POST('/api/projects/{project_id}/footing', { ...here(), body: copy(asked.now) as Asked }),
    )
    rows.value = found.rows
    note.value = found.note
  })
const columns: Column<Schemas['FootingRow']>[] = [
  { name: 'name', head: 'Soil under the foot', text: (r) => r.name },
  { name: 'coldest', head: 'coldest', figure: true, text: (r) => show(r.coldest_c, 'temperature', 1) },
  { name: 'when', head: 'in', text: (r) => MONTHS[Math.min(11, Math.floor((r.day * 12) / 365))]! },
  {
    name: 'frost',
    head: 'frost at the wall',
    figure: true,
    text: (r) => (r.frost_m > 5 ? 'all through' : r.frost_m > 0.01 ? show(r.frost_m, 'length', 2) : 'none'),
  },
]
const FIELDS = [
  ['wall_r', 'Inside of the wall, R'],
  ['floor_r', 'On the floor, R'],
] as const
</script>

<template>
  <details class="footing">
    <summary>Frost at the footing</summary>
    <p class="soft">
      A section across the wall, a day a step, without the heat that freezing gives off (so that real frost goes less
      deep) and away from corners (where it goes deeper). Local frost depths and the engineer rule.
    </p>
    <ElButton v-if="!asked.now" :disabled="busy" @click="begin">Take what is known of the foot</ElButton>
    <ElForm v-else class="grid" @submit.prevent="find">
      <template v-for="when in ['before', 'after'] as const" :key="when">
        <h3 class="wide">{{ when === 'before' ? 'As found' : 'After the works' }}</h3>
        <QuantityInput
          v-model="asked.now[when].founding_m"
          label="Foot below the ground"
          quantity="length"
          :least="0.15"
          :most="4"
        />
        <QuantityInput
          v-model="asked.now[when].floor_m"
          label="Floor below the ground"
          quantity="length"
          :least="0"
          :most="4"
        />
        <QuantityInput
          v-model="asked.now[when].inside_c"
          label="Behind it, winter"
          quantity="temperature"
          :least="-30"
          :most="40"
        />
        <QuantityInput
          v-for="[key, label] in FIELDS"
          :key="key"
          v-model="asked.now[when][key]"
          :label="label"
          quantity="resistance"
          :least="0"
          :most="20"
        />
        <QuantityInput
          v-model="asked.now[when].skirt_m"
          label="Skirt outside, width"
          quantity="length"
          :least="0"
          :most="4"
        />
        <QuantityInput v-model="asked.now[when].skirt_r" label="its R" quantity="resistance" :least="0" :most="20" />
      </template>
      <span class="wide"><ElButton native-type="submit" :disabled="busy">Follow the frost</ElButton></span>
    </ElForm>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <p v-if="rows.length && note?.metric" class="over">{{ said(note) }}</p>
    <RuledTable
      v-if="rows.length"
      class="frost"
      label="Frost at the footing"
      :rows="rows"
      :columns="columns"
      data-frost
    />
  </details>
</template>

<style scoped>
.footing {
  margin-top: 14px;
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
.frost {
  max-width: 640px;
}
</style>
