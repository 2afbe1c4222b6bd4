<script setup lang="ts">
/** What stands for years before the option is built: its years, the option's from the water it leaves, and the option at once. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import SelectField from '@/shared/SelectField.vue'
import CountInput from '@/shared/CountInput.vue'
import { capital, said } from '@/shared/units'
import BatchState from './BatchState.vue'
import BriefTable from './BriefTable.vue'
import { briefOf, type Batches } from './useBatches'

const props = defineProps<{ sheet: Schemas['Sheet']; option: Schemas['OptionOut']; state: Batches }>()
const MOST = 15
const batch = computed(() => props.state.of('in between', props.option.id))
const others = computed(() => props.sheet.options.slice(1).filter((o) => o.id !== props.option.id))
const known = batch.value?.between
const between = ref(known && others.value.some((o) => o.id === known.option_id) ? known.option_id : 0)
const years = ref(known?.years ?? 2)
const first = computed(() => props.sheet.options[0]?.id === props.option.id)
const words = computed(() => {
  const [, after, once] = (batch.value?.runs ?? []).map(briefOf)
  if (!after || !once) return ''
  if (after.state === once.state) return 'What stands before it does not change the word of the option.'
  return `At once the option is ${once.state}; after what stands before it, it is ${after.state}.`
})
function ask(): void {
  void props.state.ask('in between', props.option.id, { between: { option_id: between.value, years: years.value } })
}
</script>

<template>
  <p class="soft">
    A state between two phases may last for years: plaster off and the wall drying, boards before the gap is filled.
    What stays of it starts the option with the water it leaves.
  </p>
  <p v-if="first" class="soft">Choose the option that is built in the end.</p>
  <p v-else-if="!others.length" class="soft">
    The element has no other option: draw what stands in between as an option of its own.
  </p>
  <div v-else class="ask">
    <SelectField v-model="between" class="stands" label="Stands first">
      <ElOption :value="0" label="choose an option" disabled />
      <ElOption v-for="o in others" :key="o.id" :value="o.id" :label="o.name" />
    </SelectField>
    <CountInput v-model="years" label="years" spoken="Years it stands" :most="MOST" />
    <ElButton type="primary" :disabled="state.asking.value || !between || !years" @click="ask">
      Run what stands and what follows
    </ElButton>
  </div>
  <template v-if="batch">
    <BatchState :batch="batch" :state="state" />
    <BriefTable :batch="batch" heading="What stands" />
    <p v-if="batch.between" class="soft">
      “{{ batch.between.name }}” for {{ batch.between.years }} years from as found, then three years of the option.
    </p>
    <Teleport defer to="#tests-margin">
      <h2>In between</h2>
      <p>{{ words }}</p>
      <p v-for="run in batch.runs.filter((r) => r.brief).slice(0, 2)" :key="run.id">
        <b>{{ capital(run.label.split(':')[0]!) }}.</b> {{ said(run.brief!.sentence) }}
      </p>
    </Teleport>
  </template>
</template>

<style scoped>
@import './panel.css';
.ask {
  align-items: end;
}
.stands {
  width: 320px;
}
</style>
