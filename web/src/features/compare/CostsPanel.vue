<script setup lang="ts">
/** What an option costs and emits, line by line, a square metre: prices with their day and source, own first; works beside the layers. */
import { computed, reactive, ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import DateField from '@/shared/DateField.vue'
import { day, today } from '@/shared/dates'
import QuantityInput from '@/shared/QuantityInput.vue'
import { useAct } from '@/shared/query'
import RuledTable from '@/shared/RuledTable.vue'
import SelectField from '@/shared/SelectField.vue'
import type { Column } from '@/shared/table'
import TextField from '@/shared/TextField.vue'
import { isImperial, said, show } from '@/shared/units'
import { carbonWords, each, PER, perWord, range } from '@/shared/money'

type Costs = Schemas['OptionCosts']
type Line = Costs['cost']['lines'][number]
const props = defineProps<{
  projectId: number
  costs: Costs
  name: string
  area: number
  currency: string
  materials: Map<string, string>
}>()
const emit = defineEmits<{ changed: [] }>()
const { complaint, busy, act } = useAct()
const cost = computed(() => props.costs.cost)
const money = computed(() => cost.value.currency || props.currency)
const columns = computed<Column<Line>[]>(() => [
  { name: 'name', head: 'New in it' },
  { name: 'amount', head: 'as built', text: (l) => said(l.amount) },
  { name: 'cost', head: `${money.value || 'cost'} per ${perWord('m²')}`, figure: true },
  { name: 'prices', head: 'price' },
  {
    name: 'carbon',
    head: `kg CO₂e per ${perWord('m²')}`,
    figure: true,
    text: (l) => (l.carbon_high ? range(each(l.carbon_low), each(l.carbon_high), 1) : ''),
  },
  { name: 'act' },
])
type Quoted = Line['prices'][number]
function whose({ price: p, whose: from }: Quoted): string {
  const per = p.per === 'm²' && p.mm ? `${perWord('m²')} of ${show(p.mm, 'thickness')}` : perWord(p.per ?? 'm²')
  const parts = [
    `${range(each(p.low, p.per), each(p.high, p.per), 2)} ${p.currency} a ${per}`,
    from,
    p.source,
    p.on ? day(p.on) : 'no date',
  ]
  return parts.filter(Boolean).join(', ')
}

/** A price of a material, or a work, as it is being typed. */
interface Typing {
  kind: 'price' | 'work'
  /** place among the works; -1: a new one */
  at: number
  material: string
  what: string
  per: 'm²' | 'm³' | 'kg'
  mm: number | null
  low: number | null
  high: number | null
  currency: string
  on: string | null
  source: string
  /** of the price that is changed; null: one more */
  inPlaceOf: string | null
}
const typing = ref<Typing | null>(null)
const blank = (): Omit<Typing, 'kind' | 'at' | 'material' | 'what'> => ({
  per: 'm²',
  mm: null,
  low: null,
  high: null,
  currency: money.value,
  on: today(),
  source: '',
  inPlaceOf: null,
})
const pricing = (line: Line): string => (line.prices.some((one) => one.whose === 'own') ? 'another' : 'price it')
/** One of the project's own prices of a line, or one more. */
function priceOf(line: Line, quoted?: Quoted): void {
  const material = props.materials.get(line.name)
  if (!material) return
  const p = quoted?.price
  typing.value = reactive({
    ...blank(),
    ...(p ? { ...p, mm: p.mm ?? null, on: p.on ?? null, per: p.per ?? 'm²' } : {}),
    currency: p?.currency || money.value,
    source: p?.source ?? '',
    inPlaceOf: p ? (p.source ?? '') : null,
    kind: 'price' as const,
    at: -1,
    material,
    what: line.name,
  })
}
function workAt(at: number): void {
  const w = props.costs.works[at]
  typing.value = reactive({
    ...blank(),
    ...(w ? { ...w, on: w.on ?? null, currency: w.currency ?? '', source: w.source ?? '' } : {}),
    kind: 'work' as const,
    at,
    material: '',
    what: w?.what ?? '',
  })
}
const putWorks = (works: Costs['works']): Promise<boolean> =>
  act(async () => {
    await take(
      api.PUT('/api/options/{option_id}/works', {
        params: { path: { option_id: props.costs.option_id } },
        body: { works },
      }),
    )
    typing.value = null
    emit('changed')
  })
const putPrice = (material: string, price: Schemas['Price'] | null, in_place_of: string | null): Promise<boolean> =>
  act(async () => {
    await take(
      api.PUT('/api/projects/{project_id}/prices/{material}', {
        params: { path: { project_id: props.projectId, material } },
        body: { price, in_place_of },
      }),
    )
    typing.value = null
    emit('changed')
  })
function keep(): void {
  const t = typing.value!
  const low = t.low ?? t.high
  const high = t.high ?? t.low
  void act(() => {
    if (low === null || high === null) throw new Error('Type a price, or a range of it.')
    if (t.kind === 'work' && !t.what.trim()) throw new Error('Say what it is.')
  }).then((right) => {
    if (!right) return
    const { currency, on, source } = t
    if (t.kind === 'price') {
      const mm = t.per === 'm²' ? t.mm : null
      const price = { material: t.material, per: t.per, mm, low: low!, high: high!, currency, on, source }
      void putPrice(t.material, price, t.inPlaceOf)
    } else {
      const works = [...props.costs.works]
      works.splice(t.at < 0 ? works.length : t.at, t.at < 0 ? 0 : 1, {
        what: t.what.trim(),
        low: low!,
        high: high!,
        currency,
        on,
        source,
      })
      void putWorks(works)
    }
  })
}
const workIndex = (line: Line): number => props.costs.works.findIndex((w) => w.what === line.name)
const isWork = (line: Line): boolean => line.key === ''
function takeBack(): void {
  const t = typing.value!
  if (t.kind === 'price') void putPrice(t.material, null, t.inPlaceOf)
  else void putWorks(props.costs.works.filter((_, i) => i !== t.at))
}
const isThere = computed(() => {
  const t = typing.value
  return !!t && (t.kind === 'work' ? t.at >= 0 : t.inPlaceOf !== null)
})
</script>

<template>
  <section class="costs">
    <h3>What “{{ name }}” costs and emits</h3>
    <RuledTable :rows="cost.lines" :columns="columns" :label="`Costs of ${name}`" sums>
      <template #name="{ row }">{{ row.name }}</template>
      <template #cost="{ row }">
        <span v-if="row.low !== null">{{ range(each(row.low!), each(row.high!), 2) }}</span>
        <span v-else class="soft">no price</span>
      </template>
      <template #prices="{ row }">
        <span v-for="(one, i) in row.prices" :key="i" class="price">
          {{ whose(one) }}
          <ElButton
            v-if="one.whose === 'own' && !isWork(row)"
            link
            :aria-label="`change the price of ${row.name}${one.price.source ? `, ${one.price.source}` : ''}`"
            @click="priceOf(row, one)"
            >change</ElButton
          >
        </span>
      </template>
      <template #act="{ row }">
        <ElButton v-if="isWork(row)" link :aria-label="`change ${row.name}`" @click="workAt(workIndex(row))"
          >change</ElButton
        >
        <ElButton v-else link :aria-label="`${pricing(row)}: ${row.name}`" @click="priceOf(row)">
          {{ pricing(row) }}
        </ElButton>
      </template>
      <template #sum-name>{{ isImperial ? 'A square foot' : 'A square metre' }}</template>
      <template #sum-cost
        >{{ cost.unpriced.length ? 'at least ' : ''
        }}{{ range(each(cost.low), each(cost.high), each(cost.high) < 10 ? 2 : 0) }} {{ money }}</template
      >
      <template #sum-carbon>{{ carbonWords(cost) }}</template>
    </RuledTable>
    <p v-if="cost.unpriced.length" class="soft">Nobody priced: {{ cost.unpriced.join(', ') }}.</p>
    <p v-if="cost.foreign.length" class="soft">In other money, and left out: {{ cost.foreign.join(', ') }}.</p>
    <p>
      Over {{ show(area, 'area', 0) }}: {{ cost.unpriced.length ? 'at least ' : ''
      }}{{ range(cost.low * area, cost.high * area, 0) }} {{ money }},
      {{ range((cost.carbon_low * area) / 1000, (cost.carbon_high * area) / 1000, 1) }} t CO₂e.
    </p>
    <ElButton link @click="workAt(-1)">Add work, scaffold, waste</ElButton>
    <p v-if="complaint && !typing" class="complaint" role="alert">{{ complaint }}</p>
    <ElDialog
      v-if="typing"
      :model-value="true"
      :title="
        typing.kind === 'price' ? `Price of ${typing.what}` : `Work, ${isImperial ? 'a square foot' : 'a square metre'}`
      "
      width="520"
      align-center
      append-to-body
      @close="typing = null"
    >
      <ElForm id="price" class="grid" @submit.prevent="keep">
        <TextField v-if="typing.kind === 'work'" v-model="typing.what" class="wide" label="What" maxlength="120" />
        <template v-else>
          <SelectField v-model="typing.per" label="A">
            <ElOption v-for="per in ['m²', 'm³', 'kg'] as const" :key="per" :value="per" :label="perWord(per)" />
          </SelectField>
          <QuantityInput
            v-if="typing.per === 'm²'"
            v-model="typing.mm"
            label="of a thickness of"
            quantity="thickness"
            :least="0.1"
            :most="1000"
            optional
          />
        </template>
        <QuantityInput
          v-model="typing.low"
          class="from"
          label="From"
          :quantity="PER[typing.per]"
          :digits="2"
          :least="0"
          :most="1e6"
          optional
        />
        <QuantityInput
          v-model="typing.high"
          label="to"
          :quantity="PER[typing.per]"
          :digits="2"
          :least="0"
          :most="1e6"
          optional
        />
        <TextField v-model="typing.currency" label="Money" maxlength="8" />
        <DateField v-model="typing.on" label="Asked on" />
        <TextField
          v-model="typing.source"
          class="wide"
          label="Source"
          maxlength="200"
          placeholder="merchant, quote, list, last job"
        />
      </ElForm>
      <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
      <template #footer>
        <ElButton v-if="isThere" :disabled="busy" @click="takeBack">Take it back</ElButton>
        <ElButton @click="typing = null">Leave it</ElButton>
        <ElButton type="primary" native-type="submit" form="price" :disabled="busy">Keep it</ElButton>
      </template>
    </ElDialog>
  </section>
</template>

<style scoped>
.price {
  display: block;
}
.costs {
  margin-top: 18px;
  max-width: 860px;
}
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 14px;
}
.from {
  grid-column: 1;
}
.wide {
  grid-column: 1 / -1;
}
</style>
