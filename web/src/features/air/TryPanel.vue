<script setup lang="ts">
/** Tightness by a slider: heat saved, humidity, fresh air, what the leaks still do, and the order in which to close them. Nothing is kept. */
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { useAct } from '@/shared/query'
import { bare, capital, said, show, unitOf } from '@/shared/units'
import type { Air, LeakRow } from './useAir'

const props = defineProps<{ projectId: number; from: number; now: number; air: Air }>()
const emit = defineEmits<{ rows: [rows: LeakRow[] | null]; keep: [n50: number]; close: [keys: string[]] }>()
const n50 = ref(props.now)
const tried = ref<Schemas['TryOut'] | null>(null)
/** Closed one by one, from as found; moving the slider opens them again. */
const closed = ref<string[]>([])
const { complaint, busy, act } = useAct()
const most = computed(() => Math.max(Math.ceil(props.from * 10) / 10, 1))
let latest = 0
const ask = useDebounceFn(
  () =>
    act(async () => {
      const mine = ++latest
      const answer = await takeAs<Schemas['TryOut']>(
        api.POST('/api/projects/{project_id}/air/try', {
          params: { path: { project_id: props.projectId } },
          body: closed.value.length
            ? { n50: null, left: closed.value.map((key) => ({ key, left: 0 })) }
            : { n50: n50.value, left: [] },
        }),
      )
      if (mine !== latest) return // another was asked for meanwhile
      tried.value = answer
      // where the slider stands at what is kept, the ledger shows what is kept
      emit('rows', !closed.value.length && Math.abs(n50.value - props.now) < 0.05 ? null : tried.value.rows)
    }),
  150,
)
function slide(to: number | number[]): void {
  n50.value = Number(to)
  closed.value = []
  void ask()
}
watch(closed, () => void ask())
const isClosed = (key: string): boolean => closed.value.includes(key)
const toggle = (key: string): void =>
  void (closed.value = isClosed(key) ? closed.value.filter((one) => one !== key) : [...closed.value, key])
/** What draughts could dry, and what room air could leave, at most: the sum, and where it changes most. */
type Row = Schemas['LeakRow']
function carried(of: 'dries_kg' | 'wets_kg'): string {
  const rows = tried.value?.rows ?? []
  const sum = (when: 'before' | 'after'): number => rows.reduce((total, r) => total + r[when][of], 0)
  const by = (r: Row): number => Math.abs(r.after[of] - r.before[of])
  const worst = [...rows].sort((a, b) => by(b) - by(a)).slice(0, 3)
  const pair = (a: number, b: number): string => `${bare(a, 'mass')} → ${bare(b, 'mass')}`
  return `${pair(sum('before'), sum('after'))} ${unitOf('mass').unit} a year; ${worst
    .map((r) => `${r.name} ${pair(r.before[of], r.after[of])}`)
    .join(', ')}`
}
watch(
  () => props.now,
  (now) => (n50.value = now),
)
/** What is kept changed: it is tried again, so that no figure is of before. */
watch(
  () => props.air,
  () => void ask(),
)
void ask()
const saved = computed(() => (tried.value ? tried.value.as_found_kwh - tried.value.heating_kwh : 0))
</script>

<template>
  <section class="try" aria-label="Tightness tried">
    <h2>How tight, and what it does</h2>
    <div class="slide">
      <ElSlider
        :model-value="n50"
        :min="0.3"
        :max="most"
        :step="0.1"
        aria-label="n50 tried, air changes at 50 Pa"
        @update:model-value="slide"
      />
      <b>n50 {{ (closed.length ? (tried?.n50 ?? n50) : n50).toFixed(1) }} 1/h</b>
      <ElButton v-if="closed.length" @click="(emit('close', closed), (closed = []))"
        >Close {{ closed.length === 1 ? 'it' : `these ${closed.length}` }} in the scheme</ElButton
      >
      <ElButton v-else :disabled="busy || Math.abs(n50 - now) < 0.05" @click="emit('keep', n50)">Aim at it</ElButton>
    </div>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <dl v-if="tried" :class="{ busy }" :data-tried="tried.n50.toFixed(1)">
      <dt>Heat of the scheme</dt>
      <dd>{{ show(tried.heating_kwh, 'energy', 0) }}, {{ show(saved, 'energy', 0) }} less than as found</dd>
      <dt>Rooms, mean of {{ tried.month }}</dt>
      <dd>{{ Math.round(tried.rh * 100) }} % RH</dd>
      <dt>Fresh air, heating season</dt>
      <dd :class="{ over: tried.fresh_m3_h < tried.needed_m3_h }">
        {{ show(tried.fresh_m3_h, 'flow', 0) }} of {{ show(tried.needed_m3_h, 'flow', 0) }} needed
      </dd>
      <dt>Draughts could dry, at most</dt>
      <dd data-dries>{{ carried('dries_kg') }}</dd>
      <dt>Room air could leave, at most</dt>
      <dd>{{ carried('wets_kg') }}</dd>
      <dt>Leaks</dt>
      <dd>{{ tried.changes_1_h.toFixed(2) }} air changes an hour in the heating season</dd>
    </dl>
    <p v-for="w in tried?.words ?? []" :key="w.metric" class="over">{{ capital(said(w)) }}.</p>
    <p v-if="closed.length" class="soft">
      From as found, with {{ closed.length === 1 ? 'this leak' : `these ${closed.length} leaks` }} closed and the others
      as they are.
    </p>
    <details v-if="tried?.order.length" open>
      <summary>
        In what order to close them: what only wets first, what still dries a wet element last. Tick some to see what
        that does.
      </summary>
      <ol class="order">
        <li v-for="step in tried.order.slice(0, 30)" :key="step.key" :class="{ waits: step.waits }">
          <ElCheckbox :model-value="isClosed(step.key)" @update:model-value="toggle(step.key)"
            ><b>{{ step.name }}</b></ElCheckbox
          >
          <span class="soft">{{ show(step.saves_kwh, 'energy', 0) }}; {{ step.words }}</span>
        </li>
      </ol>
      <p v-if="tried.order.length > 30" class="soft">and {{ tried.order.length - 30 }} more</p>
    </details>
  </section>
</template>

<style scoped>
.slide {
  display: grid;
  grid-template-columns: minmax(200px, 520px) auto auto;
  gap: 18px;
  align-items: center;
  padding-left: 8px;
}
dl {
  display: grid;
  grid-template-columns: 190px 1fr;
  gap: 2px 12px;
  margin: 8px 0;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
}
.busy {
  opacity: 0.6;
}
.order {
  padding-left: 22px;
  margin: 4px 0;
}
.order .soft {
  margin-left: 8px;
}
.order :deep(.el-checkbox) {
  height: auto;
}
.waits b::after {
  content: ' waits';
  color: var(--over);
  font-weight: 400;
}
</style>
