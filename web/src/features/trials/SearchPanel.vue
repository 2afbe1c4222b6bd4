<script setup lang="ts">
/** The least thickness that meets the target and stays within limits: each thickness with each membrane by its hourly years, in one picture. */
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, sentence, take, type Schemas } from '@/api/client'
import { useProject } from '@/shared/project'
import { useAct } from '@/shared/query'
import { said, show, unitOf } from '@/shared/units'
import BatchState from './BatchState.vue'
import SearchField from './SearchField.vue'
import type { Batches, Run } from './useBatches'

const props = defineProps<{ sheet: Schemas['Sheet']; option: Schemas['OptionOut']; state: Batches }>()
const router = useRouter()
const project = useProject()
const batch = computed(() => props.state.of('search', props.option.id))
const steps = ref<Schemas['StepsOut'] | null>(null)
const text = ref('')
const membranes = ref(true)
/** Other options of the element, such as one on the other side of the wall. */
const beside = ref<number[]>([])
const others = computed(() => props.sheet.options.slice(1).filter((o) => o.id !== props.option.id))
const complaint = ref('')
const picked = ref<Run | null>(null)
const { complaint: refused, busy, act } = useAct()

const spoken = (mm: number): string => String(Number(unitOf('thickness').to(mm).toFixed(unitOf('thickness').digits)))
watch(
  () => props.option.id,
  async (id) => {
    picked.value = null
    try {
      steps.value = await take(
        api.GET('/api/options/{option_id}/search-steps', { params: { path: { option_id: id } } }),
      )
      text.value = steps.value.thicknesses.map(spoken).join(' ')
      complaint.value = ''
    } catch (error) {
      steps.value = null
      complaint.value = sentence(error)
    }
  },
  { immediate: true },
)
const thicknesses = computed(() =>
  text.value
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((word) => unitOf('thickness').from(Number(word.replace(',', '.')))),
)
const wrong = computed(() => thicknesses.value.some((mm) => !(mm > 0 && mm <= 600)) || !thicknesses.value.length)
const limitWords = computed(() => {
  const p = picked.value
  if (!p?.brief) return p ? 'not run yet' : ''
  return `${said(p.brief.headline)}. ${said(p.brief.sentence)}`
})
const takeIt = (run: Run): Promise<boolean> =>
  act(async () => {
    await take(
      api.POST('/api/batches/{batch_id}/take/{run_id}', {
        params: { path: { batch_id: batch.value!.id, run_id: run.id } },
      }),
    )
    await router.push({
      name: 'options',
      params: { project: props.sheet.project.id, element: props.sheet.element.id },
    })
  })
</script>

<template>
  <p class="soft">
    Each thickness with each inner membrane is run through three hourly years, from as found as it stands. A point
    within limits is full, one over a limit hollow; pick a point and it becomes an option.
  </p>
  <p v-if="complaint" class="complaint">{{ complaint }}</p>
  <ElForm v-if="steps" class="ask" @submit.prevent>
    <label
      >{{ project.materialName(option.build_up.layers.find((l) => l.id === steps!.layer_id)?.material ?? '') }} in
      <ElInput v-model="text" class="steps" style="width: 250px" aria-label="Thicknesses to be tried" />
      {{ unitOf('thickness').unit }}</label
    >
    <span v-if="others.length"
      ><span class="soft">and beside it </span>
      <ElSelect
        v-model="beside"
        multiple
        :multiple-limit="3"
        collapse-tags
        aria-label="Other options to be grown beside it"
        placeholder="nothing"
        style="width: 230px"
      >
        <ElOption v-for="o in others" :key="o.id" :value="o.id" :label="o.name" /> </ElSelect
    ></span>
    <ElCheckbox v-model="membranes">with each membrane</ElCheckbox>
    <ElButton
      type="primary"
      :disabled="wrong || state.asking.value"
      @click="state.ask('search', option.id, { search: { thicknesses, membranes, layer: steps.layer_id, beside } })"
    >
      Run the search
    </ElButton>
  </ElForm>
  <p v-if="wrong && steps" class="complaint" role="alert">
    Thicknesses are numbers up to {{ show(600, 'thickness') }}, with blanks between.
  </p>
  <BatchState v-if="batch" :batch="batch" :state="state" />
  <template v-if="batch">
    <p v-if="batch.answer" class="answer" data-answer>{{ said(batch.answer) }}</p>
    <SearchField
      :runs="batch.runs"
      :found="sheet.options[0]!.figures.thermal?.u_effective ?? null"
      :target="sheet.limits.target_u_w_m2k ?? null"
      :picked="picked?.id ?? null"
      @pick="(run) => (picked = run)"
    />
    <div v-if="picked" class="picked" role="status" data-picked>
      <p>
        <b>{{ show(picked.thickness_mm, 'thickness') }}, {{ picked.membrane }}</b
        >: {{ picked.u_w_m2k ? `U ${show(picked.u_w_m2k, 'transmittance')}` : 'U refused'
        }}<template v-if="picked.drying_left !== null"
          >, {{ Math.round((picked.drying_left ?? 0) * 100) }} % of the drying ability as found</template
        ><template v-if="!picked.fits">, passes a limit of space</template>. {{ limitWords }}
      </p>
      <ElButton :disabled="busy" @click="takeIt(picked)">Make it an option</ElButton>
      <span v-if="refused" class="complaint" role="alert">{{ refused }}</span>
    </div>
  </template>
  <Teleport defer to="#tests-margin">
    <h2>Search</h2>
    <p class="soft">
      The usual year alone. Before it is built, run a bad year and how sure (Tests): a thickness that just stays within
      limits here may not there.
    </p>
    <p class="soft">Drying left: steady vapour, April to September, against as found; liquid drying is left out.</p>
  </Teleport>
</template>

<style scoped>
@import './panel.css';
.answer {
  font: 600 17px/1.35 var(--serif);
}
.picked {
  border-top: 1px solid var(--rule);
  padding-top: 6px;
}
</style>
