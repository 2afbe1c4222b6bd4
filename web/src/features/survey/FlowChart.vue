<script setup lang="ts">
/** Flow against pressure on logarithmic axes, up and down, with the fitted lines. */
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, LegendComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { CanvasRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { Schemas } from '@/api/client'
import { FONT, INK, RULE, SOFT, WATER } from '@/drawing/chart'
import { unitOf } from '@/shared/units'

use([LineChart, ScatterChart, GridComponent, LegendComponent, CanvasRenderer])
const props = defineProps<{ fits: Schemas['Fit'][] }>()
const HEAT = '#A9482A'
const option = computed(() => {
  const flow = unitOf('flow')
  const points = props.fits.flatMap((f) => f.points)
  const low = Math.min(...points.map((p) => p[0]!), 10)
  const high = Math.max(...points.map((p) => p[0]!), 60)
  const axis = {
    axisLine: { lineStyle: { color: INK } },
    axisLabel: { color: SOFT, fontFamily: FONT },
    splitLine: { lineStyle: { color: RULE } },
    nameTextStyle: { color: SOFT, fontFamily: FONT },
  }
  const flows = points.map((p) => flow.to(p[1]!))
  const bottom = Math.min(...flows) * 0.85
  const top = Math.max(...flows) * 1.12
  const at = (marks: number[], least: number, most: number) => ({
    customValues: marks.filter((m) => m >= least && m <= most),
  })
  const decades = [1, 10, 100, 1000, 10000].flatMap((d) => [1, 1.5, 2, 3, 4, 5, 6, 8].map((m) => m * d))
  return {
    animation: false,
    grid: { left: 64, right: 16, top: 30, bottom: 44 },
    legend: { top: 0, itemWidth: 14, itemHeight: 10, right: 10, textStyle: { fontFamily: FONT, color: INK } },
    xAxis: {
      type: 'log',
      name: 'Pa',
      nameLocation: 'middle',
      nameGap: 26,
      min: low * 0.9,
      max: high * 1.08,
      ...axis,
      axisTick: at([10, 20, 30, 40, 50, 60, 80, 100], low * 0.9, high * 1.08),
      axisLabel: { ...axis.axisLabel, ...at([10, 20, 30, 40, 50, 60, 80, 100], low * 0.9, high * 1.08) },
      splitLine: { show: false },
    },
    yAxis: {
      type: 'log',
      name: flow.unit,
      min: bottom,
      max: top,
      ...axis,
      axisTick: at(decades, bottom, top),
      axisLabel: { ...axis.axisLabel, ...at(decades, bottom, top) },
      splitLine: { show: false },
    },
    series: props.fits.flatMap((f) => {
      const up = f.direction === 'pressurise'
      const name = up ? 'up' : 'down'
      const colour = up ? HEAT : WATER
      return [
        {
          name,
          type: 'scatter',
          symbol: up ? 'triangle' : 'circle',
          symbolSize: 9,
          itemStyle: { color: colour },
          data: f.points.map((p) => [p[0], flow.to(p[1]!)]),
        },
        {
          name,
          type: 'line',
          symbol: 'none',
          lineStyle: { color: colour, width: 1.6, type: up ? 'solid' : 'dashed' },
          itemStyle: { color: colour },
          data: [low, 20, 30, 40, 50, high].map((x) => [x, flow.to(f.coefficient.value * x ** f.exponent.value)]),
        },
      ]
    }),
  }
})
</script>

<template>
  <VChart
    class="chart"
    :option="option"
    autoresize
    role="img"
    aria-label="Flow against pressure with the fitted lines"
  />
</template>

<style scoped>
.chart {
  height: 320px;
}
</style>
