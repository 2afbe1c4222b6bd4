<script setup lang="ts">
/** The air of the building: tests in a line, leaks at their heights, the ledger, use and fresh air, and what the walls take of it. */
import { useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import { day } from '@/shared/dates'
import HeatTabs from '@/shared/HeatTabs.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import RuledTable from '@/shared/RuledTable.vue'
import SheetPage from '@/shared/SheetPage.vue'
import { useProject } from '@/shared/project'
import { useAct } from '@/shared/query'
import type { Column } from '@/shared/table'
import { bare, capital, said, show, unitOf } from '@/shared/units'
import ChoiceBar from '@/shared/ChoiceBar.vue'
import LeakDrawing from './LeakDrawing.vue'
import LeakSection from './LeakSection.vue'
import LedgerTable from './LedgerTable.vue'
import StatedForm from './StatedForm.vue'
import TryPanel from './TryPanel.vue'
import { useAir, type LeakRow } from './useAir'

const route = useRoute()
const project = useProject()
const projectId = computed(() => Number(route.params.project))
const hands = useAir(projectId)
const { air, complaint } = hands
const picked = ref<string | null>(null)
const drawing = useStorage<'section' | 'heights'>('wendrick-leaks', 'section')
const triedRows = ref<LeakRow[] | null>(null)
const rows = computed(() => triedRows.value ?? air.value?.rows ?? [])
/** What is kept changed: what was tried is of before. */
watch(air, () => (triedRows.value = null))
const { complaint: refused, busy, act } = useAct()
const told = ref('')

type Test = Schemas['TestOut']
const columns = computed<Column<Test>[]>(() => [
  { name: 'stage', head: 'Stage', text: (t) => t.stage },
  { name: 'on', head: 'on', text: (t) => (t.on ? day(t.on) : 'no date') },
  { name: 'q50', head: `at 50 Pa, ${unitOf('flow').unit}`, figure: true, text: (t) => bare(t.q50_m3_h, 'flow') },
  { name: 'n50', head: 'n50, 1/h', figure: true, text: (t) => (t.n50 === null ? '–' : t.n50.toFixed(1)) },
  { name: 'valid', head: 'by the norm', text: (t) => (t.valid ? 'valid' : 'not valid: see Blower door') },
])
const here = computed(() => ({ params: { path: { project_id: projectId.value } } }))
async function again(words: string): Promise<void> {
  told.value = words
  await Promise.all([hands.load(), project.open(projectId.value)])
}
async function aim(n50: number): Promise<void> {
  const now = project.page?.project
  if (!now) return
  const fields = Object.fromEntries(
    (
      [
        'name',
        'climate',
        'occupancy',
        'set_point_c',
        'start_rh',
        'works_on',
        'soil',
        'volume_m3',
        'floor_area_m2',
        'air_kind',
        'air_value',
        'air_value_after',
      ] as const
    ).map((k) => [k, now[k]]),
  ) as Schemas['ProjectFields']
  if (
    await act(async () => {
      await take(
        api.PUT('/api/projects/{project_id}', {
          ...here.value,
          body: {
            ...fields,
            air_kind: 'n50',
            air_value: fields.air_value ?? air.value?.before.n50 ?? null,
            air_value_after: n50,
            began_from: fields,
          },
        }),
      )
    })
  ) {
    triedRows.value = null
    await again(`n50 ${n50.toFixed(1)} 1/h is aimed at.`)
  }
}
/** Closed for good: nothing of them is left after the works of the scheme. */
async function close(keys: string[]): Promise<void> {
  const kept = await hands.write(true, (stated) => {
    for (const key of keys) {
      const known = stated.ledger!.find((one) => one.key === key)
      if (known) known.left = 0
      else stated.ledger!.push({ key, name: '', q50_m3_h: null, height_m: null, left: 0, facing_deg: null, over: true })
    }
  })
  if (kept) await again(`${keys.length} ${keys.length === 1 ? 'leak is' : 'leaks are'} closed in the scheme.`)
}
const takeLeaks = (): Promise<boolean> =>
  act(async () => {
    const { changed } = await take(api.POST('/api/projects/{project_id}/air/take-leaks', here.value))
    await again(
      changed
        ? `${changed} build-ups take their leaks from the ledger now; their years are out of date until they are run.`
        : 'Every build-up has them already, or says otherwise by hand.',
    )
  })
const takeAir = (after: boolean): Promise<boolean> =>
  act(async () => {
    await take(api.POST('/api/projects/{project_id}/air/take-house-air', { ...here.value, body: { after } }))
    await again('The walls take this air now; their years are out of date until they are run.')
  })
const takeSpaces = (): Promise<boolean> =>
  act(async () => {
    const { changed } = await take(api.POST('/api/projects/{project_id}/air/take-space-air', here.value))
    await again(
      changed
        ? `${changed} elements take the air of the cold space they face; their years are out of date until they are run.`
        : 'No element faces a cold space of the shape.',
    )
  })
const most = ref<number | null>(50)
/** The tightest of what the chosen walls stand to is what the rooms are asked for. */
const ofRooms = computed(() => (air.value?.limits ?? []).filter((one) => one.what === 'rooms'))
const ofLeaks = computed(() => (air.value?.limits ?? []).filter((one) => one.what === 'leakage'))
watch(
  () => ofRooms.value[0]?.most,
  (now) => now !== undefined && (most.value = Math.floor(now)),
  { immediate: true },
)
const over = (one: Schemas['WallLimit']): boolean => one.now !== null && one.now > one.most
const within = ref<Schemas['AiringOut'] | null>(null)
const find = (): Promise<boolean> =>
  act(async () => {
    within.value = null
    within.value = await take(
      api.POST('/api/projects/{project_id}/air/within', { ...here.value, body: { most_rh: (most.value ?? 50) / 100 } }),
    )
  })
async function takeAiring(): Promise<void> {
  const m3_h = within.value!.airing_m3_h
  if (await hands.write(true, (stated) => void (stated.ventilation!.airing_m3_h = m3_h))) {
    within.value = null
    await again('The scheme airs so much now.')
  }
}
const vapour = computed(() => air.value?.after.vapour.filter((v) => v.kg_day > 0.005) ?? [])
</script>

<template>
  <SheetPage title="Air">
    <HeatTabs :project-id="projectId" view="air" title="The air of the building" />
    <p v-if="complaint || refused" class="complaint" role="alert">{{ complaint || refused }}</p>
    <p v-if="told" class="within" role="status">{{ told }}</p>
    <p v-if="!air && !complaint" class="soft">Following the air …</p>
    <template v-if="air">
      <p v-if="air.refused" class="complaint">{{ air.refused }}.</p>
      <RuledTable
        v-if="air.tests.length"
        class="tests"
        label="Blower-door tests in a line"
        :rows="air.tests"
        :columns="columns"
      />
      <template v-if="rows.length">
        <div class="drawn">
          <p class="soft">
            Blue: outside air drawn in. Red: room air going out. Outline as found, solid after; as wide as the flow.
          </p>
          <ChoiceBar
            v-model="drawing"
            label="Leaks drawn"
            :options="[
              ['section', 'On the section'],
              ['heights', 'By height'],
            ]"
          />
        </div>
        <LeakSection
          v-if="drawing === 'section'"
          :project-id="projectId"
          :rows="rows"
          :picked="picked"
          @pick="(k) => (picked = k)"
        />
        <LeakDrawing v-else :air="air" :rows="rows" :picked="picked" @pick="(k) => (picked = k)" />
        <TryPanel
          v-if="air.before.n50"
          :project-id="projectId"
          :air="air"
          :from="air.before.n50"
          :now="air.after.n50 ?? air.before.n50"
          @rows="(r) => (triedRows = r)"
          @keep="aim"
          @close="close"
        />
        <p v-if="air.aim" :class="{ over: air.aim.met === false }" data-aim>{{ said(air.aim.words) }}</p>
        <h2>The leak ledger</h2>
        <p class="soft">
          It adds up to {{ air.whence }}. Shares are guesses by kind until somebody types what was found; the rest is
          scaled, so that the sum stays the test's.
        </p>
        <p v-for="w in air.words" :key="w.metric" class="over">{{ capital(said(w)) }}.</p>
        <ElCheckbox
          :model-value="air.before.stated.joints ?? false"
          :disabled="busy"
          @update:model-value="(on) => hands.write(false, (stated) => void (stated.joints = !!on))"
          >Share it over joints too: eaves, gables, the foot of the walls, floor ends</ElCheckbox
        >
        <LedgerTable :hands="hands" :rows="rows" :picked="picked" @pick="(k) => (picked = k)" />
      </template>
      <StatedForm :air="air" :hands="hands" @kept="again('Kept.')" />
    </template>
    <template #margin>
      <template v-if="air">
        <template v-if="air.before.changes_1_h !== null && air.after.changes_1_h !== null">
          <h2 class="big">{{ air.before.changes_1_h.toFixed(2) }} → {{ air.after.changes_1_h.toFixed(2) }} 1/h</h2>
          <p>
            Air changes by leaks, heating season.
            <template v-if="air.before.neutral_m !== null && air.after.neutral_m !== null">
              In cold hours air comes in below {{ show(air.before.neutral_m, 'length', 1) }} and goes out above
              {{
                Math.abs(air.before.neutral_m - air.after.neutral_m) > 0.05
                  ? `(${show(air.after.neutral_m, 'length', 1)} after)`
                  : 'it'
              }}.
            </template>
          </p>
        </template>
        <h3>The walls' years</h3>
        <p class="soft">
          Leaks by rule hold until they are taken from here: each face its share, at its height. What was chosen by hand
          stays.
        </p>
        <ElButton :disabled="busy || !air.rows.length" @click="takeLeaks">Take the leaks from the ledger</ElButton>
        <p class="soft">Indoor air is a class by profile until the rooms' own is asked for.</p>
        <ElButton :disabled="busy" @click="takeAir(true)">Take the air of the rooms, after</ElButton>
        <ElButton link :disabled="busy" @click="takeAir(false)">as found</ElButton>
        <p class="soft">
          Ceilings, floors and walls to cold spaces lie between inside and outside by factor b until then.
        </p>
        <ElButton :disabled="busy || !air.spaces.length" @click="takeSpaces">Take the air of the cold spaces</ElButton>
        <h3 class="margin-h">Airing that keeps the rooms dry enough</h3>
        <ElForm class="within-form" @submit.prevent="find">
          <QuantityInput
            v-model="most"
            label="At most, % RH in the coldest month"
            quantity="plain"
            :digits="0"
            :least="20"
            :most="90"
          />
          <ElButton native-type="submit" :disabled="busy">Find it</ElButton>
        </ElForm>
        <p v-if="within" data-within>
          <template v-if="within.airing_m3_h <= within.now_m3_h">
            What is aired now is enough: {{ show(within.airing_m3_h, 'flow', 0) }} would do;
            {{ Math.round(within.rh * 100) }} % in {{ within.month }}.
          </template>
          <template v-else>
            {{ show(within.airing_m3_h, 'flow', 0) }} of airing in winter, {{ show(within.now_m3_h, 'flow', 0) }} now:
            {{ Math.round(within.rh * 100) }} % in {{ within.month }}, and {{ show(within.more_kwh, 'energy', 0) }} more
            heat.
          </template>
          <ElButton
            v-if="Math.abs(within.airing_m3_h - within.now_m3_h) > 0.5"
            link
            :disabled="busy"
            @click="takeAiring"
            >Let the scheme air so</ElButton
          >
        </p>
        <template v-if="ofRooms.length || ofLeaks.length">
          <h3>What the chosen options allow</h3>
          <ul class="list" data-limits>
            <li v-for="one in ofRooms" :key="`r${one.element_id}`" :class="{ over: over(one) }">
              {{ one.element }}: rooms at most {{ one.most.toFixed(0) }} % RH<template v-if="one.now !== null"
                >, {{ one.now.toFixed(0) }} % after</template
              >{{ one.tried ? '; more was not tried' : '' }}{{ one.out_of_date ? '; study out of date' : '' }}
            </li>
            <li v-for="one in ofLeaks" :key="`l${one.element_id}`" :class="{ over: over(one) }">
              {{ one.element }}: at most {{ show(one.most, 'airFlowArea') }} at 50 Pa<template v-if="one.now !== null"
                >, {{ bare(one.now, 'airFlowArea') }} after</template
              >{{ one.tried ? '; more was not tried' : '' }}{{ one.out_of_date ? '; study out of date' : '' }}
            </li>
          </ul>
        </template>
        <p v-else class="soft">
          Which RH keeps a chosen wall within limits is not known yet: run a study of it under Tests and studies.
        </p>
        <template v-if="air?.named.length">
          <h3>Named in the Brief</h3>
          <ul class="list" data-named>
            <li v-for="n in air.named" :key="n.what">{{ n.what }}: {{ n.words }}</li>
          </ul>
        </template>
        <h3>What gives off vapour</h3>
        <ul class="list">
          <li v-for="v in vapour" :key="v.what">{{ v.what }}: {{ show(v.kg_day, 'mass', 1) }} a day</li>
        </ul>
        <h3>How sure</h3>
        <p class="soft">
          One zone, stack and wind together, power law with exponent 0.65; pressure coefficients of sheltered low
          buildings. Published shares of leaks spread by ten: smoke and infrared at the rows that matter. New tests are
          typed under
          <RouterLink :to="{ name: 'survey', params: { project: projectId, view: 'airtightness' } }"
            >Blower door</RouterLink
          >.
        </p>
        <p class="soft">
          Open flues, radon, fans: see
          <RouterLink :to="{ name: 'balance', params: { project: projectId } }">Balance</RouterLink>; licensed practice
          rules.
        </p>
      </template>
    </template>
  </SheetPage>
</template>

<style scoped>
.tests {
  max-width: 640px;
  margin: 8px 0 14px;
}
.drawn {
  display: flex;
  justify-content: space-between;
  gap: 18px;
  align-items: baseline;
}
.tests ~ h2 {
  margin: 18px 0 4px;
}
.big {
  margin-bottom: 4px;
}
.margin-h {
  margin-top: 12px;
}
.within-form {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: end;
}
.list {
  padding-left: 16px;
}
</style>
