<script setup lang="ts">
/** How much insulation outside a plane keeps it dry: steady as one types, by the hourly years at five thicknesses. */
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import VChart from 'vue-echarts'
import { sentence, takeAs, api, type Schemas } from '@/api/client'
import { SOFT, WATER } from '@/drawing/chart'
import { useProject } from '@/shared/project'
import { bare, show, unitOf } from '@/shared/units'
import BatchState from './BatchState.vue'
import { lines, type Curve } from './chart'
import { briefOf, type Batches } from './useBatches'

const props = defineProps<{ sheet: Schemas['Sheet']; option: Schemas['OptionOut']; state: Batches }>()
interface Steady {
  thickness_mm: number | null
  share_now: number
  share_needed: number | null
  month: number
  peak_rh_now: number
  curve: [number, number][]
  plane: string
}
const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'] // prettier-ignore
const project = useProject()
const batch = computed(() => props.state.of('outboard', props.option.id))
const materials = computed(() => [...project.materials.values()].filter((m) => m.group === 'insulation'))
const planes = computed(() => props.option.build_up.layers.filter((l) => l.thickness_mm).slice(0, -1))
const opening = props.option.figures.opening_plane
const plane = ref(planes.value.some((l) => l.id === opening) ? opening : (planes.value[0]?.id ?? opening))
const material = ref('wood_fibre_board')
const school = ref<'room air' | 'diffusion'>('room air')
const limit = ref('80')
const most = ref(Math.max(0, ...(batch.value?.runs ?? []).map((r) => r.thickness_mm ?? 0)) || 200)
const steady = ref<Steady | null>(null)
const complaint = ref('')
let counter = 0
function largest(text: string): void {
  const mm = unitOf('thickness').from(Number(text.replace(',', '.')))
  if (mm >= 20 && mm <= 600) {
    most.value = mm
    complaint.value = ''
  } else complaint.value = `The largest thickness is between ${show(20, 'thickness')} and ${show(600, 'thickness')}.`
}
const solve = useDebounceFn(async () => {
  const rh = Number(limit.value.replace(',', '.')) / 100
  if (!(rh > 0.3 && rh <= 1)) {
    complaint.value = 'The limit is a relative humidity between 30 and 100 %.'
    return
  }
  const mine = ++counter
  try {
    const found = await takeAs<Steady>(
      api.POST('/api/options/{option_id}/outboard', {
        params: { path: { option_id: props.option.id } },
        body: { plane: plane.value, material: material.value, most_rh: rh, school: school.value },
      }),
    )
    if (mine !== counter) return
    steady.value = found
    complaint.value = ''
  } catch (error) {
    if (mine === counter) complaint.value = sentence(error)
  }
}, 60)
watch([plane, material, school, limit], solve, { immediate: true })
const hourly = computed(() =>
  (batch.value?.runs ?? [])
    .filter((r) => r.brief)
    .map((r): [number, number] => [r.thickness_mm ?? 0, Math.min(100, briefOf(r)!.worst_month_rh * 100)]),
)
const chart = computed(() => {
  const curves: Curve[] = []
  if (steady.value)
    curves.push({
      name: 'steady',
      values: steady.value.curve
        .filter(([m]) => m * 1000 <= most.value + 1)
        .map(([m, rh]) => [m * 1000, Math.min(rh, 1.2) * 100]),
      color: SOFT,
      dashed: true,
    })
  if (hourly.value.length) curves.push({ name: 'hourly years', values: hourly.value, color: WATER, width: 2.2 })
  const at = Number(limit.value.replace(',', '.'))
  return lines(
    curves,
    { name: '', least: 0, most: most.value, word: (v) => show(v, 'thickness') },
    at ? [{ at, word: `limit ${limit.value} %` }] : [],
    { unit: '%' },
  )
})
const name = computed(() => project.materialName(material.value))
</script>

<template>
  <p class="soft">
    The plane stays under the limit when enough of the resistance lies outside it. Two schools: all the room’s vapour
    reaches the plane (where air leaks), or only what diffuses through both sides.
  </p>
  <ElForm class="ask" @submit.prevent>
    <span
      >plane
      <ElSelect v-model="plane" aria-label="Plane that is to stay dry">
        <ElOption
          v-for="l in planes"
          :key="l.id"
          :value="l.id"
          :label="`inner face of ${project.materialName(l.material)}`"
        /> </ElSelect
    ></span>
    <span
      >outside it
      <ElSelect v-model="material" aria-label="Material outside">
        <ElOption v-for="m in materials" :key="m.id" :value="m.id" :label="m.name" /> </ElSelect
    ></span>
    <span
      >school
      <ElSelect v-model="school" aria-label="School">
        <ElOption value="room air" label="room air" />
        <ElOption value="diffusion" label="diffusion" /> </ElSelect
    ></span>
    <label>at most <ElInput v-model="limit" inputmode="decimal" aria-label="Limit of RH, percent" /> % RH</label>
  </ElForm>
  <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
  <p v-if="steady && !complaint" class="answer" data-outboard>
    <template v-if="steady.thickness_mm !== null">
      At least <b>{{ show(steady.thickness_mm, 'thickness') }}</b> of {{ name }} outside, by monthly means;
      {{ MONTHS[steady.month] }} decides. Share of R outside: {{ Math.round(steady.share_now * 100) }} % now,
      {{ Math.round((steady.share_needed ?? 0) * 100) }} % needed.
    </template>
    <template v-else>
      Not even {{ show(600, 'thickness') }} of {{ name }} outside keep the plane under {{ limit }} % by monthly means.
    </template>
  </p>
  <div class="ask">
    <label
      >hourly years up to
      <ElInput
        :model-value="bare(most, 'thickness')"
        :model-modifiers="{ lazy: true }"
        inputmode="decimal"
        aria-label="Largest thickness"
        @update:model-value="largest"
      />
      {{ unitOf('thickness').unit }}</label
    >
    <ElButton
      type="primary"
      :disabled="state.asking.value"
      @click="state.ask('outboard', option.id, { outboard: { plane, material, most_mm: most } })"
    >
      Run five thicknesses
    </ElButton>
  </div>
  <BatchState v-if="batch" :batch="batch" :state="state" />
  <figure>
    <figcaption>
      Wettest month at the plane against thickness outside · dashed: monthly means
      <template v-if="hourly.length">· line: hourly years with sun, rain and storage</template>
    </figcaption>
    <VChart class="chart" :option="chart" autoresize role="img" aria-label="Peak humidity against thickness" />
  </figure>
  <Teleport defer to="#tests-margin">
    <h2>Outboard share</h2>
    <p v-if="steady">
      The plane reaches {{ Math.round(steady.peak_rh_now * 100) }} % in the worst month now, by the school “{{
        school
      }}”.
    </p>
    <p class="soft">Monthly means know no rain, sun or storage: where the curves part, trust the hourly years.</p>
  </Teleport>
</template>

<style scoped>
@import './panel.css';
.answer {
  font-size: 15px;
}
</style>
