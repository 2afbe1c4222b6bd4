<script setup lang="ts">
/** Targets of the client or the local code: U by kind of element, air, heat. */
import type { Schemas } from '@/api/client'
import QuantityInput from '@/shared/QuantityInput.vue'
import TextField from '@/shared/TextField.vue'
import type { Brief } from './useBrief'

const targets = defineModel<Brief['targets']>({ required: true })
const props = defineProps<{ examples: Schemas['BriefOut']['example_targets']; note: string }>()
const KINDS = [
  ['wall', 'Walls'],
  ['roof', 'Roofs'],
  ['floor', 'Floors'],
  ['window', 'Windows'],
  ['door', 'Doors'],
] as const
function setTarget(kind: (typeof KINDS)[number][0], value: number | null): void {
  const next = { ...targets.value.u_w_m2k }
  if (value === null) delete next[kind]
  else next[kind] = value
  targets.value.u_w_m2k = next
  if (targets.value.name.startsWith('example')) targets.value.name = 'own'
}
function takeExample(name: string): void {
  targets.value = {
    ...targets.value,
    name,
    u_w_m2k: { ...(props.examples[name] as Brief['targets']['u_w_m2k']) },
  }
}
</script>

<template>
  <div>
    <div class="bar">
      <h2>Targets: {{ targets.name }}</h2>
      <span>
        <ElButton v-for="name in Object.keys(examples)" :key="name" @click="takeExample(name)">
          Take “{{ name }}”
        </ElButton>
      </span>
    </div>
    <p v-if="targets.name.startsWith('example')" class="marginal">
      {{ note }}: figures to start from. The local code and the client set the real ones.
    </p>
    <div class="targets">
      <TextField label="Whose set" v-model="targets.name" maxlength="80" />
      <QuantityInput
        v-for="[kind, words] in KINDS"
        :key="kind"
        :model-value="targets.u_w_m2k[kind]"
        :label="words"
        quantity="transmittance"
        :least="0.03"
        :most="8"
        optional
        @update:model-value="(v) => setTarget(kind, v)"
      />
      <QuantityInput v-model="targets.n50_1_h" label="n50, 1/h" quantity="plain" :least="0.05" :most="50" optional />
      <QuantityInput
        v-model="targets.heat_kwh_m2a"
        label="Heat"
        quantity="energyPerArea"
        :least="1"
        :most="1000"
        optional
      />
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  justify-content: space-between;
  align-items: end;
  gap: 12px;
  margin: 12px 0 6px;
}
.bar .el-button + .el-button {
  margin-left: 8px;
}
.targets {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(120px, 1fr));
  gap: 10px 16px;
}
</style>
