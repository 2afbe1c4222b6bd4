<script setup lang="ts">
/** Air that leaks through the option and rain that gets in: how much, and to which plane. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useProject } from '@/shared/project'
import { bare, show, unitOf } from '@/shared/units'
import type { SheetState } from './useSheet'

const props = defineProps<{ state: SheetState }>()
const project = useProject()
const w = computed(() => props.state.work.value)
const air = computed(() => w.value?.leaks.air_leak)
const rain = computed(() => w.value?.leaks.rain_leak)
const planes = computed(() => (w.value?.layers ?? []).slice(0, -1))
const name = (id: string | null | undefined): string =>
  project.materialName(w.value?.layers.find((l) => l.id === id)?.material ?? '')
type Preset = Schemas['AirLeakage']['preset']
function preset(value: string): void {
  const q50 = value === 'q50' ? 1 : null
  void props.state.leak({ air_leak: { ...air.value!, preset: value as Preset, q50_m3_m2h: q50 } })
}
function q50(text: string): void {
  const value = unitOf('airFlowArea').from(Number(text.replace(',', '.')))
  if (value > 0 && value <= 50) void props.state.leak({ air_leak: { ...air.value!, preset: 'q50', q50_m3_m2h: value } })
}
function share(text: string): void {
  if (!text.trim()) return void props.state.leak({ rain_leak: { ...rain.value!, share: null } })
  const value = Number(text.replace(',', '.')) / 100
  if (value >= 0 && value <= 0.2) void props.state.leak({ rain_leak: { ...rain.value!, share: value } })
}
/** Rain reaches only what stands in the weather. */
const rained = computed(() => props.state.sheet.value?.element.adjoining === 'outside')
const place = (value: string): string | null => value || null
</script>

<template>
  <div v-if="air && rain" class="leaks soft" role="group" aria-label="Leaks of air and rain">
    <span
      >air leaks
      <ElSelect aria-label="air leaks" :model-value="air.preset" data-leak="air" @change="preset($event)">
        <ElOption value="by rule" :label="`by rule: ${w?.figures.leak_preset}`" />
        <ElOption value="none" label="none at all" />
        <ElOption value="tested tight" :label="`tested tight, ${show(0.3, 'airFlowArea')}`" />
        <ElOption value="careful" :label="`careful, ${show(1, 'airFlowArea')}`" />
        <ElOption value="leaky" :label="`leaky, ${show(3, 'airFlowArea')}`" />
        <ElOption value="q50" label="as measured" /> </ElSelect
    ></span>
    <label v-if="air.preset === 'q50'"
      ><ElInput
        :model-value="bare(air.q50_m3_m2h ?? 1, 'airFlowArea')"
        :model-modifiers="{ lazy: true }"
        inputmode="decimal"
        aria-label="q50 through the element"
        @update:model-value="q50"
      />
      {{ unitOf('airFlowArea').unit }} at 50 Pa</label
    >
    <span v-if="(w?.figures.leak_q50 ?? 0) > 0"
      >cools at inner face of
      <ElSelect
        :model-value="air.after_layer ?? ''"
        aria-label="where leaking air cools"
        @change="
          state.leak({
            air_leak: { ...air, after_layer: place($event) },
          })
        "
      >
        <ElOption value="" :label="`by rule: ${name(w?.figures.leak_layer)}`" />
        <ElOption v-for="l in planes" :key="l.id" :value="l.id" :label="project.materialName(l.material)" /> </ElSelect
    ></span>
    <label v-if="rained"
      >rain leaks
      <ElInput
        :model-value="rain.share === null || rain.share === undefined ? '' : +(100 * rain.share).toFixed(2)"
        :model-modifiers="{ lazy: true }"
        :placeholder="`${+(100 * (w?.figures.rain_leak_share ?? 0)).toFixed(2)}`"
        inputmode="decimal"
        data-leak="rain"
        aria-label="share of the rain that gets in, percent; empty by rule"
        @update:model-value="share"
      />
      % of the rain{{ rain.share === null || rain.share === undefined ? ', by rule' : '' }}</label
    >
    <span v-if="rained && (w?.figures.rain_leak_share ?? 0) > 0"
      >to inner face of
      <ElSelect
        :model-value="rain.after_layer ?? ''"
        aria-label="where leaking rain arrives"
        @change="
          state.leak({
            rain_leak: { ...rain, after_layer: place($event) },
          })
        "
      >
        <ElOption value="" :label="`by rule: ${name(w?.figures.rain_leak_layer)}`" />
        <ElOption v-for="l in planes" :key="l.id" :value="l.id" :label="project.materialName(l.material)" /> </ElSelect
    ></span>
  </div>
</template>

<style scoped>
.leaks {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: center;
  font-size: 13px;
  margin: 2px 0;
}
.el-select {
  width: 200px;
}
.el-input {
  width: 64px;
}
</style>
