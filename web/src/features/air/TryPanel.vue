<script setup lang="ts">
/** Tightness by a slider: heat saved, humidity, fresh air, what the leaks still do, and the order in which to close them. Nothing is kept. */
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { useAct } from '@/shared/query'
import { capital, said, show } from '@/shared/units'
import type { Air, LeakRow } from './useAir'

const props = defineProps<{ projectId: number; from: number; now: number; air: Air }>()
const emit = defineEmits<{ rows: [rows: LeakRow[] | null]; keep: [n50: number] }>()
const n50 = ref(props.now)
const tried = ref<Schemas['TryOut'] | null>(null)
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
          body: { n50: n50.value, left: [] },
        }),
      )
      if (mine !== latest) return // another was asked for meanwhile
      tried.value = answer
      // where the slider stands at what is kept, the ledger shows what is kept
      emit('rows', Math.abs(n50.value - props.now) < 0.05 ? null : tried.value.rows)
    }),
  150,
)
watch(n50, () => void ask())
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
      <ElSlider v-model="n50" :min="0.3" :max="most" :step="0.1" aria-label="n50 tried, air changes at 50 Pa" />
      <b>n50 {{ n50.toFixed(1) }} 1/h</b>
      <ElButton :disabled="busy || Math.abs(n50 - now) < 0.05" @click="emit('keep', n50)">Aim at it</ElButton>
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
      <dt>Leaks</dt>
      <dd>{{ tried.changes_1_h.toFixed(2) }} air changes an hour in the heating season</dd>
    </dl>
    <p v-for="w in tried?.words ?? []" :key="w.metric" class="over">{{ capital(said(w)) }}.</p>
    <details v-if="tried?.order.length" open>
      <summary>In what order to close them: what only wets first, what still dries a wet element last</summary>
      <ol class="order">
        <li v-for="step in tried.order.slice(0, 12)" :key="step.key" :class="{ waits: step.waits }">
          <b>{{ step.name }}</b>
          <span class="soft">{{ show(step.saves_kwh, 'energy', 0) }}; {{ step.words }}</span>
        </li>
      </ol>
      <p v-if="tried.order.length > 12" class="soft">and {{ tried.order.length - 12 }} smaller ones</p>
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
.waits b::after {
  content: ' waits';
  color: var(--over);
  font-weight: 400;
}
</style>
