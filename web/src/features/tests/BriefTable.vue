<script setup lang="ts">
/** Runs of a batch as rows: driven rain, worst month at the plane, mould, verdict. */
import { computed } from 'vue'
import StateMark from '@/shared/StateMark.vue'
import { said, show } from '@/shared/units'
import { briefOf, type Batch } from './useBatches'

const props = defineProps<{ batch: Batch; heading: string; worst?: number }>()
const rows = computed(() => props.batch.runs.map((run) => ({ run, result: briefOf(run) })))
</script>

<template>
  <table class="ruled">
    <thead>
      <tr>
        <th>{{ heading }}</th>
        <th>driven rain</th>
        <th>worst month at the plane</th>
        <th>mould index</th>
        <th>verdict</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="{ run, result } in rows" :key="run.id" :class="{ here: run.id === worst }" data-row>
        <td>{{ run.label }}</td>
        <template v-if="result">
          <td>{{ show(result.driven_rain_mm, 'rain') }}</td>
          <td>{{ Math.min(100, result.worst_month_rh * 100).toFixed(0) }} % · {{ result.worst_month }}</td>
          <td>{{ result.mould.toFixed(1) }}</td>
          <td><StateMark :state="result.state" :words="said(result.headline)" /></td>
        </template>
        <td v-else colspan="4" class="soft">{{ run.error || run.status }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
@import './panel.css';
</style>
