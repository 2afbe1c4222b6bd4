<script setup lang="ts">
/** The leak ledger: each row at 50 Pa, what is left of it after the works, and what flows through it over the year. */
import { computed, reactive, ref } from 'vue'
import { bare, show, unitOf } from '@/shared/units'
import QuantityInput from '@/shared/QuantityInput.vue'
import RuledTable from '@/shared/RuledTable.vue'
import TextField from '@/shared/TextField.vue'
import type { Column } from '@/shared/table'
import type { AirHands, LeakRow } from './useAir'

const props = defineProps<{ hands: AirHands; rows: readonly LeakRow[]; picked: string | null }>()
const emit = defineEmits<{ pick: [key: string | null] }>()
const opened = ref<string | null>(null)
/** The largest first; while a row is open it keeps its place, so that nothing is redrawn under the hands. */
let order: string[] = []
const ordered = computed(() => {
  const known = new Map(props.rows.map((r) => [r.key, r]))
  const stays = opened.value !== null && known.has(opened.value) && order.length > 0
  if (!stays)
    order = [...props.rows]
      .sort((a, b) => Math.max(b.q50_before, b.q50_open) - Math.max(a.q50_before, a.q50_open))
      .map((r) => r.key)
  else order = [...order.filter((key) => known.has(key)), ...[...known.keys()].filter((key) => !order.includes(key))]
  return order.map((key) => known.get(key)!)
})
const columns = computed<Column<LeakRow>[]>(() => [
  { name: 'name', head: 'Leak' },
  { name: 'height', head: 'height', figure: true, text: (r) => show(r.height_m, 'length', 1) },
  {
    name: 'q50',
    head: `at 50 Pa, ${unitOf('flow').unit}`,
    figure: true,
    text: (r) => (r.stands === 'after' ? '–' : bare(r.q50_before, 'flow')),
  },
  {
    name: 'share',
    head: 'share',
    figure: true,
    text: (r) => (r.stands === 'after' ? '–' : `${Math.round(r.share * 100)} %`),
  },
  {
    name: 'after',
    head: 'after',
    figure: true,
    mark: 'strong',
    text: (r) => (r.stands === 'before' ? '–' : bare(r.q50_after, 'flow')),
  },
  {
    name: 'in',
    head: 'drawn in',
    figure: true,
    text: (r) => `${bare(r.in_before, 'flow')} → ${bare(r.in_after, 'flow')}`,
  },
  {
    name: 'out',
    head: 'going out',
    figure: true,
    text: (r) => `${bare(r.out_before, 'flow')} → ${bare(r.out_after, 'flow')}`,
  },
])
const sum = (of: (r: LeakRow) => number): string =>
  bare(
    props.rows.reduce((total, r) => total + of(r), 0),
    'flow',
  )
function toggle(key: string): void {
  opened.value = opened.value === key ? null : key
  emit('pick', opened.value)
}
/** A flue, a hatch, a joint: what leaks and is no element. */
const extra = reactive({ open: false, name: '', q50: null as number | null, height: 2 as number | null })
async function add(): Promise<void> {
  const { name, q50, height } = extra
  if (!name.trim() || q50 === null) return
  const key = `own:${name.trim()}`.slice(0, 120)
  const kept = await props.hands.write(false, (stated) => {
    stated.ledger = stated.ledger!.filter((one) => one.key !== key)
    stated.ledger.push({
      key,
      name: name.trim(),
      q50_m3_h: q50,
      height_m: height,
      left: null,
      facing_deg: null,
      over: (height ?? 0) > 2,
    })
  })
  if (kept) Object.assign(extra, { open: false, name: '', q50: null, height: 2 })
}
/** Of its face, as found or with nothing closed after the works [m³/(h m²)]; null where it has none. */
function faceLeak(row: LeakRow): number | null {
  const area = row.stands === 'after' ? row.area_m2 : row.area_before_m2
  return area ? (row.stands === 'after' ? row.q50_open : row.q50_before) / area : null
}
const takeBack = (row: LeakRow): void => void props.hands.line(row, 'q50_m3_h', null)
</script>

<template>
  <RuledTable
    class="ledger"
    label="Leak ledger"
    sums
    :rows="ordered"
    :columns="columns"
    :key-of="(r) => r.key"
    :mark="(r) => (r.key === picked ? 'here' : '')"
    :opened="(r) => r.key === opened"
  >
    <template #name="{ row }">
      <ElButton link :aria-expanded="opened === row.key" @click="toggle(row.key)">{{ row.name }}</ElButton>
      <span v-if="row.typed" class="soft"> typed</span>
      <span v-if="row.to !== 'outside' && row.to !== 'ground'" class="soft"> to a cold space</span>
      <span v-if="row.stands === 'before'" class="soft"> not in the line after the works</span>
      <span v-else-if="row.stands === 'after'" class="soft"> new in the line</span>
    </template>
    <template #below="{ row }">
      <p class="soft">
        {{ row.words }}.
        <template v-if="faceLeak(row) !== null"
          >{{ show(faceLeak(row)!, 'airFlowArea') }} at 50 Pa of its face.</template
        >
        What passes could dry it by {{ bare(row.before.dries_kg, 'mass') }} → {{ show(row.after.dries_kg, 'mass') }} and
        leave {{ bare(row.before.wets_kg, 'mass') }} → {{ show(row.after.wets_kg, 'mass') }} in it, a year, at most.
      </p>
      <ElForm class="edit" @submit.prevent>
        <QuantityInput
          :model-value="row.stands === 'after' ? row.q50_open : row.q50_before"
          :label="row.stands === 'after' ? 'At 50 Pa, nothing closed' : 'At 50 Pa, as found'"
          quantity="flow"
          :least="0"
          :most="1e5"
          @update:model-value="(v) => v !== null && hands.line(row, 'q50_m3_h', v)"
        />
        <QuantityInput
          v-if="row.stands !== 'before'"
          :model-value="row.left_typed === null ? null : row.left_typed * 100"
          label="Left of it after the works, %"
          quantity="plain"
          :digits="0"
          :least="0"
          :most="100"
          optional
          @update:model-value="(v) => hands.line(row, 'left', v === null ? null : v / 100)"
        />
        <QuantityInput
          :model-value="row.height_m"
          label="Height"
          quantity="length"
          :digits="1"
          :least="-50"
          :most="150"
          @update:model-value="(v) => v !== null && hands.line(row, 'height_m', v)"
        />
        <ElButton v-if="row.typed" @click="takeBack(row)">{{
          row.element_id === null ? 'Take it out' : 'Share it by kind again'
        }}</ElButton>
      </ElForm>
    </template>
    <template #sum-name>The whole, as the test says</template>
    <template #sum-q50>{{ sum((r) => r.q50_before) }}</template>
    <template #sum-share>100 %</template>
    <template #sum-after>{{ sum((r) => r.q50_after) }}</template>
    <template #sum-in>{{ sum((r) => r.in_before) }} → {{ sum((r) => r.in_after) }}</template>
    <template #sum-out>{{ sum((r) => r.out_before) }} → {{ sum((r) => r.out_after) }}</template>
  </RuledTable>
  <ElButton v-if="!extra.open" link @click="extra.open = true"
    >Add a leak that is no element: a flue, a hatch, a joint</ElButton
  >
  <ElForm v-else class="edit extra" @submit.prevent="add">
    <TextField v-model="extra.name" label="What leaks" maxlength="100" placeholder="hatch, flue, soil pipe" />
    <QuantityInput
      v-model="extra.q50"
      label="It lets through at 50 Pa"
      quantity="flow"
      :least="0"
      :most="1e5"
      optional
    />
    <QuantityInput
      v-model="extra.height"
      label="How high"
      quantity="length"
      :digits="1"
      :least="-50"
      :most="150"
      optional
    />
    <span>
      <ElButton type="primary" native-type="submit" :disabled="!extra.name.trim() || extra.q50 === null"
        >Add it</ElButton
      >
      <ElButton @click="extra.open = false">Leave it</ElButton>
    </span>
  </ElForm>
</template>

<style scoped>
.edit {
  display: grid;
  grid-template-columns: repeat(3, minmax(150px, 200px)) auto;
  gap: 12px;
  align-items: end;
}
.extra {
  margin-top: 8px;
}
.ledger :deep(.strong) {
  font-weight: 600;
}
.ledger :deep(.here) {
  background: #f0ebdd;
}
</style>
